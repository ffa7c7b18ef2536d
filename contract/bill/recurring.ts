import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, DecimalText, Uuid } from '#contract/fields.ts'

/** What is billed again and again by a plan: rent, energy, upkeep; and which of its bills have not come. */
export const ReadRecurring = defineEndpoint({
  name: 'invoice.recurring',
  method: 'get',
  path: '/bill/recurring',
  permission: 'invoice.read',
  response: z.strictObject({
    plans: z.array(
      z.strictObject({
        id: Uuid,
        order: z.string(),
        path: z.string().nullable(),
        supplier: z.string(),
        description: z.string(),
        unit: z.string(),
        currency: z.string(),
        missing: z.int(),
        expected: z.array(
          z.strictObject({ date: z.string(), quantity: DecimalText, amount: AmountText, state: z.string() }),
        ),
      }),
    ),
  }),
})
