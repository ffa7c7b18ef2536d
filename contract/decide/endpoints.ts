import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Done, GivenReason, Text, Uuid, Version } from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'

export const Decisions = defineList('decisions', '/decisions', 'requisition.write', ['requisition'])
export const Decide = defineEndpoint({
  name: 'decide',
  method: 'post',
  path: '/requisitions/:id/decide',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ version: Version, decision: z.enum(['approve', 'reject', 'return']), reason: Text }),
  response: Done,
})
export const PassStep = defineEndpoint({
  name: 'decide.passOn',
  method: 'post',
  path: '/requisitions/:id/steps/:stepId/pass',
  permission: 'requisition.passOn',
  params: z.strictObject({ id: Uuid, stepId: Uuid }),
  body: z.strictObject({ version: Version, toPersonId: Uuid, reason: GivenReason }),
  response: Done,
})
export const RemindHolders = defineEndpoint({
  name: 'decide.remind',
  method: 'post',
  path: '/requisitions/:id/remind',
  permission: 'requisition.write',
  params: ById,
  response: Done,
})
