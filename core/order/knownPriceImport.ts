import { Decimal } from '#core/money/decimal.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { EventLine } from '#core/source/event.ts'
import type { KnownPrice } from '#core/order/knownPrices.ts'

/** What a list of prices can say, with the headings under which it is found. */
const HEADINGS = [
  ['supplier', ['supplier', 'supplier number', 'vendor', 'bidder', 'lieferant']],
  ['line', ['line', 'position', 'pos', 'item', 'item number', 'description', 'artikel', 'bezeichnung']],
  ['price', ['price', 'unit price', 'preis']],
  ['currency', ['currency', 'währung']],
  ['per', ['per', 'price for', 'price base', 'je']],
  ['from', ['from', 'from quantity', 'ab', 'ab menge']],
  ['capacity', ['capacity', 'at most', 'available', 'höchstens']],
  ['minimum', ['minimum', 'at least', 'moq', 'mindestens']],
  ['multiple', ['multiple', 'in multiples of', 'vielfaches']],
  ['days', ['days', 'lead time', 'days to deliver', 'lieferzeit']],
] as const
type Field = (typeof HEADINGS)[number][0]

/** The columns of a list of prices by their headings, in whatever case. */
export function priceColumns(headings: readonly string[]): ReadonlyMap<Field, number> {
  const written = headings.map(text => text.trim().toLowerCase().replace(/[\s_-]+/g, ' ')) // prettier-ignore
  return new Map(
    HEADINGS.flatMap(([field, names]) => {
      const at = written.findIndex(text => names.some(name => name === text))
      return at < 0 ? [] : [[field, at] as const]
    }),
  )
}

/** What stands against a list by its headings: without supplier, line and price it says nothing. */
export const whyNotPriceList = (columns: ReadonlyMap<Field, number>): Reason[] =>
  (['supplier', 'line', 'price'] as const).some(field => !columns.has(field)) ? [stop('known.headings')] : []

/** How suppliers and items are found by what a list calls them: in small letters. */
export interface KnownNames {
  readonly suppliers: ReadonlyMap<string, string>
  readonly items: ReadonlyMap<string, string>
  readonly currency: string
  readonly currencies: ReadonlySet<string>
}

type Row = Omit<KnownPrice, 'tiers' | 'validUntil'> & { readonly from: string }

/**
 * Reads a list of prices: a row for each supplier and line; further rows with a quantity from which another price holds make its tiers. Lines are named by
 * their position, the number of their item or their description. Figures take a decimal comma or point and are never guessed.
 *
 * @param first the number of the first row, for what is said of it
 */
export function readPrices(
  rows: readonly (readonly string[])[],
  columns: ReadonlyMap<Field, number>,
  lines: readonly EventLine[],
  names: KnownNames,
  first = 2,
): { readonly prices: readonly KnownPrice[]; readonly faults: readonly Reason[] } {
  const read = rows.map((row, index) => readRow(row, columns, lines, names, first + index))
  const good = read.flatMap(one => ('row' in one ? [one.row] : []))
  const keys = [...new Set(good.map(keyOf))]
  return {
    prices: keys.map(key => joined(good.filter(one => keyOf(one) === key))),
    faults: read.flatMap(one => ('faults' in one ? one.faults : [])),
  }
}

const keyOf = ({ supplierId, lineId }: Row): string => `${supplierId} ${lineId}`

/** Rows of one supplier and line: what is not said of a tier is as in the lowest. */
function joined(rows: readonly Row[]): KnownPrice {
  const [{ from: _from, ...lowest }, ...tiers] = [...rows].sort((one, other) => new Decimal(one.from).comparedTo(other.from)) as [Row, ...Row[]] // prettier-ignore
  return { ...lowest, validUntil: '', tiers: tiers.map(({ from, price }) => ({ from, price })) }
}

function readRow(
  row: readonly string[],
  columns: ReadonlyMap<Field, number>,
  lines: readonly EventLine[],
  names: KnownNames,
  number: number,
): { readonly row: Row } | { readonly faults: readonly Reason[] } {
  const cell = (field: Field): string => {
    const at = columns.get(field)
    return at === undefined ? '' : (row[at] ?? '').trim()
  }
  const faults: Reason[] = []
  const figure = (field: Field, empty: string, least: 'aboveNothing' | 'nothing' = 'aboveNothing'): string => {
    const text = cell(field)
    if (text === '') return empty
    const read = readTypedNumber(text)
    const value = read.ok ? new Decimal(read.value) : null
    if (value === null || value.lt(0) || (least === 'aboveNothing' && value.isZero()))
      faults.push(stop('known.figure', { row: number, field, text: text.slice(0, 20) }))
    return value?.toString() ?? empty
  }
  const supplierId = names.suppliers.get(cell('supplier').toLowerCase())
  const lineId = lineOf(cell('line'), lines, names)
  const currency = cell('currency').toUpperCase() || names.currency
  if (supplierId === undefined) faults.push(stop('known.supplier', { row: number, supplier: cell('supplier').slice(0, 60) })) // prettier-ignore
  if (lineId === undefined) faults.push(stop('known.line', { row: number, line: cell('line').slice(0, 60) }))
  if (!names.currencies.has(currency)) faults.push(stop('known.currency', { row: number, currency: currency.slice(0, 10) })) // prettier-ignore
  if (cell('price') === '') faults.push(stop('known.figure', { row: number, field: 'price', text: '' }))
  const days = figure('days', '', 'nothing')
  if (days !== '' && !/^\d{1,4}$/.test(days)) faults.push(stop('known.figure', { row: number, field: 'days', text: days })) // prettier-ignore
  const read = {
    price: figure('price', ''),
    priceBase: figure('per', '1'),
    from: figure('from', '0', 'nothing'),
    capacity: figure('capacity', ''),
    minimum: figure('minimum', ''),
    multiple: figure('multiple', ''),
  }
  if (faults.length > 0) return { faults }
  return { row: { supplierId: supplierId!, lineId: lineId!, currency, leadDays: days === '' ? null : Number(days), ...read } } // prettier-ignore
}

/** The line that a cell names; two that are called alike are none. */
function lineOf(text: string, lines: readonly EventLine[], names: KnownNames): string | undefined {
  const wanted = text.toLowerCase()
  const byPosition = lines.find(line => String(line.position) === text)
  if (byPosition) return byPosition.id
  const itemId = names.items.get(wanted)
  const called = lines.filter(line => (itemId !== undefined && line.itemId === itemId) || line.description.toLowerCase() === wanted) // prettier-ignore
  return called.length === 1 ? called[0]!.id : undefined
}
