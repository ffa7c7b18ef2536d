import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { Day, Uuid } from '#contract/fields.ts'

export const CHECK_LEVELS = ['off', 'note', 'check', 'stop'] as const
const Check = z.strictObject({
  level: z.enum(CHECK_LEVELS),
  /** Per cent of what is allotted that may be exceeded. */
  tolerance: z.string().regex(/^\d{1,3}(\.\d{1,2})?$/),
})

/** Fiscal years with their days, and what happens where a budget of one does not suffice. */
export const ReadBudgetChecks = defineEndpoint({
  name: 'budgetChecks.read',
  method: 'get',
  path: '/setup/budget-checks',
  permission: 'setup.read',
  response: z.strictObject({
    firstMonth: z.int(),
    /** Why the first month stays as it is: budgets were made for years that begin so. */
    fixed: z.boolean(),
    years: z.array(z.strictObject({ year: z.int(), from: Day, to: Day, accounts: z.int(), now: z.boolean() })),
    accounts: z.array(
      Check.extend({
        id: Uuid,
        year: z.int(),
        costCentre: z.string(),
        account: z.string(),
        project: z.string().nullable(),
        open: z.boolean(),
      }),
    ),
  }),
})
/** Sets level and tolerance of some accounts; `seen` is what stood there when they were chosen. */
export const SaveBudgetChecks = defineEndpoint({
  name: 'budgetChecks.save',
  method: 'put',
  path: '/setup/budget-checks',
  permission: 'setup.write',
  body: z.strictObject({
    seen: z
      .array(Check.extend({ id: Uuid }))
      .min(1)
      .max(5000),
    to: Check,
  }),
})
/** With which month fiscal years begin; only as long as there is no budget. */
export const SaveFirstMonth = defineEndpoint({
  name: 'budgetChecks.firstMonth',
  method: 'put',
  path: '/setup/budget-checks/first-month',
  permission: 'setup.write',
  body: z.strictObject({ month: z.int().min(1).max(12) }),
})
