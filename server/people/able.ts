import { RuleBroken, stop } from '#core/reasons.ts'
import type { Permission } from '#contract/permissions.ts'
import { type Call, found } from '#server/call.ts'

/** Somebody of the team whose account is open and whose roles allow something; else refused under `code`. */
export async function ablePerson(call: Call, personId: string | null, permission: Permission, code: string): Promise<{ id: string; name: string }> {
  const person = found((await call.trx('people').where({ id: personId, active: true, realm: 'team' }).first('id', 'name')) as { id: string; name: string } | undefined, 'person')
  const able = (await call
    .trx('personRoles')
    .join('roles', 'roles.code', 'personRoles.role')
    .where({ personId: person.id })
    .whereRaw('? = any(permissions)', [permission])
    .first('role')) as unknown
  if (!able) throw new RuleBroken(stop(code, { person: person.name }))
  return person
}
