import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Day, DecimalText, Done, Line, Stamp, Text, Uuid, Version } from '#contract/fields.ts'
import { RETURN_WISHES } from '#core/receive/goodsReturn.ts'

export const ReturnLineJson = z.strictObject({
  partId: Uuid,
  lineId: Uuid,
  quantity: DecimalText,
  pieces: z.array(Uuid).max(10_000),
})
const ReturnBody = z.strictObject({
  reason: Text,
  supplierNumber: Line.max(60),
  wish: z.enum(RETURN_WISHES),
  pickUpOn: Day.nullable(),
  carrier: Line,
  lines: z.array(ReturnLineJson).max(500),
})
/** What went back of an order, and what could. */
export const ReadReturns = defineEndpoint({
  name: 'return.list',
  method: 'get',
  path: '/deliveries/:id/returns',
  permission: 'delivery.read',
  params: ById,
  response: z.strictObject({
    mayReturn: z.boolean(),
    /** The supplier's setting: a debit note is made when billed goods go back. */
    debits: z.boolean(),
    returnable: z.array(
      z.strictObject({
        partId: Uuid,
        lineId: Uuid,
        position: z.int(),
        description: z.string(),
        receipt: z.string(),
        left: DecimalText,
        unit: z.string(),
        detail: z.string(),
        /** So much of it waits for its inspection, or did not pass. */
        notAccepted: DecimalText,
        becomes: z.string(),
        pieces: z.array(z.strictObject({ id: Uuid, label: z.string() })),
      }),
    ),
    returns: z.array(
      ReturnBody.extend({
        id: Uuid,
        number: z.string(),
        state: z.enum(['draft', 'sent', 'settled', 'withdrawn']),
        version: z.int(),
        by: z.string(),
        at: Stamp,
        debitNumber: z.string().nullable(),
        debitNet: AmountText,
        currency: z.string(),
      }),
    ),
  }),
})
/** Writes a return and, with `send`, lets the goods go. */
export const SaveReturn = defineEndpoint({
  name: 'return.save',
  method: 'post',
  path: '/deliveries/:id/returns',
  permission: 'delivery.receive',
  params: ById,
  body: z.strictObject({ returnId: Uuid.nullable(), version: z.int().min(0), send: z.boolean(), entry: ReturnBody }),
  response: Done.extend({ number: z.string(), debitNumber: z.string().nullable() }),
})
export const EndReturn = defineEndpoint({
  name: 'return.end',
  method: 'post',
  path: '/goods-returns/:id/end',
  permission: 'delivery.receive',
  params: ById,
  body: z.strictObject({ version: Version, how: z.enum(['settle', 'withdraw']), reason: Text }),
  response: Done,
})
/** The note that goes with the goods, the label for what they are packed in, the debit note, or the note as UBL. */
export const ReturnPaper = defineEndpoint({
  name: 'return.paper',
  method: 'get',
  path: '/goods-returns/:id/:paper',
  permission: 'order.read',
  params: z.strictObject({ id: Uuid, paper: z.enum(['note', 'label', 'debit', 'ubl']) }),
  answers: 'file',
})
