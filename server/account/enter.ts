import type { PersonJson } from '#contract/people/endpoints.ts'
import { type Actor, type Read, type Write, writing } from '#server/call.ts'
import { secondFactorDue } from '#server/account/accountActs.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { signIns } from '#server/http/metrics.ts'
import type { Told } from '#server/http/route.ts'
import { getActor, openSession } from '#server/people/sessions.ts'

export async function personJson(call: Read, actor: Actor): Promise<PersonJson> {
  const company = actor.supplierId
    ? await call.trx('suppliers').where({ id: actor.supplierId }).first('name')
    : undefined
  return {
    id: actor.id,
    name: actor.name,
    email: actor.email,
    realm: actor.realm,
    company: company?.name ?? null,
    permissions: [...actor.rights].sort(),
    locale: actor.locale,
    timeZone: actor.timeZone,
  }
}

/** What became of a try to sign in: counted, and in the person's history. */
export async function noteSignIn(call: Write, personId: string, action: string, told: Told): Promise<void> {
  signIns.inc({ outcome: action })
  await call.trx.transaction(async trx => {
    const actor = await getActor(trx, personId, call.now)
    const inside = writing(trx, { ...call, actor })
    await hold(inside, 'person', personId)
    await record(inside, { kind: 'person', id: personId, action, changes: { network: told.ip } })
  })
}

/**
 * Opens a session for a person and says who they are; one whose second factor is still to come opens nothing yet. `trusted`: the
 * house's single sign-on has asked for everything already.
 */
export async function enter(
  call: Write,
  personId: string,
  told: Told,
  how: { readonly secondFactor: string | null; readonly action: string; readonly trusted?: boolean },
): Promise<{ person: PersonJson | null; pending: 'code' | 'enrol' | null }> {
  const pending = how.trusted
    ? null
    : how.secondFactor
      ? 'code'
      : (await secondFactorDue(call, personId))
        ? 'enrol'
        : null
  const origin = { agent: told.agent, network: told.ip }
  told.startSession(await openSession(call.trx, personId, call.now, origin, pending === null))
  if (pending) return { person: null, pending }
  await noteSignIn(call, personId, how.action, told)
  return { person: await personJson(call, await getActor(call.trx, personId, call.now)), pending: null }
}
