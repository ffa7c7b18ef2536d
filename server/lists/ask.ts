import type { Knex } from 'knex'
import { type Condition, type Conditions, daysAsked } from '#core/lists/conditions.ts'
import type { Read } from '#server/call.ts'
import type { ListColumn } from '#server/lists/list.ts'

/** Asks a list for what its conditions want: one of each group, every group. */
export function ask(
  query: Knex.QueryBuilder,
  conditions: Conditions,
  columns: ReadonlyMap<string, ListColumn>,
  call: Read,
): void {
  for (const group of conditions)
    void query.where(one => {
      for (const condition of group)
        void one.orWhere(inner => askOne(inner, condition, columns.get(condition.column)!, call))
    })
}

function askOne(query: Knex.QueryBuilder, condition: Condition, column: ListColumn, call: Read): void {
  const { operator, values } = condition
  if (operator === 'isNot' || operator === 'hasNot') {
    const opposite = operator === 'isNot' ? 'is' : 'has'
    void query.whereNot(inner => askOne(inner, { ...condition, operator: opposite }, column, call))
  } else if (column.apply) for (const value of values) void query.orWhere(inner => column.apply!(inner, value, call))
  else if (operator === 'empty' || operator === 'filled')
    void query.whereRaw(`${emptySql(column)} = ?`, [operator === 'empty'])
  else if (operator === 'me') void query.whereRaw(`${column.personId} = ?`, [call.actor.id])
  else if (operator === 'myTeam')
    void query.whereRaw(`${column.personId} in (select id from people where manager_id = ?)`, [call.actor.id])
  else if (column.type === 'date') askDays(query, column.sql!, daysAsked(condition, call.today))
  else if (column.type === 'figure') askSpan(query, column.sql!, values)
  else if (operator === 'has')
    void query.whereRaw(`lower(coalesce(${column.sql}, '')) like any(?)`, [values.map(pattern)])
  else void query.whereRaw(`lower(coalesce(${column.sql}, '')) = any(?)`, [values.map(value => value.toLowerCase())])
}

const emptySql = ({ sql, type }: ListColumn): string =>
  type === 'date' || type === 'figure' ? `(${sql} is null)` : `(coalesce(${sql}, '') = '')`

const pattern = (value: string): string => `%${value.toLowerCase().replace(/[\\%_]/g, '\\$&')}%`

function askDays(query: Knex.QueryBuilder, sql: string, [from, to]: [string | null, string | null]): void {
  if (from !== null) void query.whereRaw(`(${sql})::date >= ?::date`, [from])
  if (to !== null) void query.whereRaw(`(${sql})::date <= ?::date`, [to])
}

function askSpan(query: Knex.QueryBuilder, sql: string, [from, to]: readonly string[]): void {
  if (from) void query.whereRaw(`${sql} >= ?::numeric`, [from])
  if (to) void query.whereRaw(`${sql} <= ?::numeric`, [to])
}
