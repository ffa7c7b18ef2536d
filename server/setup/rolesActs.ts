import { addedPower, type GivenRole } from '#core/people/roles.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, type Read, type Write } from '#server/call.ts'
import { refreshAskedOf } from '#server/consent/consentStore.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { endSessions, endStreams } from '#server/people/sessions.ts'

export interface WantedAccount {
  readonly active: boolean
  readonly roles: readonly GivenRole[]
}

/** What each role of the team allows. */
export async function rightsOfRoles(call: Read): Promise<Map<string, string[]>> {
  const roles = await call.trx('roles').whereNot('code', 'like', 'supplier%').select('code', 'permissions')
  return new Map(roles.map(role => [role.code, role.permissions]))
}

export const rolesOf = (call: Read, personId: string): Promise<GivenRole[]> =>
  call.trx('personRoles').where({ personId }).orderBy(['role', 'costCentre']).select('role', 'costCentre')

/** Roles and cost centres that are there. @throws RuleBroken person.role | rule.costCentre */
export async function checkRoles(call: Read, roles: readonly GivenRole[]): Promise<void> {
  const known = await rightsOfRoles(call)
  if (roles.some(one => !known.has(one.role))) throw new RuleBroken(stop('person.role'))
  const centres = [...new Set(roles.flatMap(one => one.costCentre ?? []))]
  const there = await call.trx('costCentres').whereIn('code', centres).pluck<string[]>('code')
  if (there.length !== centres.length) throw new RuleBroken(stop('rule.costCentre', {}, { place: 'roles' }))
}

/** Power over money that an account would have and has not. */
export async function powerGiven(
  call: Read,
  person: { id: string; active: boolean },
  wanted: WantedAccount,
): Promise<GivenRole[]> {
  const before = { active: person.active, roles: await rolesOf(call, person.id) }
  return addedPower(before, wanted, await rightsOfRoles(call))
}

/** Sets what an account may, and whether it is open. Its sessions go on with the new rights, or end with it; `askedBy`: whose wish it was. */
export async function applyRoles(call: Write, id: string, wanted: WantedAccount, askedBy?: string): Promise<Done> {
  const person = await hold(call, 'person', id)
  const before = await rolesOf(call, id)
  await checkRoles(call, wanted.roles)
  await call.trx('personRoles').where({ personId: id }).delete()
  if (wanted.roles.length > 0)
    await call
      .trx('personRoles')
      .insert(wanted.roles.map(one => ({ personId: id, role: one.role, costCentre: one.costCentre })))
      .onConflict()
      .ignore()
  if (!wanted.active) await endSessions(call, id)
  await endStreams(call, id)
  const changes = {
    before: { active: person.active, roles: before },
    after: { active: wanted.active, roles: wanted.roles },
    ...(askedBy === undefined ? {} : { askedBy }),
  }
  const did = { action: 'changed', changes, reason: null }
  const done = await move(call, 'person', person, { active: wanted.active }, did)
  await refreshAskedOf(call, id)
  return done
}
