import type { Permission } from '#contract/permissions.ts'
import type { Successor } from '#core/consent/passStep.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read } from '#server/call.ts'

export interface PersonRow {
  id: string
  name: string
  email: string
  realm: 'team' | 'supplier'
  supplierId: string | null
  supplierRoleId: string | null
  supplierAdministrator: boolean
  managerId: string | null
  active: boolean
  passwordHash: string | null
  /** Secret of one-time codes (RFC 6238), if they use one, and the half minute of the last code that was taken. */
  secondFactor: string | null
  secondFactorAt: string | null
  codesUsed: bigint
  /** Who they are at the house's single sign-on. */
  subject: string | null
  /** Whether they could ever agree to a change that gives power over money. */
  couldAgree: boolean
  /** When they left for good and their name was taken out. */
  leftAt: string | null
  locale: string
  timeZone: string
  /** The code of the site where they work, in Setup. */
  site: string | null
  version: number
  changedAt: string
}
interface SessionRow {
  id: string
  tokenHash: string
  personId: string
  createdAt: string
  seenAt: string
  expiresAt: string
  agent: string
  network: string
  proven: boolean
}
export interface RoleRow {
  readonly id: string
  /** Its name, or the code of one that the house began with. */
  readonly code: string
  readonly permissions: Permission[]
  readonly own: boolean
  readonly version: number
  readonly changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    people: PersonRow
    personRoles: { personId: string; role: string; costCentre: string | null }
    roles: RoleRow
    sessions: SessionRow
  }
}

/** Somebody of the team whose account is open, with whether their roles allow something. */
export async function teamMember(call: Read, personId: string, permission: Permission): Promise<Successor> {
  const person = found(
    await call.trx('people').where({ id: personId, active: true, realm: 'team' }).first('id', 'name'),
    'person',
  )
  const able = await call
    .trx('personRoles')
    .join('roles', 'roles.code', 'personRoles.role')
    .where({ personId: person.id })
    .whereRaw('? = any(permissions)', [permission])
    .first('role')
  return { ...person, able: able !== undefined }
}

/** The same, refused under `code` where their roles do not allow it. */
export async function ablePerson(
  call: Read,
  personId: string,
  permission: Permission,
  code: string,
): Promise<{ id: string; name: string }> {
  const person = await teamMember(call, personId, permission)
  if (!person.able) throw new RuleBroken(stop(code, { person: person.name }))
  return person
}

/** What people are called, by id. */
export async function personNames(call: Read, ids: readonly string[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map()
  const rows = await call
    .trx('people')
    .whereIn('id', [...new Set(ids)])
    .select('id', 'name')
  return new Map(rows.map(row => [row.id, row.name]))
}
