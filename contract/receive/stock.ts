import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Day, DecimalText, Done, Line, Stamp, Text, Uuid } from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'
import { STOCK_KINDS } from '#core/receive/stock.ts'

const LotBody = z.strictObject({ itemId: Uuid, placeId: Uuid, bin: Line.max(40), batch: Line.max(40) })

/** What is in stock, item by item and site by site. */
export const Stock = defineList('stock', '/stock', 'order.read', ['stockMove', 'receipt'])
export const ReadHolding = defineEndpoint({
  name: 'stock.read',
  method: 'get',
  path: '/stock/:id',
  permission: 'order.read',
  params: ById,
  response: z.strictObject({
    id: Uuid,
    itemId: Uuid,
    item: z.string(),
    itemNumber: z.string(),
    unit: z.string(),
    placeId: Uuid,
    place: z.string(),
    quantity: DecimalText,
    value: AmountText,
    averageCost: z.string(),
    currency: z.string(),
    reserved: DecimalText,
    lots: z.array(
      z.strictObject({ bin: z.string(), batch: z.string(), quantity: DecimalText, bestBefore: z.string().nullable() }),
    ),
    movements: z.array(
      z.strictObject({
        id: z.string(),
        kind: z.enum(STOCK_KINDS),
        quantity: DecimalText,
        value: AmountText,
        bin: z.string(),
        batch: z.string(),
        at: Stamp,
        by: z.string(),
        number: z.string(),
        purpose: z.string(),
      }),
    ),
    reservations: z.array(
      z.strictObject({
        id: Uuid,
        quantity: DecimalText,
        purpose: z.string(),
        until: z.string().nullable(),
        by: z.string(),
        mine: z.boolean(),
      }),
    ),
    /** Counts that wait for somebody else's yes. */
    counts: z.array(z.strictObject({ id: Uuid, number: z.string(), by: z.string(), at: Stamp, mayAnswer: z.boolean(), differences: z.array(z.strictObject({ bin: z.string(), batch: z.string(), found: DecimalText, known: DecimalText })) })), // prettier-ignore
    mayMove: z.boolean(),
    places: z.array(z.strictObject({ id: Uuid, label: z.string() })),
    /** For whom things are issued: cost centres and projects. */
    purposes: z.array(z.string()),
  }),
})
const lines = <T extends z.ZodType>(line: T) => z.array(line).min(1).max(500)
export const IssueStock = defineEndpoint({
  name: 'stock.issue',
  method: 'post',
  path: '/stock-issues',
  permission: 'delivery.receive',
  body: z.strictObject({ to: Line.min(1), note: Text, lines: lines(LotBody.extend({ quantity: DecimalText })) }),
  response: Done.extend({ number: z.string() }),
})
export const MoveStock = defineEndpoint({
  name: 'stock.move',
  method: 'post',
  path: '/stock-moves',
  permission: 'delivery.receive',
  body: z.strictObject({
    note: Text,
    lines: lines(LotBody.extend({ quantity: DecimalText, toPlaceId: Uuid, toBin: Line.max(40) })),
  }),
  response: Done.extend({ number: z.string() }),
})
export const CountStock = defineEndpoint({
  name: 'stock.count',
  method: 'post',
  path: '/stock-counts',
  permission: 'delivery.receive',
  body: z.strictObject({ note: Text, lines: lines(LotBody.extend({ found: DecimalText })) }),
  response: Done.extend({ number: z.string(), state: z.string() }),
})
export const AnswerCount = defineEndpoint({
  name: 'stock.answerCount',
  method: 'post',
  path: '/stock-counts/:id/answer',
  permission: 'delivery.receive',
  params: ById,
  body: z.strictObject({ answer: z.enum(['approve', 'reject']), reason: Text }),
  response: Done,
})
export const ReserveStock = defineEndpoint({
  name: 'stock.reserve',
  method: 'post',
  path: '/stock-reservations',
  permission: 'order.read',
  body: z.strictObject({
    itemId: Uuid,
    placeId: Uuid,
    quantity: DecimalText,
    purpose: Line.min(1),
    until: Day.nullable(),
  }),
  response: z.strictObject({ id: Uuid }),
})
export const EndReservation = defineEndpoint({
  name: 'stock.endReservation',
  method: 'post',
  path: '/stock-reservations/:id/end',
  permission: 'order.read',
  params: ById,
  body: z.strictObject({}),
  response: z.strictObject({ id: Uuid }),
})
