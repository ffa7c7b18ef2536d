import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { RULE_SETS } from '#core/bill/en16931.ts'

/** How this house takes invoices, beside tolerances and levels of matching. */
const BillingSettings = z.strictObject({
  /** What agrees without anybody's word is posted by itself. */
  postUntouched: z.boolean(),
  /** After how many working hours those who can clear a difference are reminded, again and again, and those above are told; 0: not. */
  remindHours: z.int().min(0).max(1000),
  escalateHours: z.int().min(0).max(1000),
  /** Sets of rules that e-invoices have to keep beside the standard's own. */
  ruleSets: z.array(z.enum(RULE_SETS)).max(RULE_SETS.length),
})
export const ReadBillingSettings = defineEndpoint({
  name: 'billing.read',
  method: 'get',
  path: '/setup/billing',
  permission: 'setup.read',
  response: BillingSettings,
})
export const SaveBillingSettings = defineEndpoint({
  name: 'billing.save',
  method: 'post',
  path: '/setup/billing',
  permission: 'budget.write',
  body: BillingSettings,
  response: BillingSettings,
})
