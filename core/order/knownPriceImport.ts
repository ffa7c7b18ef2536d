import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
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
  const lineOf = lineFinder(lines, names)
  const offers = new Map<string, Row[]>()
  const faults: Reason[] = []
  for (const [index, cells] of rows.entries()) {
    const read = readRow(cells, columns, lineOf, names, first + index)
    if ('faults' in read) {
      faults.push(...read.faults)
      continue
    }
    const key = `${read.row.supplierId} ${read.row.lineId}`
    const before = offers.get(key) ?? []
    faults.push(...againstTier(before, read.row, first + index))
    offers.set(key, [...before, read.row])
  }
  return { prices: [...offers.values()].map(joined), faults }
}

/** What stands against a row beside others of its supplier and line: two prices from one quantity on, or tiers that are not in one currency and for as many units. */
const againstTier = (before: readonly Row[], row: Row, number: number): Reason[] => [
  ...(before.some(one => one.from === row.from) ? [stop('known.twice', { row: number, from: row.from })] : []),
  ...(before.some(one => one.currency !== row.currency || one.priceBase !== row.priceBase)
    ? [stop('known.tierUnlike', { row: number })]
    : []),
]

/**
 * Rows of one supplier and line: what is not said of a tier is as in the lowest. Where that one begins above nothing, less is not sold.
 */
function joined(rows: readonly Row[]): KnownPrice {
  const [{ from: begins, ...lowest }, ...tiers] = [...rows].sort((one, other) => new Decimal(one.from).comparedTo(other.from)) as [Row, ...Row[]] // prettier-ignore
  const least = Decimal.max(begins, lowest.minimum || 0)
  return {
    ...lowest,
    minimum: least.isZero() ? '' : least.toString(),
    validUntil: '',
    tiers: tiers.map(({ from, price }) => ({ from, price })),
  }
}

function readRow(
  row: readonly string[],
  columns: ReadonlyMap<Field, number>,
  lineOf: (text: string) => string | undefined,
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
    const value = read.ok && isHeldDecimal(read.value) ? new Decimal(read.value) : null
    if (value === null || value.lt(0) || (least === 'aboveNothing' && value.isZero()))
      faults.push(stop('known.figure', { row: number, field, text: text.slice(0, 20) }))
    return value?.toString() ?? empty
  }
  const supplierId = names.suppliers.get(cell('supplier').toLowerCase())
  const lineId = lineOf(cell('line'))
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

/** Finds the line that a cell names: by position, else by the number of its item or its description; two that are called alike are none. */
function lineFinder(lines: readonly EventLine[], names: KnownNames): (text: string) => string | undefined {
  const positions = new Map(lines.map(line => [String(line.position), line.id]))
  const numbers = new Map([...names.items].map(([number, id]) => [id, number]))
  const called = new Map<string, Set<string>>()
  for (const line of lines)
    for (const name of [line.description.toLowerCase(), numbers.get(line.itemId ?? '')])
      if (name !== undefined) called.set(name, (called.get(name) ?? new Set()).add(line.id))
  return text => {
    const [only, ...others] = called.get(text.toLowerCase()) ?? []
    return positions.get(text) ?? (others.length === 0 ? only : undefined)
  }
}
