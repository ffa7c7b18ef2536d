import { Decimal } from '#core/money/decimal.ts'
import type { NewOrder } from '#core/order/draftOrders.ts'
import {
  GOODS_COLUMNS,
  goodsOrder,
  type GoodsRow,
  type PlacedGoods,
  readGoods,
  rowReader,
} from '#core/order/goodsRow.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Open orders of goods from before, a row for each line, with what was ordered and how far it has come. */
export const ORDER_COLUMNS = ['order', ...GOODS_COLUMNS, 'received', 'billed', 'promised'] as const
export const ORDER_COLUMNS_NEEDED = [
  'order',
  'supplier',
  'description',
  'quantity',
  'price',
  'cost_centre',
  'account',
] as const

/** One line of an open order as its row says it. */
export interface ImportedOrderLine extends GoodsRow {
  /** The number that the order had before. */
  readonly order: string
  /** What of the quantity had come in, and was billed, before. */
  readonly received: string
  readonly billed: string
  /** The day that the supplier promised; where there is one, it confirmed the line. */
  readonly promised: string | null
}

/** One row of a file of open orders. */
export function readOrderRow(
  row: Readonly<Record<string, string>>,
  number: number,
  base: string,
): { line?: ImportedOrderLine; reasons: Reason[] } {
  const reader = rowReader(row, number)
  const { reasons, text, day, figure } = reader
  const line: ImportedOrderLine = {
    ...readGoods(reader, base, ORDER_COLUMNS_NEEDED),
    order: text('order'),
    received: figure('received', '0', 0),
    billed: figure('billed', '0', 0),
    promised: day('promised'),
  }
  if (reasons.length === 0) reasons.push(...againstProgress(line, number))
  return reasons.length > 0 ? { reasons } : { line, reasons }
}

/** More cannot be billed than was ordered, and of what is all in and billed nothing is open. */
function againstProgress({ quantity, received, billed }: ImportedOrderLine, number: number): Reason[] {
  const at = { place: `rows.${number}.billed` }
  const left = new Decimal(quantity).minus(billed)
  if (left.lt(0)) return [stop('import.billedMore', { quantity, billed }, at)]
  return left.isZero() && new Decimal(received).gte(quantity) ? [stop('import.orderDone', {}, at)] : []
}

/** The same with what it names looked up. */
export type PlacedOrderLine = ImportedOrderLine & PlacedGoods

/** How far a line had come before it was taken over. */
export type SoFar = Pick<ImportedOrderLine, 'received' | 'billed' | 'promised'>

/** What one order says twice has to be the same: rows of an order that name another supplier or currency than its first. */
export function differingRows(lines: readonly PlacedOrderLine[]): { row: number; reasons: Reason[] }[] {
  const first = new Map<string, PlacedOrderLine>()
  return lines.flatMap(line => {
    const before = first.get(line.order) ?? line
    first.set(line.order, before)
    const column =
      before.supplierId === line.supplierId ? (before.currency === line.currency ? null : 'currency') : 'supplier'
    return column === null
      ? []
      : [
          {
            row: line.row,
            reasons: [stop('import.orderDiffers', { row: before.row }, { place: `rows.${line.row}.${column}` })],
          },
        ]
  })
}

/** The orders of a file, in its order; amounts are at the rate of the day, rounded once at the line. */
export function importedOrders(
  lines: readonly PlacedOrderLine[],
  base: string,
): (NewOrder & { readonly formerNumber: string; readonly soFar: readonly SoFar[] })[] {
  const orders = new Map<string, PlacedOrderLine[]>()
  for (const line of lines) orders.set(line.order, [...(orders.get(line.order) ?? []), line])
  return [...orders].map(([formerNumber, own]) => ({
    ...goodsOrder(own, base, `${formerNumber}: `),
    formerNumber,
    soFar: own.map(({ received, billed, promised }) => ({ received, billed, promised })),
  }))
}
