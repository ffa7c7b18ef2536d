import { readTypedNumber } from '#core/money/entry.ts'
import { currencies } from '#core/money/currency.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { type PriceTier, tierAt } from '#core/request/offer.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { converts, type PackConversion, unitLabel, UNITS } from '#core/units/units.ts'
import { isDay } from '#core/calendar/days.ts'
import { INCOTERMS } from '#core/source/defaults.ts'
import { isGtin } from '#core/text/gs1.ts'

export interface ImportedItem {
  readonly number: string
  readonly name: string
  readonly description: string
  readonly category: string
  readonly unit: string
  readonly gtin: string
  /** '' where the row is an item without an offer. */
  readonly supplierName: string
  readonly supplierItemNumber: string
  /** The unit that the offer's price and quantities are in. */
  readonly soldIn: string
  readonly currency: string
  readonly priceBase: string
  readonly minimum: string
  readonly multiple: string
  readonly leadTimeDays: number
  readonly tiers: readonly PriceTier[]
  readonly validTo: string | null
  readonly agreement: string
  readonly incoterm: string | null
  readonly incotermPlace: string
  readonly countries: readonly string[]
  /** Carriage of one delivery beside the price, in the offer's currency. */
  readonly freight: string | null
  /** What the supplier has lying there, in the unit it is sold in; null where that is not known. */
  readonly inStock: string | null
  readonly maker: string
  readonly makerNumber: string
  readonly alsoCalled: string
  readonly packs: readonly PackConversion[]
  readonly stocked: boolean
  readonly certified: boolean
  readonly discontinuedOn: string | null
  /** The number of the item that takes its place. */
  readonly replacedBy: string
}

export const ITEM_COLUMNS = [
  'number',
  'name',
  'description',
  'category',
  'unit',
  'gtin',
  'supplier',
  'supplier_item',
  'sold_in',
  'currency',
  'price',
  'price_base',
  'minimum',
  'multiple',
  'lead_time_days',
  'tiers',
  'valid_to',
  'agreement',
  'incoterm',
  'incoterm_place',
  'countries',
  'freight',
  'in_stock',
  'maker',
  'maker_number',
  'also_called',
  'packs',
  'stocked',
  'certified',
  'discontinued_on',
  'replaced_by',
] as const

/**
 * One row of an item file with its offer, or without one where neither supplier nor price is given. `price` takes decimal comma or point;
 * `tiers` is written `from=price` parted by `|`
 * (`100=4.20|500=3.95`) beside the first price, `packs` as `unit=holds` (`BX=12`), countries parted by spaces; `stocked` and `certified` are yes or no.
 */
