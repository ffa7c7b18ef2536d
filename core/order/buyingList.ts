import type { NewOrder } from '#core/order/draftOrders.ts'
import {
  GOODS_COLUMNS,
  goodsOrder,
  type GoodsRow,
  type PlacedGoods,
  readGoods,
  rowReader,
} from '#core/order/goodsRow.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { table } from '#core/text/table.ts'

/** What a list of goods to be ordered has to say of each; a description may be left to the item. */
export const LIST_NEEDED = ['supplier', 'quantity', 'price', 'cost_centre', 'account'] as const
export type ListColumn = (typeof GOODS_COLUMNS)[number]
/** A row as it was written, each cell as text. */
export type ListCells = Readonly<Partial<Record<ListColumn, string>>>

const plain = (heading: string): string => heading.toLowerCase().replace(/[^a-z]/g, '')
/** What people head their columns with, beside the names themselves. */
const ALSO: Readonly<Record<string, ListColumn>> = table({
  vendor: 'supplier',
  itemnumber: 'item',
  article: 'item',
  text: 'description',
  what: 'description',
  qty: 'quantity',
  unitprice: 'price',
  per: 'price_base',
  neededby: 'need_by',
  deliverby: 'need_by',
  deliverto: 'place',
  costcenter: 'cost_centre',
})

/**
 * Which column of a file holds what, by its heading; a heading that says nothing is left.
 *
 * @throws RuleBroken list.columns where something that is needed has no column | list.columnTwice
 */
export function listColumns(headings: readonly string[]): Map<ListColumn, number> {
  const names = new Map<string, ListColumn>([
    ...GOODS_COLUMNS.map(name => [plain(name), name] as const),
    ...Object.entries(ALSO),
  ])
  const columns = new Map<ListColumn, number>()
  for (const [at, heading] of headings.entries()) {
    const name = names.get(plain(heading))
    if (name === undefined) continue
    if (columns.has(name)) throw new RuleBroken(stop('list.columnTwice', { column: name }))
    columns.set(name, at)
  }
  const missing = [...LIST_NEEDED.filter(one => one !== 'price' && !columns.has(one)), ...(columns.has('item') || columns.has('description') ? [] : ['item or description'])] // prettier-ignore
  if (missing.length > 0) throw new RuleBroken(stop('list.columns', { columns: missing.join(', ') }))
  return columns
}

/** One row of a list of goods to be ordered. */
export function readListRow(cells: ListCells, number: number, base: string): { goods: GoodsRow; reasons: Reason[] } {
  const reader = rowReader(cells, number)
  const goods = readGoods(reader, base, LIST_NEEDED)
  if (goods.item === '' && goods.description === '') reader.fault('import.missing', 'description')
  return { goods, reasons: reader.reasons }
}

/** Drafts of a list, one for each supplier and currency, with the rows that stand on each. */
export function listedOrders(
  goods: readonly PlacedGoods[],
  base: string,
): { order: NewOrder; rows: readonly number[] }[] {
  const groups = new Map<string, PlacedGoods[]>()
  for (const one of goods) {
    const key = `${one.supplierId} ${one.currency}`
    groups.set(key, [...(groups.get(key) ?? []), one])
  }
  return [...groups.values()].map(own => ({ order: goodsOrder(own, base), rows: own.map(one => one.row) }))
}
