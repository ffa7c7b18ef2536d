import type { PersonJson } from '#contract/people/endpoints.ts'
import { Find, ReadCounts, ReadDesk, ReadSession, SignIn, SignInDemo, SignOut } from '#contract/people/endpoints.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Actor, Call } from '#server/call.ts'
import { route, type Route } from '#server/http/app.ts'
import { readCounts, readDesk } from '#server/people/desk.ts'
import { find } from '#server/people/find.ts'
import { closeSession, findSession, getActor, openSession } from '#server/people/sessions.ts'
import { checkPassword } from '#server/people/signIn.ts'

async function personJson(call: Call, actor: Actor): Promise<PersonJson> {
  const company = actor.supplierId ? ((await call.trx('suppliers').where({ id: actor.supplierId }).first('name')) as { name: string }).name : null
  return {
    id: actor.id,
    name: actor.name,
    email: actor.email,
    realm: actor.realm,
    company,
    permissions: [...actor.permissions].sort(),
    locale: actor.locale,
    timeZone: actor.timeZone,
  }
}

async function demoPeople(call: Call) {
  return (await call
    .trx('people')
    .leftJoin('suppliers', 'suppliers.id', 'people.supplierId')
    .where({ active: true })
    .whereNotNull('passwordHash')
    .orderByRaw("realm = 'supplier', people.name")
    .limit(40)
    .select(
      'people.id',
      'people.name',
      'suppliers.name as company',
      call.trx.raw("coalesce((select string_agg(distinct role, ', ' order by role) from person_roles where person_id = people.id and role <> 'requester'), 'requester') as role"),
    )) as { id: string; name: string; role: string; company: string | null }[]
}

/** Opens a session for a person and says who they are. */
export async function enter(call: Call, personId: string, told: { startSession: (token: string) => void }): Promise<{ person: PersonJson }> {
  told.startSession(await openSession(call.trx, personId, call.now))
  return { person: await personJson(call, await getActor(call.trx, personId)) }
}

/** Sessions, the Desk and find-or-do. `demo` opens the one-click sign-in. */
export function peopleRoutes(demo: boolean): Route[] {
  return [
    route(ReadSession, async (call, _input, told) => {
      const actor = await findSession(call.trx, told.token, call.now)
      return { person: actor ? await personJson(call, actor) : null, demo, demoPeople: demo && !actor ? await demoPeople(call) : [], today: call.today, baseCurrency: call.base }
    }),
    route(SignIn, async (call, { body }, told) => enter(call, await checkPassword(call.trx, body.email, body.password), told), true),
    route(
      SignInDemo,
      async (call, { body }, told) => {
        const person = demo ? ((await call.trx('people').where({ id: body.personId, active: true }).first('id')) as { id: string } | undefined) : undefined
        if (!person) throw new RuleBroken(stop('session.noDemo'))
        return await enter(call, person.id, told)
      },
      true,
    ),
    route(
      SignOut,
      async (call, _input, told) => {
        if (told.token) await closeSession(call.trx, told.token)
        told.endSession()
        return {}
      },
      true,
    ),
    route(ReadDesk, call => readDesk(call)),
    route(ReadCounts, call => readCounts(call)),
    route(Find, (call, { query }) => find(call, query.q)),
  ]
}
