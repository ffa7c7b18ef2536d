import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Line, Uuid, Version, VersionOrNew } from '#contract/fields.ts'
import { Changed } from '#contract/setup/people.ts'

const Permissions = z.array(z.string().max(60)).max(60)
export const RoleJson = z.strictObject({
  id: Uuid,
  /** Its name, or the code of one that the house began with. */
  code: z.string(),
  permissions: z.array(z.string()),
  own: z.boolean(),
  /** People with open accounts who have it. */
  people: z.array(z.string()),
  version: z.int(),
})
export type RoleJson = z.output<typeof RoleJson>
/** Every role of the team with what it allows and who has it. */
export const ReadRoles = defineEndpoint({
  name: 'roles.read',
  method: 'get',
  path: '/setup/roles',
  permission: 'setup.read',
  response: z.strictObject({ roles: z.array(RoleJson) }),
})
/** Adds a role, or changes what one allows. More power over money for people who have it waits for a second person. */
export const SaveRole = defineEndpoint({
  name: 'roles.save',
  method: 'post',
  path: '/setup/roles',
  permission: 'setup.write',
  body: z.strictObject({ id: Uuid.nullable(), name: Line, permissions: Permissions, version: VersionOrNew }),
  response: Changed,
})
export const DropRole = defineEndpoint({
  name: 'roles.drop',
  method: 'post',
  path: '/setup/roles/:id/drop',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ version: Version }),
})
