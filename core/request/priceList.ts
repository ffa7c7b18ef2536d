import { currencies } from '#core/money/currency.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { tierFaults } from '#core/request/itemEntry.ts'
import { isAgreed, type PriceTier } from '#core/request/offer.ts'
import { changedTiers, percentBetween, type PriceChange, unitPrice } from '#core/request/prices.ts'
import { UNITS } from '#core/units/units.ts'

/** Columns of a supplier's price list. */
export const PRICE_COLUMNS = [
  'supplier_item',
  'item',
  'gtin',
  'name',
  'price',
  'price_base',
  'currency',
  'unit',
  'tiers',
] as const

/** One row of a supplier's price list, as it was read. */
export interface PriceRow {
  readonly row: number
  readonly supplierItem: string
  /** Our number, where the supplier knows it. */
  readonly item: string
  readonly gtin: string
  readonly name: string
  /** Empty: the offer's. */
  readonly currency: string
  /** Empty: the offer's. */
  readonly unit: string
  readonly priceBase: string
  /** The first holds from the offer's minimum on: its `from` is empty. */
  readonly tiers: readonly PriceTier[]
}

/**
 * Reads one row of a price list. Figures take a decimal comma or point and are never guessed; `tiers` is written `from=price` parted by `|`
 * beside the first price.
 *
 * readPriceRow({ supplier_item: 'NO-12', price: '4,20' }, 2) //=> { row: { row: 2, supplierItem: 'NO-12', tiers: [{ from: '', price: '4.20' }], … } }
 */
export function readPriceRow(
  texts: Readonly<Record<string, string>>,
  row: number,
): { row?: PriceRow; reasons: Reason[] } {
  const reasons: Reason[] = []
  const text = (column: string): string => (texts[column] ?? '').trim()
  const at = (column: string): { place: string } => ({ place: `rows.${row}.${column}` })
  const figure = (column: string, value: string): string => {
    const read = readTypedNumber(value)
    if (read.ok && isHeldDecimal(read.value) && new Decimal(read.value).gt(0)) return read.value
    reasons.push(
      !read.ok && read.ambiguous
        ? stop('import.ambiguousNumber', { column, value, readings: read.ambiguous.join(' / ') }, at(column))
        : stop('import.number', { column, value: value.slice(0, 20) }, at(column)),
    )
    return '1'
  }
  if (['supplier_item', 'item', 'gtin'].every(column => text(column) === ''))
    reasons.push(stop('import.missing', { column: 'supplier_item' }, at('supplier_item')))
  if (text('price') === '') reasons.push(stop('import.missing', { column: 'price' }, at('price')))
  const price = text('price') === '' ? '1' : figure('price', text('price'))
  const priceBase = text('price_base') === '' ? '1' : figure('price_base', text('price_base'))
  const currency = text('currency').toUpperCase()
  if (currency !== '' && !(currencies as readonly string[]).includes(currency))
    reasons.push(stop('money.unknownCurrency', { currency }, at('currency')))
  const unit = text('unit').toUpperCase()
  if (unit !== '' && !(unit in UNITS)) reasons.push(stop('line.unit', { unit }, at('unit')))
  const more = text('tiers')
    .split('|')
    .filter(part => part.trim() !== '')
    .map(part => {
      const [from = '', each = ''] = part.split('=').map(side => side.trim())
      return { from: figure('tiers', from), price: figure('tiers', each) }
    })
  if (reasons.length === 0 && more.length > 0)
    reasons.push(...tierFaults(more).map(fault => ({ ...fault, ...at('tiers') })))
  if (reasons.length > 0) return { reasons }
  return {
    reasons,
    row: {
      row,
      supplierItem: text('supplier_item'),
      item: text('item'),
      gtin: text('gtin'),
      name: text('name'),
      currency,
      unit,
      priceBase,
      tiers: [{ from: '', price }, ...more],
    },
  }
}

/** An offer of the supplier, as far as a price list speaks about it. */
export interface ListedOffer {
  readonly id: string
  readonly number: string
  readonly name: string
  readonly supplierItem: string
  readonly gtin: string
  readonly currency: string
  readonly unit: string
  readonly minimum: string
  readonly priceBase: string
  readonly tiers: readonly PriceTier[]
  /** The agreement whose prices they are; empty where there is none. */
  readonly agreement: string
  /** The line of the agreement in force that it is made of. */
  readonly agreementLineId: string | null
}

export type DifferenceKind = 'dearer' | 'cheaper' | 'tiers' | 'same' | 'missing' | 'unknown' | 'agreed'
/** Whether a difference becomes a price: not of what stays, and not of what is agreed, which changes by an amendment. */
export const isTaken = ({ kind }: Pick<Difference, 'kind'>): boolean =>
  kind === 'dearer' || kind === 'cheaper' || kind === 'tiers'

/** What a price list says about one offer, or about something that we do not have. */
export interface Difference {
  readonly kind: DifferenceKind
  /** Row of the list; null for an offer that the list lacks. */
  readonly row: number | null
  readonly offerId: string | null
  readonly number: string
  readonly name: string
  readonly supplierItem: string
  readonly unit: string
  readonly currency: string
  readonly agreement: string
  readonly before: { readonly priceBase: string; readonly tiers: readonly PriceTier[] } | null
  readonly after: { readonly priceBase: string; readonly tiers: readonly PriceTier[] } | null
  /** Percent by which the first price of one unit changes, one digit. */
  readonly percent: string | null
}

