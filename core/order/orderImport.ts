import { isDay } from '#core/calendar/days.ts'
import { lineAmount, sumMinor } from '#core/money/amount.ts'
import { currencies } from '#core/money/currency.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { toBase } from '#core/money/exchange.ts'
import type { NewOrder, NewOrderLine } from '#core/order/draftOrders.ts'
import { earliestNeed } from '#core/order/measures.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { usualProof } from '#core/request/kinds.ts'
import { UNITS } from '#core/units/units.ts'

/** Open orders of goods from before, a row for each line, with what was ordered and how far it has come. */
export const ORDER_COLUMNS = [
  'order',
  'supplier',
  'currency',
  'item',
  'description',
  'quantity',
  'unit',
  'price',
  'price_base',
  'need_by',
  'cost_centre',
  'account',
  'project',
  'place',
  'received',
  'billed',
  'promised',
] as const
export const ORDER_COLUMNS_NEEDED = [
  'order',
  'supplier',
  'description',
  'quantity',
  'price',
  'cost_centre',
  'account',
] as const

/** One line of an open order as its row says it; names and codes are still to be looked up. */
export interface ImportedOrderLine {
  /** The number that the order had before. */
  readonly order: string
  readonly supplier: string
  readonly currency: string
  readonly item: string
  readonly description: string
  /** What was ordered. */
  readonly quantity: string
  /** What of it had come in, and was billed, before. */
  readonly received: string
  readonly billed: string
  /** The day that the supplier promised; where there is one, it confirmed the line. */
  readonly promised: string | null
  readonly unit: string
  /** For `priceBase` units, in the order's currency. */
  readonly price: string
  readonly priceBase: string
  readonly needBy: string | null
  readonly costCentre: string
  readonly account: string
  readonly project: string | null
  /** Name of the address to which it is delivered; empty where none is said. */
  readonly place: string
}

/**
 * One row of a file of open orders. Figures take decimal comma or point; one that could be read two ways is a fault, never a guess. Places of
 * faults are `rows.<number>.<column>`.
 */
export function readOrderRow(
  row: Readonly<Record<string, string>>,
  number: number,
  base: string,
): { line?: ImportedOrderLine; reasons: Reason[] } {
  const reasons: Reason[] = []
  const text = (column: string): string => (row[column] ?? '').trim()
  const fault = (code: string, column: string, details: Record<string, string> = {}): void =>
    void reasons.push(
      stop(code, { column, value: text(column).slice(0, 40), ...details }, { place: `rows.${number}.${column}` }),
    )
  const day = (column: string): string | null => {
    if (text(column) !== '' && !isDay(text(column))) fault('import.day', column)
    return text(column) || null
  }
  const figure = (column: string, fallback: string, least: 0 | 1): string => {
    const read = text(column) === '' ? { ok: true as const, value: fallback } : readTypedNumber(text(column))
    if (!read.ok && read.ambiguous) fault('import.ambiguousNumber', column, { readings: read.ambiguous.join(' / ') })
    else if (!read.ok || !isDecimalText(read.value) || new Decimal(read.value).comparedTo(0) < least)
      fault('import.number', column)
    return read.ok ? read.value : fallback
  }
  for (const column of ORDER_COLUMNS_NEEDED) if (text(column) === '') fault('import.missing', column)
  const currency = text('currency').toUpperCase() || base
  if (!currencies.includes(currency)) fault('money.unknownCurrency', 'currency', { currency })
  const unit = text('unit').toUpperCase() || 'C62'
  if (!(unit in UNITS) || unit === 'M4') fault('line.unit', 'unit', { unit })
  const line: ImportedOrderLine = {
    order: text('order'),
    supplier: text('supplier'),
    currency,
    item: text('item'),
    description: text('description'),
    quantity: figure('quantity', '1', 1),
    unit,
    price: figure('price', '1', 0),
    priceBase: figure('price_base', '1', 1),
    needBy: day('need_by'),
    received: figure('received', '0', 0),
    billed: figure('billed', '0', 0),
    promised: day('promised'),
    costCentre: text('cost_centre').toUpperCase(),
    account: text('account').toUpperCase(),
    project: text('project').toUpperCase() || null,
    place: text('place'),
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

/** A line whose supplier, item, account, place and rate are known. */
export interface PlacedOrderLine extends ImportedOrderLine {
  readonly row: number
  readonly supplierId: string
  readonly supplierName: string
  /** Per cent of goods that may come in above what is ordered there. */
  readonly overReceiptPercent: number
  readonly itemId: string | null
  readonly accountId: string
  readonly addressId: string | null
  /** Base currency for one unit of its currency, today. */
  readonly rate: string
}

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
  return [...orders].map(([formerNumber, own]) => {
    const first = own[0]!
    const made = own.map(line => orderLine(line, base))
    return {
      formerNumber,
      title: `${formerNumber}: ${first.description}${own.length > 1 ? ` and ${own.length - 1} more` : ''}`,
      supplierId: first.supplierId,
      supplierName: first.supplierName,
      currency: first.currency,
      rate: first.rate,
      agreement: '',
      addressId: first.addressId,
      needBy: earliestNeed(made),
      total: sumMinor(made.map(line => line.amount)),
      baseTotal: sumMinor(made.map(line => line.baseAmount)),
      lines: made,
      from: [],
      soFar: own.map(({ received, billed, promised }) => ({ received, billed, promised })),
    }
  })
}

function orderLine(line: PlacedOrderLine, base: string): NewOrderLine {
  const amount = lineAmount(line)
  return {
    requisitionLineId: null,
    kind: 'goods',
    itemId: line.itemId,
    description: line.description,
    quantity: line.quantity,
    unit: line.unit,
    price: line.price,
    priceBase: line.priceBase,
    amount,
    baseAmount: toBase(amount, line.currency, line.rate, base),
    needBy: line.needBy,
    addressId: line.addressId,
    proof: usualProof('goods'),
    details: {},
    incoterm: null,
    incotermPlace: '',
    overReceiptPercent: line.overReceiptPercent,
    splits: [{ accountId: line.accountId, share: '1' }],
  }
}
