import { z } from 'zod'
import { Changed, GivenRoles } from '#contract/setup/people.ts'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Uuid, Version } from '#contract/fields.ts'

const PersonRow = z.strictObject({
  id: Uuid,
  name: z.string(),
  email: z.string(),
  active: z.boolean(),
  secondFactor: z.boolean(),
  roles: z.array(z.strictObject({ role: z.string(), costCentre: z.string().nullable() })),
  manager: z.string().nullable(),
  site: z.string().nullable(),
  version: z.int(),
})
export const ListPeople = defineEndpoint({
  name: 'people.list',
  method: 'get',
  path: '/setup/people',
  permission: 'setup.read',
  response: z.strictObject({
    people: z.array(PersonRow),
    roles: z.array(z.strictObject({ code: z.string(), permissions: z.array(z.string()) })),
  }),
})
export const ChangePerson = defineEndpoint({
  name: 'people.change',
  method: 'put',
  path: '/setup/people/:id',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    active: z.boolean(),
    roles: GivenRoles,
    /** Where they work: its days and clocks count for the time that they have to decide. */
    site: z.string().max(40).nullable().optional(),
  }),
  response: Changed,
})
