import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Line, Stamp, Text, Uuid, Version } from '#contract/fields.ts'

/** A change that is made at once, or that waits for a second person. */
export const Changed = z.strictObject({ id: Uuid, version: z.int(), waits: z.boolean() })

export const GivenRoles = z
  .array(z.strictObject({ role: z.string().max(40), costCentre: z.string().max(20).nullable() }))
  .max(30)

/** Opens an account for somebody of the team and mails them a link to choose a password. Roles with power over money wait for a second person. */
export const CreatePerson = defineEndpoint({
  name: 'people.create',
  method: 'post',
  path: '/setup/people',
  permission: 'setup.write',
  body: z.strictObject({ name: Line.min(1), email: z.email().max(200), roles: GivenRoles, managerId: Uuid.nullable() }),
  response: Changed,
})
/** Mails a link to choose a password, once more. */
export const InvitePerson = defineEndpoint({
  name: 'people.invite',
  method: 'post',
  path: '/setup/people/:id/invitation',
  permission: 'setup.write',
  params: ById,
})
/** Takes away a second factor that somebody has lost. Never one's own. */
export const ResetSecondFactor = defineEndpoint({
  name: 'people.resetSecondFactor',
  method: 'post',
  path: '/setup/people/:id/second-factor/reset',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ reason: Text.min(3) }),
})

export const PowerChange = z.strictObject({
  id: Uuid,
  what: z.enum(['roles', 'role', 'rules', 'limits', 'holder']),
  /** Whom or what it is about. */
  name: z.string(),
  /** What there will be that is not there now, in words of its own data. */
  gives: z.array(z.string()),
  askedBy: z.string(),
  askedAt: Stamp,
  mine: z.boolean(),
  mayAnswer: z.boolean(),
  version: z.int(),
})
export type PowerChange = z.output<typeof PowerChange>
/** Changes of power over money that wait for a second person. */
export const ListPowerChanges = defineEndpoint({
  name: 'power.list',
  method: 'get',
  path: '/setup/power',
  permission: 'setup.agree',
  response: z.strictObject({ changes: z.array(PowerChange) }),
})
export const AnswerPowerChange = defineEndpoint({
  name: 'power.answer',
  method: 'post',
  path: '/setup/power/:id',
  permission: 'setup.agree',
  params: ById,
  body: z.strictObject({
    version: Version,
    answer: z.enum(['agree', 'refuse', 'withdraw']),
    reason: z.string().max(1000),
  }),
})
