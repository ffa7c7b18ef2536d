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

/** What a row of a file can say of goods that are bought. */
export const GOODS_COLUMNS = [
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
] as const

/** Goods that are bought as a row says them; names and codes are still to be looked up. */
export interface GoodsRow {
  readonly supplier: string
  readonly currency: string
  readonly item: string
  readonly description: string
  readonly quantity: string
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

/** How one row is read: texts without blanks around them, figures and days, and what was wrong with them. */
export interface RowReader {
  readonly reasons: Reason[]
  readonly text: (column: string) => string
  readonly fault: (code: string, column: string, details?: Record<string, string>) => void
  readonly day: (column: string) => string | null
  /** At least 0, or above it. */
  readonly figure: (column: string, fallback: string, least: 0 | 1) => string
}

/** Figures take decimal comma or point; one that could be read two ways is a fault, never a guess. Places of faults are `rows.<number>.<column>`. */
export function rowReader(row: Readonly<Record<string, string>>, number: number): RowReader {
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
  return { reasons, text, fault, day, figure }
}

/** The goods of a row; `needed` may not be empty. */
export function readGoods({ text, fault, day, figure }: RowReader, base: string, needed: readonly string[]): GoodsRow {
  for (const column of needed) if (text(column) === '') fault('import.missing', column)
  const currency = text('currency').toUpperCase() || base
  if (!currencies.includes(currency)) fault('money.unknownCurrency', 'currency', { currency })
  const unit = text('unit').toUpperCase() || 'C62'
  if (!(unit in UNITS) || unit === 'M4') fault('line.unit', 'unit', { unit })
  return {
    supplier: text('supplier'),
    currency,
    item: text('item'),
    description: text('description'),
    quantity: figure('quantity', '1', 1),
    unit,
    price: figure('price', '1', 0),
    priceBase: figure('price_base', '1', 1),
    needBy: day('need_by'),
    costCentre: text('cost_centre').toUpperCase(),
    account: text('account').toUpperCase(),
    project: text('project').toUpperCase() || null,
    place: text('place'),
  }
}

/** Goods whose supplier, item, account, place and rate are known. */
export interface PlacedGoods extends GoodsRow {
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

/** The draft order of some goods of one supplier in one currency, each line in the order of its row. */
export function goodsOrder(goods: readonly PlacedGoods[], base: string, before = ''): NewOrder {
  const first = goods[0]!
  const lines = goods.map(one => goodsLine(one, base))
  return {
    title: `${before}${first.description}${goods.length > 1 ? ` and ${goods.length - 1} more` : ''}`.slice(0, 200),
    supplierId: first.supplierId,
    supplierName: first.supplierName,
    currency: first.currency,
    rate: first.rate,
    agreement: '',
    addressId: first.addressId,
    needBy: earliestNeed(lines),
    total: sumMinor(lines.map(line => line.amount)),
    baseTotal: sumMinor(lines.map(line => line.baseAmount)),
    lines,
    from: [],
  }
}

/** The line of an order that buys them; amounts are at the rate of the day, rounded once. */
function goodsLine(goods: PlacedGoods, base: string): NewOrderLine {
  const amount = lineAmount(goods)
  return {
    requisitionLineId: null,
    kind: 'goods',
    itemId: goods.itemId,
    description: goods.description,
    quantity: goods.quantity,
    unit: goods.unit,
    price: goods.price,
    priceBase: goods.priceBase,
    amount,
    baseAmount: toBase(amount, goods.currency, goods.rate, base),
    needBy: goods.needBy,
    addressId: goods.addressId,
    proof: usualProof('goods'),
    details: {},
    incoterm: null,
    incotermPlace: '',
    overReceiptPercent: goods.overReceiptPercent,
    splits: [{ accountId: goods.accountId, share: '1' }],
  }
}
