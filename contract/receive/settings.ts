import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { Day } from '#contract/fields.ts'

/** How this house receives, beside what items and categories say. */
const ReceivingSettings = z.strictObject({
  /** The first day of the period that is open: nothing is received before it. */
  openFrom: Day.nullable(),
})
export const ReadReceivingSettings = defineEndpoint({
  name: 'receiving.read',
  method: 'get',
  path: '/setup/receiving',
  permission: 'setup.read',
  response: ReceivingSettings,
})
export const SaveReceivingSettings = defineEndpoint({
  name: 'receiving.save',
  method: 'post',
  path: '/setup/receiving',
  permission: 'budget.write',
  body: ReceivingSettings,
  response: ReceivingSettings,
})
