import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, Day, DecimalText } from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'

/** Orders of which something should have come and has not. */
export const Overdue = defineList('overdue', '/overdue', 'delivery.read', ['order'])

/** What had come in and was not billed at the end of a day, by the accounts on which it is accrued. */
export const ReadAccrued = defineEndpoint({
  name: 'accrued.read',
  method: 'get',
  path: '/accrued',
  permission: 'budget.readAll',
  query: z.strictObject({ on: Day.optional() }),
  response: z.strictObject({
    on: Day,
    today: Day,
    currency: z.string(),
    total: AmountText,
    /** More lines than are shown: the sums are of all of them. */
    more: z.boolean(),
    accounts: z.array(
      z.strictObject({
        account: z.string(),
        amount: AmountText,
        lines: z.array(
          z.strictObject({
            order: z.string(),
            path: z.string(),
            supplier: z.string(),
            description: z.string(),
            unit: z.string(),
            received: DecimalText,
            billed: DecimalText,
            amount: AmountText,
          }),
        ),
      }),
    ),
  }),
})
/** The same as a table. */
export const AccruedFile = defineEndpoint({
  name: 'accrued.file',
  method: 'get',
  path: '/accrued.csv',
  permission: 'budget.readAll',
  query: z.strictObject({ on: Day }),
  answers: 'file',
})