/**
 * Holds a price list against the supplier's offers. A row is told by the supplier's number, else by ours, else by GTIN; of two offers it means
 * the one that is not made of an agreement. Refused are rows about an offer that another row was about, in another currency or another unit than the offer's: prices are never converted silently.
 */
export function comparePriceList(
  offers: readonly ListedOffer[],
  rows: readonly PriceRow[],
): { differences: Difference[]; faults: { row: number; reasons: Reason[] }[] } {
  const faults: { row: number; reasons: Reason[] }[] = []
  const differences: Difference[] = []
  const seen = new Map<string, number>()
  const find = finder(offers)
  for (const row of rows) {
    const found = find(row)
    const key = found ? found.id : `${row.supplierItem} ${row.item} ${row.gtin}`.toLowerCase()
    const reasons = found ? faultsOf(found, row) : []
    if (seen.has(key))
      reasons.push(stop('import.twice', { row: seen.get(key)! }, { place: `rows.${row.row}.supplier_item` }))
    else seen.set(key, row.row)
    if (reasons.length > 0) faults.push({ row: row.row, reasons })
    else
      differences.push(
        found ? differenceOf(found, { priceBase: row.priceBase, tiers: tiersOf(found, row) }, row.row) : unknown(row),
      )
  }
  for (const offer of offers)
    if (!seen.has(offer.id) && !isAgreed(offer))
      differences.push({
        ...named(offer),
        kind: 'missing',
        row: null,
        before: pricesOf(offer),
        after: null,
        percent: null,
      })
  return { differences, faults }
}

function finder(offers: readonly ListedOffer[]): (row: PriceRow) => ListedOffer | undefined {
  // the last of a key counts: that is the first of our offers, and an agreed one only where there is no other
  const first = [...offers].reverse().sort((a, b) => Number(isAgreed(b)) - Number(isAgreed(a)))
  const by = (key: (offer: ListedOffer) => string): Map<string, ListedOffer> =>
    new Map(first.flatMap(offer => (key(offer) === '' ? [] : [[key(offer).toLowerCase(), offer] as const])))
  const numbers = by(offer => offer.supplierItem)
  const ours = by(offer => offer.number)
  const codes = by(offer => offer.gtin)
  return row =>
    numbers.get(row.supplierItem.toLowerCase()) ?? ours.get(row.item.toLowerCase()) ?? codes.get(row.gtin.toLowerCase())
}

function faultsOf(offer: ListedOffer, row: PriceRow): Reason[] {
  const reasons: Reason[] = []
  const at = (column: string): { place: string } => ({ place: `rows.${row.row}.${column}` })
  if (row.currency !== '' && row.currency !== offer.currency)
    reasons.push(stop('priceList.currency', { currency: row.currency, ours: offer.currency }, at('currency')))
  if (row.unit !== '' && row.unit !== offer.unit)
    reasons.push(
      stop(
        'priceList.unit',
        { unit: UNITS[row.unit]!.label, ours: UNITS[offer.unit]?.label ?? offer.unit },
        at('unit'),
      ),
    )
  reasons.push(...tierFaults(tiersOf(offer, row)).map(fault => ({ ...fault, ...at('tiers') })))
  return reasons
}

const tiersOf = (offer: ListedOffer, row: PriceRow): PriceTier[] =>
  row.tiers.map((tier, index) => (index === 0 ? { from: offer.minimum, price: tier.price } : tier))
const named = ({ id, number, name, supplierItem, unit, currency, agreement }: ListedOffer) => ({
  offerId: id,
  number,
  name,
  supplierItem,
  unit,
  currency,
  agreement,
})
const pricesOf = ({ priceBase, tiers }: ListedOffer) => ({ priceBase, tiers })

/** What a change of all prices makes of each offer. */
export const changeOffers = (offers: readonly ListedOffer[], change: PriceChange): Difference[] =>
  offers.map(offer => {
    const { priceBase, tiers } = offer
    return differenceOf(offer, { priceBase, tiers: changedTiers(tiers, change) }, null)
  })

type Prices = Pick<ListedOffer, 'priceBase' | 'tiers'>
function differenceOf(offer: ListedOffer, after: Prices, row: number | null): Difference {
  const [old, now] = [unitPrice(offer), unitPrice(after)]
  const tiers = (one: Prices): string =>
    one.tiers
      .map(tier => `${new Decimal(tier.from).toFixed()}=${new Decimal(tier.price).div(one.priceBase).toFixed()}`)
      .join('|')
  const kind = isAgreed(offer)
    ? 'agreed'
    : now.gt(old)
      ? 'dearer'
      : now.lt(old)
        ? 'cheaper'
        : tiers(offer) === tiers(after)
          ? 'same'
          : 'tiers'
  return { ...named(offer), kind, row, before: pricesOf(offer), after, percent: percentBetween(old, now) }
}

const unknown = (row: PriceRow): Difference => ({
  kind: 'unknown',
  row: row.row,
  offerId: null,
  number: row.item,
  name: row.name,
  supplierItem: row.supplierItem || row.gtin,
  unit: row.unit,
  currency: row.currency,
  agreement: '',
  before: null,
  after: { priceBase: row.priceBase, tiers: row.tiers },
  percent: null,
})

const JUMP = 25
/** Whether a price changes so much, up or down, that a slip is likelier than a wish: by a quarter or more. */
export const isJump = (percent: string): boolean => new Decimal(percent).abs().gte(JUMP)
