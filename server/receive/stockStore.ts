import { type Minor, minor, portion } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { lineValues } from '#core/order/standing.ts'
import {
  type Holding,
  holdingKey,
  type Lot,
  lotKey,
  type StockEntry,
  type StockFacts,
  worthOf,
} from '#core/receive/stock.ts'
import { convertQuantity } from '#core/units/units.ts'
import type { Read, Write } from '#server/call.ts'
import type { SourceDocument } from '#server/ledger/quantityStore.ts'
import type { ReceiptLineRow } from '#server/receive/receiptStore.ts'
import { countedLines } from '#server/receive/receivingStore.ts'
import type { Becomes } from '#server/receive/becoming.ts'

export interface StockMoveRow {
  id: string
  number: string
  kind: 'issue' | 'move' | 'count'
  state: 'posted' | 'asked' | 'refused'
  placeId: string
  purpose: string
  reason: string
  lines: readonly StockMoveLine[]
  consentId: string | null
  byId: string
  at: string
  version: number
  changedAt: string
}
/** A lot that was issued, moved or counted, as whoever did it said it. */
export interface StockMoveLine extends Lot {
  readonly quantity: string
  readonly toPlaceId?: string | undefined
  readonly toBin?: string | undefined
}
interface StockEntryRow extends Lot {
  id: bigint
  kind: StockEntry['kind']
  quantity: string
  value: bigint
  at: string
  actorId: string
  documentKind: string
  documentId: string
  receiptLineId: string | null
}
interface ReservationRow {
  id: string
  itemId: string
  placeId: string
  quantity: string
  purpose: string
  until: string | null
  byId: string
  at: string
  endedAt: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    stockEntries: StockEntryRow
    stockLots: Lot & { quantity: string; bestBefore: string | null }
    stockHoldings: { id: string; itemId: string; placeId: string; quantity: string; value: bigint; changedAt: string }
    stockMoves: StockMoveRow
    stockReservations: ReservationRow
  }
}

/** Appends entries and brings lots and holdings along, in one statement each; whoever posts holds the stock of these items. */
export async function postStock(
  call: Write,
  source: SourceDocument,
  entries: readonly (StockEntry & { readonly receiptLineId?: string; readonly bestBefore?: string | null })[],
): Promise<void> {
  if (entries.length === 0) return
  const rows = JSON.stringify(
    entries.map(entry => ({ item_id: entry.itemId, place_id: entry.placeId, bin: entry.bin, batch: entry.batch, kind: entry.kind, quantity: entry.quantity, value: entry.value.toString(), receipt_line_id: entry.receiptLineId ?? null, best_before: entry.bestBefore ?? null })), // prettier-ignore
  )
  const shape =
    'item_id uuid, place_id uuid, bin text, batch text, kind text, quantity numeric, value bigint, receipt_line_id uuid, best_before date'
  await call.trx.raw(
    `insert into stock_entries (item_id, place_id, bin, batch, kind, quantity, value, receipt_line_id, at, actor_id, document_kind, document_id)
     select item_id, place_id, bin, batch, kind, quantity, value, receipt_line_id, ?, ?, ?, ? from jsonb_to_recordset(?::jsonb) as e (${shape})`,
    [call.now, call.actor.id, source.kind, source.id, rows],
  )
  await call.trx.raw(
    `insert into stock_lots (item_id, place_id, bin, batch, quantity, best_before)
     select item_id, place_id, bin, batch, sum(quantity), min(best_before) from jsonb_to_recordset(?::jsonb) as e (${shape}) group by 1, 2, 3, 4 having sum(quantity) >= 0
     on conflict (item_id, place_id, bin, batch) do update set quantity = stock_lots.quantity + excluded.quantity, best_before = coalesce(stock_lots.best_before, excluded.best_before)`,
    [rows],
  )
  await call.trx.raw(
    `update stock_lots l set quantity = l.quantity + e.quantity from (select item_id, place_id, bin, batch, sum(quantity) as quantity from jsonb_to_recordset(?::jsonb) as e (${shape}) group by 1, 2, 3, 4 having sum(quantity) < 0) e
     where l.item_id = e.item_id and l.place_id = e.place_id and l.bin = e.bin and l.batch = e.batch`,
    [rows],
  )
  await call.trx.raw(
    `with e as (select item_id, place_id, sum(quantity) as quantity, sum(value) as value from jsonb_to_recordset(?::jsonb) as e (${shape}) group by 1, 2),
       changed as (update stock_holdings h set quantity = h.quantity + e.quantity, value = h.value + e.value, changed_at = ? from e where h.item_id = e.item_id and h.place_id = e.place_id returning h.item_id, h.place_id)
     insert into stock_holdings (item_id, place_id, quantity, value, changed_at) select item_id, place_id, quantity, value, ? from e where not exists (select 1 from changed c where c.item_id = e.item_id and c.place_id = e.place_id)`,
    [rows, call.now, call.now],
  )
}

/** Nobody else moves the stock of these items until the transaction ends; held in the order of their ids. */
export async function holdStock(call: Write, itemIds: readonly string[]): Promise<void> {
  for (const id of [...new Set(itemIds)].sort())
    await call.trx.raw(`select pg_advisory_xact_lock(hashtext('stock'), hashtext(?))`, [id])
}

