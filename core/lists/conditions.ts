import { addDays, isDay } from '#core/calendar/days.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { table } from '#core/text/table.ts'

/** What a column of a list holds; it says how the column is asked about. */
export type ColumnType = 'words' | 'figure' | 'date' | 'choice' | 'person'

export interface AskedColumn {
  readonly key: string
  readonly type: ColumnType
}

export const OPERATORS = {
  words: ['has', 'hasNot', 'is', 'isNot', 'empty', 'filled'],
  figure: ['between', 'empty', 'filled'],
  date: ['between', 'last', 'next', 'thisMonth', 'empty', 'filled'],
  choice: ['is', 'isNot'],
  person: ['me', 'myTeam', 'is', 'isNot', 'empty', 'filled'],
} as const satisfies Readonly<Record<ColumnType, readonly string[]>>
export type Operator = (typeof OPERATORS)[ColumnType][number]

/** Something asked of one column: one of the values is enough, except `between`, which has a lower and an upper one (either may be empty). */
export interface Condition {
  readonly column: string
  readonly operator: Operator
  readonly values: readonly string[]
}
/** Of each group one condition has to hold, and every group has to. */
export type Conditions = readonly (readonly Condition[])[]

/** More than anybody reads, and than a query should carry. */
export const MOST_CONDITIONS = 40
export const MOST_VALUES = 100
/** Days that `last` and `next` look at, at most. */
const MOST_DAYS = 3660

const TAKES: Readonly<Record<string, 'none' | 'days' | 'span' | 'some'>> = table({
  empty: 'none',
  filled: 'none',
  thisMonth: 'none',
  me: 'none',
  myTeam: 'none',
  last: 'days',
  next: 'days',
  between: 'span',
})

/** What is wrong with a condition on a column; nothing where it can be asked. */
export function whyNotAsk(condition: Condition, type: ColumnType): Reason[] {
  const { column, operator, values } = condition
  const wrong = (): Reason[] => [stop('list.condition', { column, operator, value: values.join(', ').slice(0, 60) })]
  if (!(OPERATORS[type] as readonly string[]).includes(operator)) return wrong()
  if (values.length > MOST_VALUES) return [stop('list.tooManyValues', { column, most: MOST_VALUES })]
  const takes = TAKES[operator] ?? 'some'
  if (takes === 'none') return values.length === 0 ? [] : wrong()
  if (takes === 'days')
    return values.length === 1 && /^\d{1,4}$/.test(values[0]!) && Number(values[0]) <= MOST_DAYS ? [] : wrong()
  if (takes === 'span') return isSpan(values, type) ? [] : wrong()
  return values.length > 0 && values.every(value => value !== '') ? [] : wrong()
}

function isSpan(values: readonly string[], type: ColumnType): boolean {
  if (values.length !== 2 || values.every(value => value === '')) return false
  const fits = type === 'date' ? isDay : isDecimalText
  if (!values.every(value => value === '' || fits(value))) return false
  const [from, to] = values as [string, string]
  return from === '' || to === '' || (type === 'date' ? from <= to : new Decimal(from).lte(to))
}

/**
 * Conditions as they stand in an address: `needBy.next:14;supplier.has:pump|supplier.is:Nordhavn`. A semicolon stands for *and*, an upright
 * stroke for *or*; values are parted by commas, and everything else in them is written as addresses write it. Without an operator it is `is`.
 *
 * @returns what can be asked, and the parts that cannot: a column that is gone, an operator that it does not have, a value that does not fit
 */
export function readConditions(
  text: string,
  columns: readonly AskedColumn[],
): { conditions: Condition[][]; lost: string[]; reasons: Reason[] } {
  const types = new Map(columns.map(column => [column.key, column.type]))
  const lost: string[] = []
  const read = (part: string): Condition[] => {
    const condition = readCondition(part)
    const type = condition && types.get(condition.column)
    if (condition && type && whyNotAsk(condition, type).length === 0) return [condition]
    lost.push(condition?.column ?? part.slice(0, 40))
    return []
  }
  const groups = text.split(';').filter(group => group.trim() !== '')
  const parts = groups.map(group => group.split('|'))
  if (parts.flat().length > MOST_CONDITIONS)
    return { conditions: [], lost, reasons: [stop('list.tooManyConditions', { most: MOST_CONDITIONS })] }
  const conditions = parts.map(group => group.flatMap(read)).filter(group => group.length > 0)
  return { conditions, lost, reasons: [] }
}

function readCondition(part: string): Condition | undefined {
  const parts = /^([A-Za-z]+)(?:\.([A-Za-z]+))?(?::(.*))?$/s.exec(part)
  if (!parts) return undefined
  const [, column = '', operator = 'is', rest] = parts
  try {
    const values = rest === undefined ? [] : rest.split(',').map(decodeURIComponent)
    return { column, operator: operator as Operator, values }
  } catch {
    return undefined
  }
}

/** The same the other way round. */
export const writeConditions = (conditions: Conditions): string =>
  conditions
    .filter(group => group.length > 0)
    .map(group => group.map(writeCondition).join('|'))
    .join(';')

const writeCondition = ({ column, operator, values }: Condition): string =>
  `${column}.${operator}${values.length > 0 ? `:${values.map(encodeURIComponent).join(',')}` : ''}`

/**
 * The days that a condition on a date asks for, first and last included; null where it is open on that side.
 *
 * daysAsked({ operator: 'next', values: ['14'] }, '2026-11-27') //=> ['2026-11-27', '2026-12-11']
 */
export function daysAsked(
  { operator, values }: Pick<Condition, 'operator' | 'values'>,
  today: string,
): [string | null, string | null] {
  if (operator === 'last') return [addDays(today, -Number(values[0])), today]
  if (operator === 'next') return [today, addDays(today, Number(values[0]))]
  if (operator === 'thisMonth') return [`${today.slice(0, 7)}-01`, addDays(firstOfNext(today), -1)]
  return [values[0] || null, values[1] || null]
}

function firstOfNext(day: string): string {
  const [year, month] = [Number(day.slice(0, 4)), Number(day.slice(5, 7))]
  return month === 12 ? `${year + 1}-01-01` : `${year}-${String(month + 1).padStart(2, '0')}-01`
}

/** One column to order by; several are asked one after the other. */
export interface Order {
  readonly column: string
  readonly descending: boolean
}
export const MOST_ORDERS = 4

/** `-needBy,supplier` as orders; columns that are not there, or stand twice, are left out. readOrders('-a,b,x', new Set(['a','b'])) //=> a down, b up */
export function readOrders(text: string, columns: ReadonlySet<string>): Order[] {
  const orders = text
    .split(',')
    .map(part => ({ column: part.replace(/^-/, ''), descending: part.startsWith('-') }))
    .filter(
      (one, index, all) => columns.has(one.column) && all.findIndex(other => other.column === one.column) === index,
    )
  return orders.slice(0, MOST_ORDERS)
}

export const writeOrders = (orders: readonly Order[]): string =>
  orders.map(one => `${one.descending ? '-' : ''}${one.column}`).join(',')

/** What choosing a column to order by does: alone, it becomes the only one, and turns when it is that already; beside others it is added, turned, then dropped. */
export function orderBy(orders: readonly Order[], column: string, beside: boolean): Order[] {
  const before = orders.find(one => one.column === column)
  const next = before ? (before.descending ? [] : [{ column, descending: true }]) : [{ column, descending: false }]
  if (!beside) return before && orders.length > 1 ? [{ column, descending: false }] : next
  if (!before) return [...orders, ...next].slice(-MOST_ORDERS)
  return orders.flatMap(one => (one.column === column ? next : [one]))
}
