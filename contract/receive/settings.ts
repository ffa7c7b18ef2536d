import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { Day } from '#contract/fields.ts'

/** How this house receives, beside what items and categories say. */
const ReceivingSettings = z.strictObject({
  /** The first day of the period that is open: nothing is received before it. */
  openFrom: Day.nullable(),
  /** Whoever asked for goods is told when they are in, and asked whether they have them. */
  asksRequesters: z.boolean(),
  /** Days without a word after which they are reminded, and after which the buyer is told; 0: never. */
  remindDays: z.int().min(0).max(365),
  silentDays: z.int().min(0).max(365),
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
