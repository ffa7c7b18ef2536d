import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, DecimalText, Done, Text, Uuid, Version } from '#contract/fields.ts'

const SplitJson = z.strictObject({ accountId: Uuid, share: DecimalText })
/** Who likely pays for the lines of an invoice that nobody ordered. */
export const ReadCoding = defineEndpoint({
  name: 'invoice.coding',
  method: 'get',
  path: '/invoices/:id/coding',
  permission: 'invoice.write',
  params: ById,
  response: z.strictObject({
    lines: z.array(
      z.strictObject({
        lineId: Uuid,
        position: z.int(),
        description: z.string(),
        quantity: DecimalText,
        net: AmountText,
        splits: z.array(SplitJson),
        because: z.string(),
      }),
    ),
  }),
})
/** Says who pays for what nobody ordered: its order is written afterwards, and those who pay are asked. */
export const CodeInvoice = defineEndpoint({
  name: 'invoice.code',
  method: 'post',
  path: '/invoices/:id/coding',
  permission: 'invoice.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    reason: Text,
    lines: z.array(z.strictObject({ lineId: Uuid, splits: z.array(SplitJson).max(40) })).max(500),
  }),
  response: Done.extend({ order: z.string() }),
})
