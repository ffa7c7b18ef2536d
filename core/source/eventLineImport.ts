import { isDay } from '#core/calendar/days.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { UNIT_CODES, UNITS } from '#core/units/units.ts'

/** What a list of lines can say, with the headings under which it is found. */
const HEADINGS = [
  ['description', ['description', 'line', 'item', 'what', 'name', 'text', 'bezeichnung', 'beschreibung']],
  ['quantity', ['quantity', 'qty', 'amount', 'pieces', 'menge', 'anzahl']],
  ['unit', ['unit', 'uom', 'einheit']],
  ['needBy', ['need by', 'needed by', 'date', 'delivery', 'termin', 'lieferdatum']],
  ['reference', ['reference', 'estimate', 'last price', 'price', 'preis']],
  ['category', ['category', 'kategorie']],
  ['item', ['item number', 'article', 'our item', 'artikel']],
] as const
type Field = (typeof HEADINGS)[number][0]

export interface ImportedLine {
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly needBy: string | null
  readonly reference: string
  readonly category: string
  /** Number of an item of the catalogue; empty where none is named. */
  readonly item: string
}

/** The columns of a list by their headings, in whatever case; without a heading for what and how many there is no list. */
export function eventColumns(headings: readonly string[]): ReadonlyMap<Field, number> {
  const written = headings.map(text => text.trim().toLowerCase().replace(/[\s_-]+/g, ' ')) // prettier-ignore
  return new Map(
    HEADINGS.flatMap(([field, names]) => {
      const at = written.findIndex(text => names.some(name => name === text))
      return at < 0 ? [] : [[field, at] as const]
    }),
  )
}

/**
 * Reads one row of a list of lines. Figures take a decimal comma or point and are never guessed; units are codes of UN/ECE Recommendation 20 or what
 * people call them.
 */
export function readEventLine(
  row: readonly string[],
  columns: ReadonlyMap<Field, number>,
  number: number,
): { line: ImportedLine } | { reasons: Reason[] } {
  const cell = (field: Field): string => {
    const at = columns.get(field)
    return at === undefined ? '' : (row[at] ?? '').trim()
  }
  const quantity = figureIn(cell('quantity'), number, 'quantity')
  const reference = cell('reference') === '' ? '' : figureIn(cell('reference'), number, 'reference')
  const unit = unitIn(cell('unit'))
  const needBy = cell('needBy')
  const reasons = [
    ...(cell('description') === '' ? [stop('lines.noText', { row: number })] : []),
    ...(typeof quantity === 'string' ? [] : quantity),
    ...(typeof reference === 'string' ? [] : reference),
    ...(unit === null ? [stop('lines.unit', { row: number, unit: cell('unit').slice(0, 20) })] : []),
    ...(needBy === '' || isDay(needBy) ? [] : [stop('lines.day', { row: number, day: needBy.slice(0, 20) })]),
  ]
  if (reasons.length > 0) return { reasons }
  return {
    line: {
      description: cell('description').slice(0, 300),
      quantity: quantity as string,
      unit: unit!,
      needBy: needBy === '' ? null : needBy,
      reference: reference as string,
      category: cell('category'),
      item: cell('item'),
    },
  }
}

function figureIn(text: string, row: number, field: string): string | Reason[] {
  const read = readTypedNumber(text)
  if (!read.ok)
    return read.ambiguous
      ? [stop('lines.twoFigures', { row, field, one: read.ambiguous[0], other: read.ambiguous[1] })]
      : [stop('lines.figure', { row, field, text: text.slice(0, 20) })]
  return isHeldDecimal(read.value) && new Decimal(read.value).gt(0)
    ? read.value
    : [stop('lines.figure', { row, field, text: text.slice(0, 20) })]
}

/** The code of a unit by its code or name; pieces where nothing is said. */
function unitIn(text: string): string | null {
  if (text === '') return 'C62'
  const code = text.toUpperCase()
  if (UNIT_CODES.includes(code)) return code
  return UNIT_CODES.find(one => UNITS[one]!.label.toLowerCase() === text.toLowerCase()) ?? null
}
