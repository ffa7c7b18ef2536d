import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, DecimalText, Line, Revision, Sentence, Stamp, Uuid } from '#contract/fields.ts'
import { TAX_CATEGORIES } from '#core/source/defaults.ts'

const NONE = z.strictObject({})
/** An invoice that a supplier has begun and not sent. */
export const InvoiceDraft = z.strictObject({
  revision: Revision,
  number: Line,
  issueDate: z.string().max(10),
  freight: AmountText,
  taxCategory: z.enum(TAX_CATEGORIES),
  taxRate: DecimalText,
  lines: z.array(z.strictObject({ lineId: Uuid, quantity: DecimalText, price: DecimalText })).max(500),
})
const path = '/supplier-pages/orders/:id/invoice-draft'
/** What of an own order can be billed, why not all of it, and what was begun of it. */
export const ReadWhatBills = defineEndpoint({
  name: 'supplierPages.whatBills',
  method: 'get',
  path: '/supplier-pages/orders/:id/billable',
  permission: 'supplierPages.orders',
  params: ById,
  response: z.strictObject({
    lines: z.array(
      z.strictObject({
        lineId: Uuid,
        /** What is ordered and not billed, and how much of that needs to wait for nothing. */
        open: DecimalText,
        ready: DecimalText,
        why: Sentence.nullable(),
      }),
    ),
    draft: InvoiceDraft.extend({ by: z.string(), at: Stamp }).nullable(),
  }),
})
export const KeepInvoiceDraft = defineEndpoint({
  name: 'supplierPages.keepDraft',
  method: 'post',
  path,
  permission: 'supplierPages.bill',
  params: ById,
  body: InvoiceDraft,
  response: NONE,
})
export const DropInvoiceDraft = defineEndpoint({
  name: 'supplierPages.dropDraft',
  method: 'delete',
  path,
  permission: 'supplierPages.bill',
  params: ById,
  response: NONE,
})
