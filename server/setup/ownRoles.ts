import { randomUUID } from 'node:crypto'
import type { ResponseOf } from '#contract/endpoint.ts'
import { type Permission, TEAM_PERMISSIONS } from '#contract/permissions.ts'
import type { ReadRoles } from '#contract/setup/roles.ts'
import { rightsAdded, type RoleEntry, whyNotDropRole, whyNotRole } from '#core/people/ownRoles.ts'
import { type Done, may, type Read, type Write } from '#server/call.ts'
import { refreshAskedOf } from '#server/consent/consentStore.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refuse } from '#server/documents/obey.ts'
import type { RoleRow } from '#server/people/peopleStore.ts'
import { readSetting, SIGN_IN } from '#server/house/house.ts'
import { setInForce } from '#server/rules/ruleStore.ts'
import { endStreams } from '#server/people/sessions.ts'
import { rightsOfRoles } from '#server/setup/rolesActs.ts'

/** Roles of the team, what each allows, and who has it. */
export async function readRoles(call: Read): Promise<ResponseOf<typeof ReadRoles>> {
  const { rows } = await call.trx.raw<{ rows: ResponseOf<typeof ReadRoles>['roles'] }>(
    `select id, code, permissions, own, version, array(select distinct p.name from person_roles r join people p on p.id = r.person_id
       where r.role = code and p.active order by p.name) as people from roles where code not like 'supplier%' order by own, code`,
  )
  return { roles: rows }
}

/** What is refused of a role before anything is kept or asked. */
export async function checkRole(call: Write, { name, permissions }: RoleEntry, before?: RoleRow): Promise<void> {
  const taken = await call.trx('roles').whereRaw('lower(code) = lower(?)', [name]).first('id')
  const after = await stewardsWith(call, before?.code ?? '', permissions)
  refuse(
    whyNotRole(
      { name: before?.code ?? name, permissions },
      {
        nameTaken: before === undefined && taken !== undefined,
        known: new Set([...TEAM_PERMISSIONS, ...(before?.permissions ?? [])]),
        stewardsAfter: after.size,
        stillSteward: after.has(call.actor.id) || !may(call, 'setup.write'),
      },
    ),
  )
}

/** Whoever could change Setup if a role allowed this. */
async function stewardsWith(call: Read, role: string, permissions: readonly string[]): Promise<Set<string>> {
  const rights = new Map([...(await rightsOfRoles(call)), [role, [...permissions]] as const])
  const rows = await call
    .trx('personRoles')
    .join('people', 'people.id', 'personRoles.personId')
    .where('people.active', true)
    .select('personId', 'role')
  return new Set(rows.filter(row => rights.get(row.role)?.includes('setup.write')).map(row => row.personId))
}

/** Power over money that people get who have the role. */
export async function powerOfRole(
  call: Read,
  before: RoleRow | undefined,
  after: readonly string[],
): Promise<string[]> {
  if (!before) return []
  const [{ count }] = (await call.trx('personRoles').where({ role: before.code }).count('* as count')) as [
    { count: bigint },
  ]
  return count === 0n ? [] : rightsAdded(before.permissions, after)
}

export async function addRole(call: Write, { name, permissions }: RoleEntry): Promise<Done> {
  const id = randomUUID()
  await call
    .trx('roles')
    .insert({ id, code: name, permissions: [...permissions] as Permission[], own: true, changedAt: call.now })
  await record(call, { kind: 'role', id, action: 'created', changes: { after: { name, permissions } } })
  return { id, version: 1 }
}

/** Changes what a role allows, for everybody who has it, from their next step on; `askedBy`: whose wish it was. */
export async function changeRole(
  call: Write,
  id: string,
  permissions: readonly string[],
  version: number,
  askedBy?: string,
): Promise<Done> {
  const before = await hold(call, 'role', id, version)
  const changes = {
    before: { permissions: before.permissions },
    after: { permissions },
    ...(askedBy === undefined ? {} : { askedBy }),
  }
  const done = await move(
    call,
    'role',
    before,
    { permissions: [...permissions] as Permission[] },
    { action: 'changed', changes, reason: null },
  )
  for (const personId of await call.trx('personRoles').where({ role: before.code }).distinct().pluck('person_id')) {
    await endStreams(call, personId as string)
    await refreshAskedOf(call, personId as string)
  }
  return done
}

/** Whether rules that are in force, to come or drafted ask those who have a role, or sign-in asks a second factor of them. */
async function isNamed(call: Read, code: string): Promise<boolean> {
  const inForce = await setInForce(call, call.today)
  const asked = await call
    .trx('rules')
    .join('ruleSets', 'ruleSets.id', 'rules.setId')
    .whereRaw('who @> ?::jsonb', [JSON.stringify({ kind: 'role', role: code })])
    .whereRaw("(state = 'draft' or from_day >= ?)", [inForce?.fromDay ?? call.today])
    .first<{ id: string } | undefined>('rules.id')
  const { secondFactorRoles } = (await readSetting(call, 'signIn')) ?? SIGN_IN
  return asked !== undefined || secondFactorRoles.includes(code)
}

export async function dropRole(call: Write, id: string, version: number): Promise<Record<string, never>> {
  const role = await hold(call, 'role', id, version)
  const [{ count }] = (await call.trx('personRoles').where({ role: role.code }).count('* as count')) as [
    { count: bigint },
  ]
  refuse(whyNotDropRole({ own: role.own, holders: Number(count), named: await isNamed(call, role.code) }))
  await record(call, { kind: 'role', id, action: 'dropped', changes: { before: { name: role.code } } })
  await call.trx('roles').where({ id }).delete()
  return {}
}
