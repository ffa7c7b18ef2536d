import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText } from '#contract/fields.ts'
import { Month } from '#contract/bill/journal.ts'

/** VAT of what a month posted, by country, category and rate, open to its documents. */
export const ReadTaxes = defineEndpoint({
  name: 'bill.taxes',
  method: 'get',
  path: '/bill/taxes',
  permission: 'budget.readAll',
  query: z.strictObject({ month: Month.optional() }),
  response: z.strictObject({
    month: z.string(),
    currency: z.string(),
    tax: AmountText,
    owed: AmountText,
    rows: z.array(
      z.strictObject({
        country: z.string(),
        category: z.string(),
        rate: z.string(),
        taxable: AmountText,
        tax: AmountText,
        owed: AmountText,
        documents: z.array(
          z.strictObject({
            id: z.string(),
            number: z.string(),
            supplier: z.string(),
            day: z.string(),
            path: z.string(),
            taxable: AmountText,
            tax: AmountText,
          }),
        ),
      }),
    ),
  }),
})
