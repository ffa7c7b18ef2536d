import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import {
  type ChangeBuyingList,
  type MakeListedOrders,
  MOST_LIST_ROWS,
  type ReadBuyingList,
} from '#contract/order/buyingLists.ts'
import { formatAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { PlacedGoods } from '#core/order/goodsRow.ts'
import { type ListCells, listColumns, listedOrders, readListRow } from '#core/order/buyingList.ts'
import { percentBetween } from '#core/request/prices.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { json } from '#server/database/json.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import { ownContent, ownFile } from '#server/files/fileActs.ts'
import { insertDraft } from '#server/order/newOrderStore.ts'
import { againstSuppliers, itemsNumbered, placeGoods } from '#server/order/placeGoods.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** A row of a list as it is kept: what was written, whether it is left out, and the order that was made of it. */
interface KeptListRow {
  readonly row: number
  readonly cells: ListCells
  readonly left: boolean
  readonly order: { readonly id: string; readonly number: string } | null
}
interface BuyingListRow {
  id: string
  fileName: string
  byId: string
  at: string
  content: KeptListRow[]
  version: number
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    buyingLists: BuyingListRow
  }
}

/** Takes a list and keeps what its rows say. Empty rows count, so that the row numbers are those of the file. */
export async function takeBuyingList(call: Write, fileId: string): Promise<{ id: string }> {
  const bytes = await ownContent(call, fileId)
  const { headings, rows } = await compute('cellsOf', { bytes, days: true })
  if (rows.length > MOST_LIST_ROWS) throw new RuleBroken(stop('list.tooMany', { most: MOST_LIST_ROWS }))
  const columns = listColumns(headings)
  const kept = rows.flatMap((row, index): KeptListRow[] => {
    const cells = Object.fromEntries([...columns].map(([name, at]) => [name, (row[at] ?? '').trim().slice(0, 200)]))
    return Object.values(cells).every(one => one === '') ? [] : [{ row: index + 2, cells, left: false, order: null }]
  })
  if (kept.length === 0) throw new RuleBroken(stop('list.empty'))
  const id = randomUUID()
  await call.trx('buyingLists').insert({
    id,
    fileName: (await ownFile(call, fileId)).name,
    byId: call.actor.id,
    at: call.now,
    content: json(kept),
    changedAt: call.now,
  })
  return { id }
}

const ownList = async (call: Read, id: string, locked = false): Promise<BuyingListRow> => {
  const query = call.trx('buyingLists').where({ id, byId: call.actor.id }).first()
  return found(await (locked ? query.forNoKeyUpdate() : query), 'longJob')
}

interface Judged {
  readonly placed: readonly PlacedGoods[]
  readonly reasons: ReadonlyMap<number, readonly Reason[]>
}

/** What its open rows come to as everything stands now, and what stands against each. */
async function judge(call: Read, list: BuyingListRow): Promise<Judged> {
  const open = list.content.filter(row => !row.left && row.order === null)
  const read = open.map(({ row, cells }) => ({ row, ...readListRow(cells, row, call.base) }))
  const fine = read.filter(one => one.reasons.length === 0)
  const { placed, faults } = await placeGoods(call, fine.map(({ row, goods }) => ({ ...goods, row }))) // prettier-ignore
  const barred = await againstSuppliers(call, placed)
  const reasons = new Map<number, readonly Reason[]>()
  for (const one of [...read, ...faults, ...barred])
    if (one.reasons.length > 0) reasons.set(one.row, [...(reasons.get(one.row) ?? []), ...one.reasons])
  return { placed: placed.filter(one => !reasons.has(one.row)), reasons }
}

export async function readBuyingList(call: Read, id: string): Promise<ResponseOf<typeof ReadBuyingList>> {
  const list = await ownList(call, id)
  const { placed, reasons } = await judge(call, list)
  const byRow = new Map(placed.map(one => [one.row, one]))
  const numbers = list.content.map(row => row.cells.item ?? '')
  const past = await pastPurchases(call, numbers)
  const items = await itemsNumbered(call, numbers)
  return {
    id,
    version: list.version,
    fileName: list.fileName,
    at: list.at,
    rows: list.content.map(({ row, cells, left, order }) => ({
      row,
      cells: { ...cells },
      what: cells.description || (items.get((cells.item ?? '').toLowerCase())?.name ?? ''),
      state: order ? 'made' : left ? 'left' : reasons.has(row) ? 'refused' : 'ready',
      reasons: reasonsJson(reasons.get(row) ?? []),
      past: pastOf(past.get((cells.item ?? '').toLowerCase()), byRow.get(row)),
      order: order && { number: order.number, path: pathOf('order', order.id) },
    })),
    drafts: listedOrders(placed, call.base).map(({ order, rows }) => ({
      supplier: order.supplierName,
      currency: order.currency,
      total: formatAmount(order.total, order.currency),
      rows: [...rows],
    })),
  }
}

