import { z } from 'zod'
import { Changed, GivenRoles } from '#contract/setup/people.ts'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Line, Uuid, Version } from '#contract/fields.ts'

export const AskedJson = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('holder') }),
  z.strictObject({ kind: z.literal('person'), personId: Uuid }),
  z.strictObject({ kind: z.literal('role'), role: z.string().max(40) }),
])
export const RuleBody = z.strictObject({
  name: Line.min(1),
  costCentres: z.array(z.string().max(20)).max(50),
  fromAmount: AmountText,
  upTo: AmountText.nullable(),
  stage: z.int().min(1).max(9),
  asked: AskedJson,
  active: z.boolean(),
})
export const RuleJson = RuleBody.extend({ id: Uuid, version: z.int(), askedLabel: z.string(), stalled: z.boolean() })
export const ListRules = defineEndpoint({
  name: 'rules.list',
  method: 'get',
  path: '/setup/rules',
  permission: 'setup.read',
  response: z.strictObject({ rules: z.array(RuleJson), currency: z.string() }),
})
export const CreateRule = defineEndpoint({
  name: 'rules.create',
  method: 'post',
  path: '/setup/rules',
  permission: 'setup.write',
  body: RuleBody,
  response: Changed,
})
export const ChangeRule = defineEndpoint({
  name: 'rules.change',
  method: 'put',
  path: '/setup/rules/:id',
  permission: 'setup.write',
  params: ById,
  body: RuleBody.extend({ version: Version }),
  response: Changed,
})

const PersonRow = z.strictObject({
  id: Uuid,
  name: z.string(),
  email: z.string(),
  active: z.boolean(),
  secondFactor: z.boolean(),
  roles: z.array(z.strictObject({ role: z.string(), costCentre: z.string().nullable() })),
  manager: z.string().nullable(),
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
  }),
  response: Changed,
})
