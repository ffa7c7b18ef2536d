import { type PersonJson, ReadSession, SignIn, SignInDemo, SignOut } from '#contract/people/endpoints.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Actor, Read, Write } from '#server/call.ts'
import { direct, reads, type Route, type Told } from '#server/http/route.ts'
import { closeSession, findSession, getActor, openSession } from '#server/people/sessions.ts'
import { checkPassword } from '#server/people/signIn.ts'

async function personJson(call: Read, actor: Actor): Promise<PersonJson> {
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

interface DemoPerson {
  id: string
  name: string
  role: string
  company: string | null
}

const demoPeople = (call: Read): Promise<DemoPerson[]> =>
  call
    .trx('people')
    .leftJoin('suppliers', 'suppliers.id', 'people.supplierId')
    .where({ active: true })
    .whereNotNull('passwordHash')
    .orderByRaw("realm = 'supplier', people.name")
    .limit(40)
    .select<DemoPerson[]>(
      'people.id',
      'people.name',
      'suppliers.name as company',
      call.trx.raw(
        "coalesce((select string_agg(distinct role, ', ' order by role) from person_roles where person_id = people.id and role <> 'requester'), 'requester') as role",
      ),
    )

/** Opens a session for a person and says who they are. */
export async function enter(call: Write, personId: string, told: Told): Promise<{ person: PersonJson }> {
  told.startSession(await openSession(call.trx, personId, call.now))
  return { person: await personJson(call, await getActor(call.trx, personId, call.now)) }
}

/** Coming in and going out. `demo` opens the one-click sign-in. */
export const peopleRoutes = (demo: boolean): Route[] => [
  reads(ReadSession, async (call, _input, told) => {
    const { actor, house } = await findSession(call.trx, told.token, call.now)
    return {
      person: actor ? await personJson(call, actor) : null,
      demo,
      demoPeople: demo && !actor ? await demoPeople(call) : [],
      at: call.now,
      today: call.today,
      baseCurrency: house.base,
    }
  }),
  direct(SignIn, async (call, { body }, told) =>
    enter(call, await checkPassword(call.trx, body.email, body.password), told),
  ),
  direct(SignInDemo, async (call, { body }, told) => {
    const person = demo ? await call.trx('people').where({ id: body.personId, active: true }).first('id') : undefined
    if (!person) throw new RuleBroken(stop('session.noDemo'))
    return await enter(call, person.id, told)
  }),
  direct(SignOut, async (call, _input, told) => {
    if (told.token) await closeSession(call.trx, told.token)
    told.endSession()
    return {}
  }),
]
