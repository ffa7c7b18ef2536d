import { localeAt } from '#server/mail/recipients.ts'
import { randomUUID } from 'node:crypto'
import type { Knex } from 'knex'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadInvitation, Register } from '#contract/source/company.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write, writing } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { endSessions, getActor } from '#server/people/sessions.ts'
import { chosenPassword } from '#server/people/signIn.ts'
import { hashOf } from '#server/people/tokens.ts'
import { moveOnboarding } from '#server/source/onboardingActs.ts'

interface Invited {
  readonly supplierId: string
  readonly company: string
  readonly kind: 'company' | 'person'
  readonly name: string
  readonly email: string
  readonly until: string
  /** The onboarding that the link belongs to, or the person who was added by their administrator. */
  readonly onboardingId: string | null
  readonly personId: string | null
}

interface Link {
  readonly supplierId: string
  readonly name: string
  readonly email: string
  readonly expires: string
  readonly usedAt: string | null
  readonly onboardingId: string | null
  readonly personId: string | null
}

const LINK = `
  select supplier_id, invited_name as name, invited_email as email, token_expires as expires, token_used_at as used_at, id as onboarding_id, null::uuid as person_id from onboardings where token_hash = :hash
  union all select p.supplier_id, p.name, p.email, i.expires, i.used_at, null, p.id from person_invitations i join people p on p.id = i.person_id where i.token_hash = :hash`

/**
 * Whom a link invites. Unknown, used and expired links are refused, each with what to do.
 *
 * @throws RuleBroken invitation.unknown | invitation.used | invitation.expired
 */
async function invitationOf(call: Read, token: string): Promise<Invited> {
  const { rows } = await call.trx.raw<{ rows: Link[] }>(LINK, { hash: hashOf(token) })
  const link = rows[0]
  if (!link) throw new RuleBroken(stop('invitation.unknown'))
  if (link.usedAt !== null) throw new RuleBroken(stop('invitation.used'))
  if (link.expires < call.now) throw new RuleBroken(stop('invitation.expired', { until: link.expires.slice(0, 10) }))
  const supplier = found(await call.trx('suppliers').where({ id: link.supplierId }).first('name', 'kind'), 'supplier')
  return { ...link, company: supplier.name, kind: supplier.kind, until: link.expires }
}

export async function readInvitation(call: Read, token: string): Promise<ResponseOf<typeof ReadInvitation>> {
  const { kind, company, name, email, until } = await invitationOf(call, token)
  return { kind, company, name, email, house: call.house.name, until }
}

/** Uses the link up: makes or opens the account, once, and says whose it is. The same registration sent twice finds the link used. */
export async function register(call: Write, token: string, body: BodyOf<typeof Register>): Promise<string> {
  const asked = await invitationOf(call, token)
  const passwordHash = await chosenPassword(body.password, { name: body.name, email: asked.email })
  return await (call.trx as Knex).transaction(async trx => {
    const inside = writing(trx, call)
    await trx.raw('select id from onboardings where token_hash = :hash for no key update', { hash: hashOf(token) })
    await trx.raw('select person_id from person_invitations where token_hash = :hash for no key update', {
      hash: hashOf(token),
    })
    const invited = await invitationOf(inside, token)
    const personId = await accountFor(inside, invited, body.name, passwordHash)
    const as = writing(trx, { ...call, channel: 'supplierPages', actor: await getActor(trx, personId, call.today) })
    if (invited.onboardingId !== null) await enterOnboarding(as, invited.onboardingId, invited.email)
    else {
      await trx('personInvitations')
        .where({ tokenHash: hashOf(token) })
        .update({ usedAt: call.now })
      await record(as, { kind: 'person', id: personId, action: 'registered' })
    }
    return personId
  })
}

/** Whoever comes in by the link writes the answers from now on. */
async function enterOnboarding(call: Write, id: string, email: string): Promise<void> {
  const row = await hold(call, 'onboarding', id)
  if (row.state === 'invited') {
    await moveOnboarding(call, row, 'register', { tokenUsedAt: call.now }, null, { email })
    return
  }
  await call.trx('onboardings').where({ id }).update({ tokenUsedAt: call.now })
  await record(call, { kind: 'onboarding', id, action: 'register', changes: { email } })
}

async function accountFor(call: Write, invited: Invited, name: string, passwordHash: string): Promise<string> {
  const known = await call
    .trx('people')
    .whereRaw('lower(email) = ?', [invited.email.toLowerCase()])
    .forNoKeyUpdate()
    .first('id', 'supplierId')
  if (known && known.supplierId !== invited.supplierId)
    throw new RuleBroken(stop('onboarding.mailTaken', { email: invited.email }))
  const id = known?.id ?? randomUUID()
  const administrator = await call
    .trx('people')
    .where({ supplierId: invited.supplierId, supplierAdministrator: true })
    .first('id')
  const columns = { name, passwordHash, active: true, ...(administrator ? {} : { supplierAdministrator: true }) }
  if (known) {
    await call.trx('people').where({ id }).update(columns)
    await endSessions(call, id)
  } else
    await call.trx('people').insert({
      id,
      email: invited.email.toLowerCase(),
      realm: 'supplier',
      supplierId: invited.supplierId,
      locale: await localeAt(call, invited.supplierId, invited),
      ...columns,
    })
  return id
}
