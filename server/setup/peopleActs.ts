import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ChangePerson, ListPeople } from '#contract/setup/endpoints.ts'
import type { Changed, CreatePerson } from '#contract/setup/people.ts'
import { keepsStewardship } from '#core/people/roles.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { z } from 'zod'
import { sendLink } from '#server/account/accountActs.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { entriesOf } from '#server/house/registerStore.ts'
import { SYSTEM_PERSON } from '#server/jobs/parts.ts'
import { endSessions } from '#server/people/sessions.ts'
import { addPerson } from '#server/setup/organisation.ts'
import { askSecond, needsSecond } from '#server/setup/powerActs.ts'
import { applyRoles, checkRoles, powerGiven, rightsOfRoles } from '#server/setup/rolesActs.ts'

type Done = z.output<typeof Changed>

export async function listPeople(call: Read): Promise<ResponseOf<typeof ListPeople>> {
  const people = await call
    .trx('people')
    .leftJoin('people as manager', 'manager.id', 'people.managerId')
    .where('people.realm', 'team')
    .whereNot('people.id', SYSTEM_PERSON)
    .orderBy('people.name')
    .select<ResponseOf<typeof ListPeople>['people']>(
      'people.id',
      'people.name',
      'people.email',
      'people.active',
      'people.version',
      'people.site',
      'manager.name as manager',
      call.trx.raw('people.second_factor is not null as second_factor'),
      call.trx.raw(
        `(select coalesce(json_agg(json_build_object('role', role, 'costCentre', cost_centre) order by role), '[]') from person_roles where person_id = people.id) as roles`,
      ),
    )
  return {
    people,
    roles: await call.trx('roles').whereNot('code', 'like', 'supplier%').orderBy('code').select('code', 'permissions'),
  }
}

/** The account of somebody of the team; the account of the jobs is nobody's. */
async function teamAccount(call: Write, id: string) {
  const person = await hold(call, 'person', id)
  if (person.realm !== 'team' || id === SYSTEM_PERSON)
    throw new RuleBroken(stop('document.notFound', { kind: 'person' }))
  return person
}

/**
 * Opens or closes a person's account and sets their roles. Power over money is given by two people, and by nobody to themselves; nobody takes
 * away their own stewardship.
 */
export async function changePerson(call: Write, id: string, body: BodyOf<typeof ChangePerson>): Promise<Done> {
  const person = await teamAccount(call, id)
  await guardVersion(call, person, body.version)
  await checkRoles(call, body.roles)
  if (body.site !== undefined && body.site !== person.site) await placePerson(call, person, body.site)
  const rights = await rightsOfRoles(call)
  if (id === call.actor.id && !keepsStewardship(body, rights)) throw new RuleBroken(stop('person.ownStewardship'))
  const { active, roles } = body
  if (await needsSecond(call, await powerGiven(call, person, body), id)) {
    await askSecond(call, { what: 'roles', personId: id, active, roles, version: person.version }, person.name)
    return { id, version: person.version, waits: true }
  }
  return { ...(await applyRoles(call, id, body)), waits: false }
}

/** Says at which site somebody works. */
async function placePerson(
  call: Write,
  person: { id: string; site: string | null },
  site: string | null,
): Promise<void> {
  const sites = await entriesOf(call, 'sites')
  if (site !== null && !sites.some(entry => entry.open && entry.values.code === site))
    throw new RuleBroken(stop('person.noSuchSite', { site }, { place: 'site' }))
  await call.trx('people').where({ id: person.id }).update({ site })
  await record(call, { kind: 'person', id: person.id, action: 'placed', changes: { before: person.site, after: site } })
}

/** Opens an account. Until a second person has agreed to roles with power over money, it has the others only. */
export async function createPerson(call: Write, body: BodyOf<typeof CreatePerson>): Promise<Done> {
  await checkRoles(call, body.roles)
  const email = body.email.trim().toLowerCase()
  if (await call.trx('people').whereRaw('lower(email) = ?', [email]).first('id'))
    throw new RuleBroken(stop('person.mailTaken', {}, { place: 'email' }))
  if (body.managerId) found(await call.trx('people').where({ id: body.managerId, realm: 'team' }).first('id'), 'person')
  const id = randomUUID()
  const wanted = { active: true, roles: body.roles }
  const power = await powerGiven(call, { id, active: true }, wanted)
  const waits = await needsSecond(call, power, id)
  const roles = waits ? body.roles.filter(one => !power.includes(one)) : body.roles
  const person = { id, name: body.name.trim(), email, managerId: body.managerId, supplierId: null }
  await addPerson(call, { ...person, roles, active: true, passwordHash: null })
  await record(call, { kind: 'person', id, action: 'created', changes: { after: { name: person.name, email, roles } } })
  if (waits) await askSecond(call, { what: 'roles', personId: id, ...wanted, version: 1 }, person.name)
  await sendLink(call, { ...person, locale: call.actor.locale }, 'invitation')
  return { id, version: 1, waits }
}

export async function invitePerson(call: Write, id: string): Promise<Record<string, never>> {
  const person = await teamAccount(call, id)
  if (!person.active) throw new RuleBroken(stop('person.closed', { name: person.name }))
  await sendLink(call, person, 'invitation')
  await record(call, { kind: 'person', id, action: 'invited' })
  return {}
}

/** Takes away a second factor that its owner has lost; every session of theirs ends. Never one's own. */
export async function resetSecondFactor(call: Write, id: string, reason: string): Promise<Record<string, never>> {
  const person = await teamAccount(call, id)
  if (id === call.actor.id) throw new RuleBroken(stop('person.ownPower'))
  await call.trx('people').where({ id }).update({ secondFactor: null, secondFactorAt: null })
  await endSessions(call, id)
  await record(call, { kind: 'person', id: person.id, action: 'secondFactorReset', reason })
  return {}
}