export function readItemRow(
  row: Readonly<Record<string, string>>,
  number: number,
): { item?: ImportedItem; reasons: Reason[] } {
  const reasons: Reason[] = []
  const at = (column: string): { place: string } => ({ place: `rows.${number}.${column}` })
  // an apostrophe before a sign keeps spreadsheets from computing: it is not part of the text
  const text = (column: string): string => (row[column] ?? '').trim().replace(/^'(?=[+-])/, '')
  const figure = (column: string, fallback: string, zero = false): string => {
    const read = text(column) === '' ? { ok: true as const, value: fallback } : readTypedNumber(text(column))
    if (
      read.ok &&
      isDecimalText(read.value) &&
      (new Decimal(read.value).gt(0) || (zero && new Decimal(read.value).isZero()))
    )
      return read.value
    const ambiguous = !read.ok && read.ambiguous ? read.ambiguous.join(' / ') : ''
    reasons.push(
      ambiguous
        ? stop('import.ambiguousNumber', { column, value: text(column), readings: ambiguous }, at(column))
        : stop('import.number', { column, value: text(column).slice(0, 20) }, at(column)),
    )
    return fallback
  }
  const offered = text('supplier') !== '' || text('price') !== ''
  for (const column of ['number', 'name', 'category', ...(offered ? ['supplier', 'price'] : [])])
    if (text(column) === '') reasons.push(stop('import.missing', { column }, at(column)))
  for (const [column, value] of Object.entries(row))
    if (/^\s*[=@]/.test(value))
      reasons.push(stop('import.formula', { column, value: value.trim().slice(0, 30) }, at(column)))
  const unit = text('unit').toUpperCase() || 'C62'
  if (!(unit in UNITS)) reasons.push(stop('line.unit', { unit }, at('unit')))
  const soldIn = text('sold_in').toUpperCase() || unit
  const packs = readPacks(text('packs'), number, reasons)
  if (!(soldIn in UNITS)) reasons.push(stop('line.unit', { unit: soldIn }, at('sold_in')))
  else if (!converts(soldIn, unit, packs))
    reasons.push(stop('offer.unitOfItem', { unit: unitLabel(soldIn) }, at('sold_in')))
  const currency = text('currency').toUpperCase() || 'EUR'
  if (!currencies.includes(currency)) reasons.push(stop('money.unknownCurrency', { currency }, at('currency')))
  if (!/^\d{0,3}$/.test(text('lead_time_days')))
    reasons.push(
      stop(
        'import.number',
        { column: 'lead_time_days', value: text('lead_time_days').slice(0, 20) },
        at('lead_time_days'),
      ),
    )
  const incoterm = text('incoterm').toUpperCase()
  if (incoterm !== '' && !(INCOTERMS as readonly string[]).includes(incoterm))
    reasons.push(stop('term.unknown', { incoterm }, at('incoterm')))
  if (
    /[^A-Z\s,]/.test(text('countries').toUpperCase()) ||
    text('countries')
      .split(/[\s,]+/)
      .some(code => code.length !== 2 && code !== '')
  )
    reasons.push(stop('import.countries', { value: text('countries').slice(0, 40) }, at('countries')))
  if (text('gtin') !== '' && !isGtin(text('gtin')))
    reasons.push(stop('import.gtin', { value: text('gtin').slice(0, 20) }, at('gtin')))
  const dayOf = (column: string): string | null => {
    if (text(column) === '') return null
    if (!isDay(text(column))) reasons.push(stop('import.day', { column, value: text(column).slice(0, 20) }, at(column)))
    return text(column)
  }
  const price = text('price') === '' ? '1' : figure('price', '1')
  const minimum = figure('minimum', '1')
  const item: ImportedItem = {
    number: text('number'),
    name: text('name'),
    description: text('description'),
    category: text('category'),
    unit,
    gtin: text('gtin'),
    supplierName: text('supplier'),
    supplierItemNumber: text('supplier_item'),
    soldIn,
    currency,
    priceBase: figure('price_base', '1'),
    minimum,
    multiple: figure('multiple', '1'),
    leadTimeDays: Number(text('lead_time_days') || '5'),
    tiers: [{ from: minimum, price }, ...readTiers(text('tiers'), number, reasons)],
    validTo: dayOf('valid_to'),
    agreement: text('agreement'),
    incoterm: incoterm === '' ? null : incoterm,
    incotermPlace: text('incoterm_place'),
    countries: text('countries')
      .toUpperCase()
      .split(/[\s,]+/)
      .filter(Boolean),
    freight: text('freight') === '' ? null : figure('freight', '0', true),
    inStock: text('in_stock') === '' ? null : figure('in_stock', '0', true),
    maker: text('maker'),
    makerNumber: text('maker_number'),
    alsoCalled: text('also_called'),
    packs,
    stocked: /^(yes|true|1)$/i.test(text('stocked')),
    certified: /^(yes|true|1)$/i.test(text('certified')),
    discontinuedOn: dayOf('discontinued_on'),
    replacedBy: text('replaced_by'),
  }
  return reasons.length > 0 ? { reasons } : { item, reasons }
}

function readPacks(text: string, number: number, reasons: Reason[]): PackConversion[] {
  return text
    .split('|')
    .filter(part => part.trim() !== '')
    .flatMap(part => {
      const [unit = '', holds = ''] = part.split('=').map(side => side.trim())
      if (unit.toUpperCase() in UNITS && isDecimalText(holds) && new Decimal(holds).gt(0))
        return [{ unit: unit.toUpperCase(), holds }]
      reasons.push(stop('import.pack', { value: part.slice(0, 30) }, { place: `rows.${number}.packs` }))
      return []
    })
}

function readTiers(text: string, number: number, reasons: Reason[]): PriceTier[] {
  return text
    .split('|')
    .filter(part => part.trim() !== '')
    .flatMap(part => {
      const [from = '', price = ''] = part.split('=').map(side => side.trim())
      if (isDecimalText(from) && isDecimalText(price) && new Decimal(from).gt(0) && new Decimal(price).gt(0))
        return [{ from, price }]
      reasons.push(stop('import.tier', { value: part.slice(0, 30) }, { place: `rows.${number}.tiers` }))
      return []
    })
}

/**
 * An item with one of its offers as the row that reading gives it back from. Figures have a decimal point. Prices of quantities below the
 * smallest one are left out: nobody can order at them.
 */
export function writeItemRow(item: ImportedItem): Record<(typeof ITEM_COLUMNS)[number], string> {
  const offered = item.supplierName !== ''
  const only = (text: string): string => (offered ? text : '')
  const others = item.tiers.filter(tier => new Decimal(tier.from).gt(item.minimum))
  return {
    number: item.number,
    name: item.name,
    description: item.description,
    category: item.category,
    unit: item.unit,
    gtin: item.gtin,
    supplier: item.supplierName,
    supplier_item: only(item.supplierItemNumber),
    sold_in: only(item.soldIn),
    currency: only(item.currency),
    price: offered ? tierAt(item.tiers, item.minimum).price : '',
    price_base: only(item.priceBase),
    minimum: only(item.minimum),
    multiple: only(item.multiple),
    lead_time_days: only(String(item.leadTimeDays)),
    tiers: only(others.map(tier => `${tier.from}=${tier.price}`).join('|')),
    valid_to: only(item.validTo ?? ''),
    agreement: only(item.agreement),
    incoterm: only(item.incoterm ?? ''),
    incoterm_place: only(item.incotermPlace),
    countries: only(item.countries.join(' ')),
    freight: only(item.freight ?? ''),
    in_stock: only(item.inStock ?? ''),
    maker: item.maker,
    maker_number: item.makerNumber,
    also_called: item.alsoCalled,
    packs: item.packs.map(pack => `${pack.unit}=${pack.holds}`).join('|'),
    stocked: item.stocked ? 'yes' : 'no',
    certified: item.certified ? 'yes' : 'no',
    discontinued_on: item.discontinuedOn ?? '',
    replaced_by: item.replacedBy,
  }
}