/** What lies where of some items, and what is set apart of them for others. */
export async function stockFacts(call: Read, itemIds: readonly string[]): Promise<StockFacts> {
  const ids = [...new Set(itemIds)]
  const lots = await call.trx('stockLots').whereIn('itemId', ids)
  const holdings = await call.trx('stockHoldings').whereIn('itemId', ids)
  const reserved = await call.trx('stockReservations').whereIn('itemId', ids).whereNull('endedAt').whereNot({ byId: call.actor.id }).andWhere(query => void query.whereNull('until').orWhere('until', '>=', call.today)) // prettier-ignore
  const apart = new Map<string, string>()
  for (const one of reserved)
    apart.set(holdingKey(one), tidy(new Decimal(apart.get(holdingKey(one)) ?? '0').plus(one.quantity)))
  return {
    lots: new Map(lots.map(lot => [lotKey(lot), lot.quantity])),
    holdings: new Map(
      holdings.map((one): [string, Holding] => [holdingKey(one), { quantity: one.quantity, value: minor(one.value) }]),
    ),
    reserved: apart,
  }
}

/** Goods that go to stock move there with their receipt, at the ordered price; taken back, they leave at average cost. */
export const stockOfCounts: Becomes = {
  taken: async (call, order, receipt, parts) => {
    const own = parts.filter(part => part.becomes === 'stock')
    if (own.length === 0) return
    const values = lineValues(order)
    const lines = new Map(order.lines.map(line => [line.id, line]))
    const inItems = await itemQuantities(call, own)
    await holdStock(
      call,
      inItems.map(one => one.itemId),
    )
    await postStock(
      call,
      { kind: 'receipt', id: receipt.id },
      inItems.map(({ part, itemId, quantity }) => {
        const line = lines.get(part.orderLineId)!
        const value: Minor = portion(values.get(line.id)!, part.quantity, line.quantity)
        return {
          itemId,
          placeId: receipt.placeId,
          bin: part.bin,
          batch: part.batch,
          kind: 'received' as const,
          quantity,
          value,
          receiptLineId: part.id,
          bestBefore: part.bestBefore,
        }
      }),
    )
  },
  back: async (call, _order, receipt, parts) => {
    const own = parts.filter(part => part.becomes === 'stock')
    if (own.length === 0) return
    const inItems = await itemQuantities(call, own.map(part => ({ ...part, quantity: part.out.quantity }))) // prettier-ignore
    await holdStock(
      call,
      inItems.map(one => one.itemId),
    )
    for (const { part, itemId, quantity } of inItems) {
      const lot = { itemId, placeId: receipt.placeId, bin: part.bin, batch: part.batch }
      const holding = (await stockFacts(call, [itemId])).holdings.get(holdingKey(lot))!
      const value = minor(-worthOf(holding, quantity))
      await postStock(call, { kind: 'receipt', id: receipt.id }, [{ ...lot, kind: 'received', quantity: tidy(new Decimal(quantity).negated()), value, receiptLineId: part.id }]) // prettier-ignore
    }
  },
}

/** Counts in the unit of their items. */
export async function itemQuantities<P extends Pick<ReceiptLineRow, 'orderLineId' | 'quantity'>>(
  call: Read,
  parts: readonly P[],
): Promise<{ part: P; itemId: string; quantity: string }[]> {
  const known = await countedLines(call, [...new Set(parts.map(part => part.orderLineId))])
  const units = new Map((await call.trx('orderLines').whereIn('id', [...known.keys()]).select('id', 'unit')).map(row => [row.id, row.unit])) // prettier-ignore
  return parts.map(part => {
    const { itemId, itemUnit, packs } = known.get(part.orderLineId)!
    return { part, itemId: itemId!, quantity: convertQuantity(part.quantity, units.get(part.orderLineId)!, itemUnit, packs, itemUnit) } // prettier-ignore
  })
}

/** How much of counts that went to stock still lies where they were put, in the unit of their lines. */
export async function stillInStock(call: Read, parts: readonly ReceiptLineRow[]) {
  const own = parts.filter(part => part.becomes === 'stock')
  if (own.length === 0) return new Map()
  const receipts = new Map((await call.trx('receipts').whereIn('id', [...new Set(own.map(part => part.receiptId))]).select('id', 'placeId')).map(row => [row.id, row.placeId])) // prettier-ignore
  const inItems = await itemQuantities(call, own)
  const { lots } = await stockFacts(call, inItems.map(one => one.itemId)) // prettier-ignore
  return new Map(
    inItems.map(({ part, itemId, quantity }) => {
      const lot = lots.get(lotKey({ itemId, placeId: receipts.get(part.receiptId)!, bin: part.bin, batch: part.batch })) ?? '0' // prettier-ignore
      // as much of the line as of the item
      const there = new Decimal(part.quantity).times(lot).dividedBy(quantity).toDecimalPlaces(6, Decimal.ROUND_DOWN)
      const left = new Decimal(part.quantity).minus(part.reversed).minus(part.returned)
      return [part.id, { there: tidy(Decimal.min(there, left)) }]
    }),
  )
}
