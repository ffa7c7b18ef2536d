import type { Condition, CountedPart } from '#core/receive/counts.ts'
import type { ReceiptFacts, ReceiptPart } from '#core/receive/reverseReceipt.ts'
import type { ReceiptState } from '#core/receive/states.ts'
import type { QuantityKind } from '#core/ledger/quantity.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { type Read } from '#server/call.ts'
import { standingPieces } from '#server/receive/assetStore.ts'
import { inspectedParts } from '#server/receive/inspectionStore.ts'
import { stillInStock } from '#server/receive/stockStore.ts'
import { groupBy } from '#server/database/rows.ts'

export type ReceiptSource = 'desk' | 'handheld' | 'import' | 'invoice' | 'workReport'
export interface ReceiptRow {
  id: string
  number: string
  orderId: string
  state: ReceiptState
  receivedOn: string
  placeId: string
  note: string
  source: ReceiptSource
  checkReason: string
  /** The question about what is above the tolerance. */
  consentId: string | null
  /** The announcement that it was received by. */
  despatchId: string | null
  byId: string
  at: string
  version: number
  changedAt: string
}
export interface ReceiptLineRow {
  id: string
  receiptId: string
  orderLineId: string
  position: number
  quantity: string
  enteredQuantity: string
  enteredUnit: string
  bin: string
  batch: string
  bestBefore: string | null
  condition: Condition
  serials: string[]
  note: string
  becomes: CountedPart['becomes']
  inspect: boolean
  billsWait: boolean
  reversed: string
  returned: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    receipts: ReceiptRow
    receiptLines: ReceiptLineRow
  }
}

/** A receipt of an order as a delivery shows it. */
export type ShownReceipt = Pick<
  ReceiptRow,
  'id' | 'number' | 'state' | 'receivedOn' | 'byId' | 'at' | 'note' | 'source' | 'checkReason' | 'consentId'
> & { place: string; by: string; parts: ReceiptLineRow[] }

export async function receiptsOf(call: Read, orderId: string): Promise<ShownReceipt[]> {
  const { rows } = await call.trx
    .raw<{ rows: Omit<ShownReceipt, 'parts'>[] }>(
      `select r.id, r.number, r.state, r.received_on, a.name as place, p.name as by, r.by_id, r.at, r.note, r.source, r.check_reason, r.consent_id
       from receipts r join people p on p.id = r.by_id join addresses a on a.id = r.place_id where r.order_id = ? order by r.at desc, length(r.number) desc, r.number desc`,
      [orderId],
    )
    .options({ name: 'receipts-of-order' })
  const parts = groupBy(
    await partsOf(
      call,
      rows.map(row => row.id),
    ),
    part => part.receiptId,
  )
  return rows.map(row => ({ ...row, parts: parts.get(row.id) ?? [] }))
}

/** The counts of receipts, in their order. */
export const partsOf = async (call: Read, receiptIds: readonly string[]): Promise<ReceiptLineRow[]> =>
  receiptIds.length === 0
    ? []
    : await call
        .trx('receiptLines')
        .whereRaw('receipt_id = any(?)', [[...receiptIds]])
        .orderBy(['receiptId', 'position'])

/** Counts as the core decided them, kept with their receipt. */
export const countedParts = (rows: readonly ReceiptLineRow[]): CountedPart[] =>
  rows.map(
    ({
      id: _id,
      receiptId: _receipt,
      orderLineId,
      position: _position,
      reversed: _reversed,
      returned: _returned,
      ...row
    }) => ({
      ...row,
      lineId: orderLineId,
    }),
  )

/** Receipts with their counts and the entries that they posted, less what was taken back of them, by id. */
export async function receiptFacts(call: Read, ids: readonly string[]): Promise<Map<string, ReceiptFacts>> {
  if (ids.length === 0) return new Map()
  const rows = await call.trx('receipts').whereIn('id', [...ids])
  const { rows: entries } = await call.trx.raw<{
    rows: { id: string; lineId: string; kind: QuantityKind; quantity: string; documentId: string }[]
  }>(
    `select e.id::text as id, e.line_id, e.kind, trim_scale(e.quantity + coalesce((select sum(b.quantity) from quantity_entries b where b.reverses_id = e.id), 0))::text as quantity, e.document_id
     from quantity_entries e where e.document_id = any(?) and e.reverses_id is null order by e.id`,
    [[...ids]],
  )
  const parts = await partsOf(call, ids)
  const known: ReadonlyMap<string, Partial<ReceiptPart>>[] = [
    await standingPieces(call, parts),
    await stillInStock(call, parts),
    await inspectedParts(call, parts),
  ]
  const factsOf = (part: ReceiptLineRow): ReceiptPart => {
    const left = tidy(new Decimal(part.quantity).minus(part.reversed).minus(part.returned))
    return {
      id: part.id,
      lineId: part.orderLineId,
      becomes: part.becomes,
      left,
      inspected: false,
      there: left,
      pieces: [],
      ...known.reduce<Partial<ReceiptPart>>((all, one) => ({ ...all, ...one.get(part.id) }), {}),
    }
  }
  return new Map(
    rows.map(row => [
      row.id,
      {
        ...row,
        parts: parts.filter(part => part.receiptId === row.id).map(factsOf),
        entries: entries.filter(entry => entry.documentId === row.id && new Decimal(entry.quantity).gt(0)),
      },
    ]),
  )
}
