import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Currency, Day, DecimalText, Done, Line, Uuid } from '#contract/fields.ts'
import { TAX_CATEGORIES } from '#core/source/defaults.ts'

/** Lines that are typed from one paper. */
export const MOST_ENTERED_LINES = 300

/** The content of an uploaded paper, for whoever uploaded it and types what it says. */
export const ReadPaper = defineEndpoint({
  name: 'invoice.paper',
  method: 'get',
  path: '/invoices/papers/:id',
  permission: 'invoice.write',
  params: ById,
  answers: 'file',
})
/** What a paper can be about: the supplier by its id, or by a number of an order, a VAT number or an account that stand on it, with the orders that it can bill. */
export const ReadEntry = defineEndpoint({
  name: 'invoice.entry',
  method: 'get',
  path: '/invoices/entry',
  permission: 'invoice.write',
  query: z.strictObject({ supplierId: Uuid.optional(), named: Line.optional() }),
  response: z.strictObject({
    supplier: z.strictObject({ id: Uuid, name: z.string(), currency: z.string(), country: z.string() }).nullable(),
    /** The order that was named. */
    orderId: Uuid.nullable(),
    orders: z.array(
      z.strictObject({
        id: Uuid,
        number: z.string(),
        title: z.string(),
        currency: z.string(),
        charges: AmountText,
        lines: z.array(
          z.strictObject({
            id: Uuid,
            position: z.int(),
            description: z.string(),
            unit: z.string(),
            price: DecimalText,
            priceBase: DecimalText,
            /** What is not billed of it yet. */
            open: DecimalText,
          }),
        ),
      }),
    ),
  }),
})
/** Takes in an invoice as somebody typed it beside the paper; `gross` is what the paper asks for. */
export const EnterInvoice = defineEndpoint({
  name: 'invoice.enter',
  method: 'post',
  path: '/invoices/entered',
  permission: 'invoice.write',
  body: z.strictObject({
    fileId: Uuid.nullable(),
    supplierId: Uuid,
    number: Line.refine(text => text.trim() !== '' && text.length <= 60, { error: 'the number of the invoice' }),
    issueDate: Day,
    dueOn: Day.nullable(),
    currency: Currency,
    orderId: Uuid.nullable(),
    iban: z.string().max(42),
    charges: AmountText,
    gross: AmountText,
    lines: z
      .array(
        z.strictObject({
          orderLineId: Uuid.nullable(),
          description: Line,
          quantity: DecimalText,
          unit: z.string().max(3),
          price: DecimalText,
          priceBase: DecimalText,
          taxCategory: z.enum(TAX_CATEGORIES),
          taxRate: DecimalText,
        }),
      )
      .max(MOST_ENTERED_LINES),
  }),
  response: Done.extend({ number: z.string(), state: z.string() }),
})
