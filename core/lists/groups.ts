import { addDays } from '#core/calendar/days.ts'
import type { AskedColumn, Condition } from '#core/lists/conditions.ts'

/** More columns than that make more groups than anybody reads. */
export const MOST_GROUP_COLUMNS = 2

/** Whether rows can be put together by a column: a figure has too many values. */
export const groups = (column: Pick<AskedColumn, 'type'>): boolean => column.type !== 'figure'

/** `supplier,needBy` as columns to group by; what is not there, cannot be grouped by or stands twice is left out. */
export function readGroups(text: string, columns: readonly AskedColumn[]): string[] {
  const known = new Set(columns.filter(groups).map(column => column.key))
  return [...new Set(text.split(','))].filter(key => known.has(key)).slice(0, MOST_GROUP_COLUMNS)
}

/**
 * What has to be asked to see the rows of a group; undefined where it cannot be asked. Days are grouped by month.
 *
 * groupCondition({ key: 'needBy', type: 'date' }, '2026-02') //=> needBy between 2026-02-01 and 2026-02-28
 */
export function groupCondition({ key, type }: AskedColumn, value: string | null): Condition | undefined {
  if (value === null) return type === 'choice' ? undefined : { column: key, operator: 'empty', values: [] }
  if (type !== 'date') return { column: key, operator: 'is', values: [value] }
  const [year, month] = value.split('-').map(Number) as [number, number]
  const next = month === 12 ? `${year + 1}-01-01` : `${year}-${String(month + 1).padStart(2, '0')}-01`
  return { column: key, operator: 'between', values: [`${value}-01`, addDays(next, -1)] }
}
