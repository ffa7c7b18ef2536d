import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById } from '#contract/fields.ts'

/** All that the file of an invoice says, by the business terms of EN 16931, and the rules that it keeps badly enough to be looked at. */
export const ReadInvoiceTerms = defineEndpoint({
  name: 'invoice.terms',
  method: 'get',
  path: '/invoices/:id/terms',
  permission: 'invoice.read',
  params: ById,
  response: z.strictObject({
    syntax: z.enum(['ubl', 'cii']),
    groups: z.array(
      z.strictObject({
        group: z.string(),
        number: z.int(),
        terms: z.array(z.strictObject({ term: z.string(), value: z.string() })),
      }),
    ),
    checks: z.array(z.strictObject({ rule: z.string(), place: z.string(), found: z.string(), expected: z.string() })),
  }),
})
