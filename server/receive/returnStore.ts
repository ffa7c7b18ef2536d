import type { ReturnablePart, ReturnEntry, ReturnLine, ReturnState, ReturnWish } from '#core/receive/goodsReturn.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import type { Read, Write } from '#server/call.ts'
import { partsOf, receiptFacts } from '#server/receive/receiptStore.ts'

/** A line of a debit note as it is kept: its net in the smallest unit of the order's currency. */
export interface DebitRow {
  readonly lineId: string
  readonly position: number
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly net: string
}
export interface GoodsReturnRow {
  id: string
  number: string
  orderId: string
  supplierId: string
  state: ReturnState
  reason: string
  supplierNumber: string
  wish: ReturnWish
  pickUpOn: string | null
  carrier: string
  lines: readonly ReturnLine[]
  debitNumber: string | null
  debit: readonly DebitRow[]
  debitNet: bigint
  currency: string
  byId: string
  sentAt: string | null
  version: number
  createdAt: string
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    goodsReturns: GoodsReturnRow
  }
}

export const returnEntry = ({
  reason,
  supplierNumber,
  wish,
  pickUpOn,
  carrier,
  lines,
}: GoodsReturnRow): ReturnEntry => ({
  reason,
  supplierNumber,
  wish,
  pickUpOn,
  carrier,
  lines,
})

/** The counts of an order of which something can go back, each with its receipt. */
export async function returnableParts(call: Read, orderId: string) {
  const receipts = await call
    .trx('receipts')
    .where({ orderId, state: 'posted' })
    .orderBy('number')
    .select('id', 'number')
  const ids = receipts.map(one => one.id)
  const place = new Map(ids.map((id, index) => [id, index]))
  // the first that came stands first
  const rows = (await partsOf(call, ids)).sort((one, other) => place.get(one.receiptId)! - place.get(other.receiptId)!)
  const facts = await receiptFacts(call, ids)
  const numbers = new Map(receipts.map(one => [one.id, one.number]))
  return new Map(
    rows.flatMap(row => {
      const part = facts.get(row.receiptId)!.parts.find(one => one.id === row.id)!
      const { left } = part
      const one: ReturnablePart = {
        partId: row.id,
        lineId: row.orderLineId,
        becomes: part.becomes,
        left,
        there: tidy(Decimal.min(part.there, left)),
        pieces: part.pieces,
        notAccepted: part.notAccepted ?? '0',
      }
      return part.becomes === 'work' || left === '0'
        ? []
        : [[row.id, { ...one, row, receipt: numbers.get(row.receiptId)! }] as const]
    }),
  )
}

/** Debit notes of every kind are numbered in one row. */
export async function nextDebit(call: Write): Promise<string> {
  const { rows } = await call.trx.raw<{ rows: [{ next: string }] }>(`select nextval('debit_numbers')::text as next`)
  return `DN-${rows[0].next}`
}
