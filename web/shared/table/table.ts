import { amountText } from '#web/shared/words.ts'

/** A column of a table: what it is called and how a row reads in it. */
export interface TableColumn<Row> {
  readonly key: string
  readonly label: string
  /** Figures stand one under the other by their decimal point. */
  readonly figure?: boolean
  /** What stands in it, as it is shown and copied; a figure as plain decimal text. */
  readonly text: (row: Row) => string
  /** A unit or currency beside a figure, quieter. */
  readonly unit?: (row: Row) => string
  readonly tone?: (row: Row) => string
  /** Whether rows can be ordered by it. */
  readonly ordered?: boolean
  /** It takes the room that is left over. */
  readonly wide?: boolean
  readonly strong?: boolean
}

/** What a table shows under each other: rows, and the heads of groups of them. */
export type TableItem<Row> =
  | { readonly kind: 'row'; readonly id: string; readonly name: string; readonly row: Row }
  | {
      readonly kind: 'group'
      readonly id: string
      readonly depth: number
      readonly label: string
      readonly count: number
      /** What its rows come to, in columns that add up. */
      readonly sums: ReadonlyMap<string, string>
      readonly open: boolean
    }
  | { readonly kind: 'note'; readonly id: string; readonly text: string; readonly act: () => void }

/** Digits after the point. decimals('18420.50') //=> 2 */
export const decimals = (text: string): number => text.split('.')[1]?.length ?? 0

/**
 * A figure, and what has to follow it unseen so that its point stands under the others'.
 *
 * onPoint('12.5', 3) //=> { shown: '12.5', after: '00' }
 */
export function onPoint(text: string, places: number): { shown: string; after: string } {
  if (!/^-?\d+(\.\d+)?$/.test(text)) return { shown: text, after: '' }
  const own = decimals(text)
  const after = own === 0 && places > 0 ? `.${'0'.repeat(places)}` : '0'.repeat(Math.max(0, places - own))
  return { shown: amountText(text), after }
}

/** Rows as a table for other programs: cells parted by tabs, as spreadsheets take them from the clipboard. */
export function asTable<Row>(columns: readonly TableColumn<Row>[], rows: readonly Row[]): string {
  const clean = (text: string): string => text.replace(/[\t\r\n]+/g, ' ')
  const cells = (row: Row): string[] =>
    columns.flatMap(column => [column.text(row), ...(column.unit ? [column.unit(row)] : [])])
  const head = columns.flatMap(column => [column.label, ...(column.unit ? [''] : [])])
  return [head, ...rows.map(cells)].map(line => line.map(clean).join('\t')).join('\n')
}

/** How many lines beyond those in sight are drawn on each side, and how many one scrolls by before others are drawn. */
const BEYOND = 12
const STEP = 4
/** The line to begin from with one in sight at the top: the same for some lines, so that not every movement draws. */
export const stepOf = (top: number): number => Math.floor(top / STEP) * STEP - BEYOND

/**
 * Which line of a table sits in which seat: as many seats as lines in sight and beyond them. A line that goes out of sight hands its seat to
 * the one that comes in, which is filled in there instead of being built anew; all others keep theirs.
 *
 * seats(0, 2, 3) //=> [0, 1, 2]
 */
export function seats(first: number, sight: number, count: number): number[] {
  const room = sight + 1 + 2 * BEYOND + STEP
  const size = Math.min(room, count)
  const from = Math.max(0, Math.min(first, count - size))
  return Array.from({ length: size }, (_, index) => from + index).sort((a, b) => (a % room) - (b % room))
}

/** What stands between two columns, and how much smaller their heads are written than what is in them. */
const PADDING = 16
/** How much wider texts are drawn than they are measured: names and figures are stronger, digits have one width. */
const DRAWN = 1.06
const HEAD = 11.5 / 13
const LEAST = 52
const MOST = 300

/** The width in pixels that each column needs for its name and what is in these rows. `measure` gives a text's width. */
export function fitWidths<Row>(
  columns: readonly TableColumn<Row>[],
  rows: readonly Row[],
  measure: (text: string) => number,
): Map<string, number> {
  return new Map(
    columns.map(column => {
      const places = Math.max(0, ...rows.map(row => decimals(column.text(row))))
      const widths = rows.map(row => {
        const text = column.figure ? onPoint(column.text(row), places) : { shown: column.text(row), after: '' }
        return measure(`${text.shown}${text.after}${column.unit ? ` ${column.unit(row)}` : ''}`) * DRAWN
      })
      const head = measure(column.label) * HEAD + (column.ordered ? 12 : 0)
      return [
        column.key,
        Math.round(Math.min(MOST, Math.max(LEAST, head + PADDING, ...widths.map(one => one + PADDING)))),
      ]
    }),
  )
}

/** Text is cut before anybody has to scroll sideways, but not below this. */
const READABLE = 104

/**
 * The same widths in the room that there is: what is left over goes to the column that can use it; what is missing is taken from texts, the
 * widest first, and figures are never cut. Columns that somebody has sized stay as they are.
 */
export function fitRoom(
  columns: readonly { key: string; width: number; sized: boolean; figure: boolean; wide: boolean }[],
  room: number,
): Map<string, number> {
  const widths = new Map(columns.map(column => [column.key, column.width]))
  let spare = Math.floor(room) - columns.reduce((sum, column) => sum + column.width, 0)
  const taker = columns.find(column => column.wide && !column.sized) ?? columns.find(column => !column.sized)
  if (spare > 0 && taker) widths.set(taker.key, taker.width + spare)
  const soft = columns.filter(column => !column.sized && !column.figure)
  if (spare < 0 && soft.reduce((sum, column) => sum + Math.max(0, column.width - READABLE), 0) < -spare) return widths
  while (spare < 0) {
    const now = soft.map(column => widths.get(column.key)!)
    const widest = Math.max(...now)
    const next = Math.max(READABLE, ...now.filter(width => width < widest))
    const most = soft.filter(column => widths.get(column.key) === widest)
    const step = Math.max(1, Math.min(widest - next, Math.ceil(-spare / most.length)))
    for (const column of most) {
      const cut = Math.min(step, -spare)
      widths.set(column.key, widest - cut)
      spare += cut
    }
  }
  return widths
}

const TYPE = "13px 'Public Sans Variable', sans-serif"
let context: CanvasRenderingContext2D | null | undefined
/** Until the type is there, texts are measured in another one: widths are to be computed again then. Where it does not come, on a bad line, tables are shown in the other one. */
export const typeLoaded = async (): Promise<unknown> => await document.fonts.load(TYPE).catch(() => [])
/** How wide a text is in the table's type; a guess where nothing is drawn. */
export function textWidth(text: string): number {
  context ??= document.createElement('canvas').getContext('2d')
  if (!context) return text.length * 7
  context.font = TYPE
  // digits stand in columns: each is as wide as the widest
  return context.measureText(text.replace(/\d/g, '0')).width
}
