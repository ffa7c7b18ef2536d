import { isDay } from '#core/calendar/days.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import {
  placeCode,
  type WORKBOOK_ACTS,
  WORKBOOK_FIELDS,
  type ReturnedRow,
  type WorkbookField,
  type WorkbookValues,
} from '#core/order/workbook.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { readDay } from '#core/request/quickDates.ts'

/** Above the column by which a row is told; it is hidden. */
export const KEY_HEADING = 'Key'
/** What stands above the columns that can be changed. */
export const WORKBOOK_HEADINGS: Readonly<Record<WorkbookField, string>> = {
  quantity: 'Quantity',
  needBy: 'Needed by',
  promised: 'Promised',
  place: 'Place',
  price: 'Unit price',
  buyer: 'Buyer',
  act: 'Do',
}
/** What can be chosen under “Do”. */
export const ACT_WORDS: Readonly<Record<(typeof WORKBOOK_ACTS)[number], string>> = {
  cancelLine: 'cancel the line',
  closeOrder: 'close the order',
  cancelOrder: 'cancel the order',
}

/** The key of a line in a workbook. */
export const rowKey = (workbookId: string, lineId: string): string => `${workbookId} ${lineId}`

/** The workbook that rows say they are of; several make none. */
export function workbookOf(grid: readonly (readonly string[])[]): string | null {
  const at = (grid[0] ?? []).findIndex(text => text.trim() === KEY_HEADING)
  if (at < 0) return null
  const ids = new Set(grid.slice(1).flatMap(row => (row[at] ?? '').split(' ')[0] || []))
  return ids.size === 1 ? [...ids][0]! : null
}

/**
 * The rows of a workbook that came back, whatever the order of its rows and columns. Rows that are not of it are refused, a row that stands twice is
 * refused twice unless both say the same; those that are missing are simply not changed.
 *
 * @throws RuleBroken workbook.noColumns where the columns cannot be told any more
 */
export function readReturned(
  grid: readonly (readonly string[])[],
  workbookId: string,
  { lineIds, ...lists }: { readonly lineIds: ReadonlySet<string> } & ReadingLists,
): ReturnedRow[] {
  const headings = (grid[0] ?? []).map(text => text.trim())
  const columns = new Map(WORKBOOK_FIELDS.map(field => [field, headings.indexOf(WORKBOOK_HEADINGS[field])]))
  const key = headings.indexOf(KEY_HEADING)
  if (key < 0 || [...columns.values()].some(at => at < 0))
    throw new RuleBroken(
      stop('workbook.noColumns', { columns: [KEY_HEADING, ...Object.values(WORKBOOK_HEADINGS)].join(', ') }),
    )
  const rows = grid.slice(1).flatMap((cells, index): ReturnedRow[] => {
    if (cells.every(text => text.trim() === '')) return []
    const [workbook, lineId] = (cells[key] ?? '').split(' ')
    const row = index + 2
    const typed = (field: WorkbookField): string => (cells[columns.get(field)!] ?? '').trim()
    const { values, reasons } = readValues(typed, lists, row)
    if (!lineId)
      return [{ row, lineId: null, values, reasons: [stop('workbook.noKey', { row }, { place: `rows.${row}` })] }]
    const foreign = workbook !== workbookId || !lineIds.has(lineId)
    return [
      {
        row,
        lineId,
        values,
        reasons: foreign ? [stop('workbook.foreignRow', { row }, { place: `rows.${row}` })] : reasons,
      },
    ]
  })
  return withoutTwice(rows)
}

/** What can be chosen: people who buy, by name, and places by code and name. */
export interface ReadingLists {
  readonly buyers: readonly string[]
  readonly places: readonly string[]
  readonly today: string
}

function readValues(
  typed: (field: WorkbookField) => string,
  { buyers, places, today }: ReadingLists,
  row: number,
): { values: WorkbookValues; reasons: Reason[] } {
  const reasons: Reason[] = []
  const fault = (code: string, field: WorkbookField, details: Record<string, string> = {}): string => {
    reasons.push(stop(code, { value: typed(field).slice(0, 40), ...details }, { place: `rows.${row}.${field}` }))
    return typed(field)
  }
  const figure = (field: 'quantity' | 'price'): string => {
    const read = readTypedNumber(typed(field))
    if (!read.ok) return read.ambiguous ? fault('import.ambiguousNumber', field, { column: WORKBOOK_HEADINGS[field], readings: read.ambiguous.join(' / ') }) : fault('workbook.figure', field) // prettier-ignore
    return isDecimalText(read.value) && new Decimal(read.value).gte(0) ? read.value : fault('workbook.figure', field)
  }
  const date = (field: 'needBy' | 'promised'): string => {
    const text = typed(field)
    if (text === '' || isDay(text)) return text
    const read = readDay(text, today)
    if (!read || read.length < text.length || read.days.length === 0) return fault('workbook.day', field)
    return read.days.length === 1
      ? read.days[0]!
      : fault('workbook.dayTwice', field, { readings: read.days.join(' / ') })
  }
  const act = Object.entries(ACT_WORDS).find(([code, words]) => [code, words].includes(typed('act').toLowerCase()))?.[0]
  const buyer = buyers.filter(name => name.toLowerCase() === typed('buyer').toLowerCase())
  const place = places.find(one => placeCode(one) === placeCode(typed('place')))
  return {
    values: {
      quantity: figure('quantity'),
      needBy: date('needBy'),
      promised: date('promised'),
      place: typed('place') === '' ? '' : (place ?? fault('workbook.place', 'place')),
      price: figure('price'),
      buyer: buyer.length === 1 ? buyer[0]! : fault('workbook.buyer', 'buyer'),
      act: typed('act') === '' ? '' : (act ?? fault('workbook.act', 'act')),
    },
    reasons,
  }
}

function withoutTwice(rows: readonly ReturnedRow[]): ReturnedRow[] {
  const seen = new Map<string, ReturnedRow[]>()
  for (const row of rows) if (row.lineId !== null) seen.set(row.lineId, [...(seen.get(row.lineId) ?? []), row])
  return rows.flatMap(row => {
    const all = row.lineId === null ? [row] : seen.get(row.lineId)!
    if (all.length === 1) return [row]
    const differ = all.some(one => WORKBOOK_FIELDS.some(field => one.values[field] !== all[0]!.values[field]))
    if (!differ) return row === all[0] ? [row] : []
    return [
      {
        ...row,
        reasons: [
          stop(
            'workbook.twice',
            { row: row.row, other: all.find(one => one !== row)!.row },
            { place: `rows.${row.row}` },
          ),
        ],
      },
    ]
  })
}
