import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Day, DecimalText, Line, ReasonJson, Stamp, Uuid, Version } from '#contract/fields.ts'
import { GOODS_COLUMNS } from '#core/order/goodsRow.ts'

/** Rows that one list may have. */
export const MOST_LIST_ROWS = 10_000
export const LIST_ROW_STATES = ['ready', 'refused', 'left', 'made'] as const
const Cells = z.partialRecord(z.enum(GOODS_COLUMNS), z.string().max(200))

/** Takes a list of goods to be ordered, as a workbook or a delimited file: nothing is ordered yet, what it would make is laid out. */
export const TakeBuyingList = defineEndpoint({
  name: 'buyingList.take',
  method: 'post',
  path: '/buying-lists',
  permission: 'order.write',
  body: z.strictObject({ fileId: Uuid }),
  response: z.strictObject({ id: Uuid }),
})
export const ReadBuyingList = defineEndpoint({
  name: 'buyingList.read',
  method: 'get',
  path: '/buying-lists/:id',
  permission: 'order.write',
  params: ById,
  response: z.strictObject({
    id: Uuid,
    version: z.int(),
    fileName: z.string(),
    at: Stamp,
    rows: z.array(
      z.strictObject({
        row: z.int(),
        cells: Cells,
        what: z.string(),
        state: z.enum(LIST_ROW_STATES),
        reasons: z.array(ReasonJson),
        /** What was bought of the item last. */
        past: z
          .strictObject({
            price: DecimalText,
            priceBase: DecimalText,
            currency: z.string(),
            supplier: z.string(),
            on: Day,
            order: z.string(),
            path: z.string(),
            /** How much dearer the row is, in per cent, below nothing where it is cheaper; null in another currency. */
            percent: z.string().nullable(),
          })
          .nullable(),
        order: z.strictObject({ number: z.string(), path: z.string() }).nullable(),
      }),
    ),
    /** The drafts that the ready rows make. */
    drafts: z.array(
      z.strictObject({ supplier: z.string(), currency: z.string(), total: AmountText, rows: z.array(z.int()) }),
    ),
  }),
})
/** Corrects cells, leaves rows out, or takes them in again. */
export const ChangeBuyingList = defineEndpoint({
  name: 'buyingList.change',
  method: 'put',
  path: '/buying-lists/:id',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    rows: z
      .array(z.strictObject({ row: z.int(), cells: Cells.optional(), left: z.boolean().optional() }))
      .min(1)
      .max(MOST_LIST_ROWS),
  }),
  response: z.strictObject({ id: Uuid, version: z.int() }),
})
/** Drafts orders of the rows that are ready, one for each supplier and currency; they are approved before they are issued. */
export const MakeListedOrders = defineEndpoint({
  name: 'buyingList.make',
  method: 'post',
  path: '/buying-lists/:id/orders',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: z.strictObject({ orders: z.array(z.strictObject({ id: Uuid, number: Line })) }),
})