type Past = NonNullable<ResponseOf<typeof ReadBuyingList>['rows'][number]['past']>

/** What was paid last beside what a row would pay. */
function pastOf(past: Omit<Past, 'percent'> | undefined, goods: PlacedGoods | undefined): Past | null {
  if (!past) return null
  const unit = (one: { price: string; priceBase: string }): Decimal => new Decimal(one.price).dividedBy(one.priceBase)
  const comparable = goods?.currency === past.currency && unit(past).gt(0)
  return { ...past, percent: comparable ? percentBetween(unit(past), unit(goods)) : null }
}

/** What was bought last of items, by their number in small letters. */
async function pastPurchases(call: Read, numbers: readonly string[]): Promise<Map<string, Omit<Past, 'percent'>>> {
  const wanted = [...new Set(numbers.map(one => one.toLowerCase()).filter(Boolean))]
  const { rows } = await call.trx.raw<{ rows: (Omit<Past, 'path' | 'percent'> & { item: string; orderId: string })[] }>(
    `select distinct on (i.id) lower(i.number) as item, l.price, l.price_base, o.currency, s.name as supplier, o.issued_at::date::text as on, o.number as "order", o.id as order_id
     from items i join order_lines l on l.item_id = i.id join orders o on o.id = l.order_id join suppliers s on s.id = o.supplier_id
     where lower(i.number) = any(?) and o.issued_at is not null and o.state <> 'cancelled' order by i.id, o.issued_at desc`,
    [wanted],
  )
  return new Map(rows.map(({ item, orderId, ...one }) => [item, { ...one, path: pathOf('order', orderId) }]))
}

export async function changeBuyingList(
  call: Write,
  id: string,
  { version, rows }: BodyOf<typeof ChangeBuyingList>,
): Promise<{ id: string; version: number }> {
  const list = await heldList(call, id, version)
  const changes = new Map(rows.map(one => [one.row, one]))
  const kept = list.content.map(row => {
    const change = row.order === null ? changes.get(row.row) : undefined
    return change ? { ...row, cells: { ...row.cells, ...change.cells }, left: change.left ?? row.left } : row
  })
  return await keep(call, list, kept)
}

async function heldList(call: Write, id: string, version: number): Promise<BuyingListRow> {
  const list = await ownList(call, id, true)
  if (list.version !== version) throw new RuleBroken(stop('list.changed'))
  return list
}

async function keep(call: Write, list: BuyingListRow, rows: readonly KeptListRow[]) {
  const version = list.version + 1
  await call
    .trx('buyingLists')
    .where({ id: list.id })
    .update({ content: json([...rows]), version, changedAt: call.now })
  return { id: list.id, version }
}

/** Drafts the orders of all rows that are ready; what is refused or left out stays where it is. */
export async function makeListedOrders(
  call: Write,
  id: string,
  { version }: BodyOf<typeof MakeListedOrders>,
): Promise<ResponseOf<typeof MakeListedOrders>> {
  const list = await heldList(call, id, version)
  const { placed } = await judge(call, list)
  if (placed.length === 0) throw new RuleBroken(stop('list.nothingReady'))
  const made = new Map<number, { id: string; number: string }>()
  const orders: { id: string; number: string }[] = []
  for (const { order, rows } of listedOrders(placed, call.base)) {
    const { id: orderId, number } = await insertDraft(call, { ...order, direct: true })
    orders.push({ id: orderId, number })
    for (const row of rows) made.set(row, { id: orderId, number })
  }
  await refreshThread(call, { orderIds: orders.map(one => one.id) })
  await keep(call, list, list.content.map(row => ({ ...row, order: made.get(row.row) ?? row.order }))) // prettier-ignore
  return { orders }
}
