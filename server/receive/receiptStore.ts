import type { ReceiptFacts } from '#core/receive/reverseReceipt.ts'
import type { ReceiptState } from '#core/receive/states.ts'
import { type Read } from '#server/call.ts'

interface ReceiptRow {
  id: string
  number: string
  orderId: string
  state: ReceiptState
  receivedOn: string
  placeId: string
  note: string
  byId: string
  at: string
  version: number
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    receipts: ReceiptRow
    receiptLines: { id: string; receiptId: string; orderLineId: string; quantity: string }
  }
}

/** A receipt of an order as a delivery shows it. */
export interface ShownReceipt {
  id: string
  number: string
  state: ReceiptState
  receivedOn: string
  place: string
  by: string
  byId: string
  at: string
  note: string
  lines: { position: number; quantity: string; unit: string }[]
}

export async function receiptsOf(call: Read, orderId: string): Promise<ShownReceipt[]> {
  const { rows } = await call.trx
    .raw<{ rows: ShownReceipt[] }>(
      `select r.id, r.number, r.state, r.received_on, a.name as place, p.name as by, r.by_id, r.at, r.note,
         (select coalesce(json_agg(json_build_object('position', l.position, 'quantity', trim_scale(rl.quantity)::text, 'unit', l.unit) order by l.position), '[]')
          from receipt_lines rl join order_lines l on l.id = rl.order_line_id where rl.receipt_id = r.id) as lines
       from receipts r join people p on p.id = r.by_id join addresses a on a.id = r.place_id where r.order_id = ? order by r.at desc`,
      [orderId],
    )
    .options({ name: 'receipts-of-order' })
  return rows
}

/** Receipts with the entries that they posted and nobody took back, by id. */
export async function receiptFacts(call: Read, ids: readonly string[]): Promise<Map<string, ReceiptFacts>> {
  if (ids.length === 0) return new Map()
  const rows = await call.trx('receipts').whereIn('id', [...ids])
  const { rows: entries } = await call.trx.raw<{
    rows: { id: string; lineId: string; quantity: string; documentId: string }[]
  }>(
    `select e.id::text as id, e.line_id, e.quantity, e.document_id from quantity_entries e where e.document_id = any(?) and e.reverses_id is null order by e.id`,
    [[...ids]],
  )
  return new Map(rows.map(row => [row.id, { ...row, entries: entries.filter(entry => entry.documentId === row.id) }]))
}
