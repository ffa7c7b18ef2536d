import { createHash } from 'node:crypto'
import type { Knex } from 'knex'
import type { ListPage, ListQuery, ListRow } from '#contract/fields.ts'
import { type ColumnType, type Condition, type Order, readConditions, readOrders } from '#core/lists/conditions.ts'
import { groups } from '#core/lists/groups.ts'
import { minorDigits } from '#core/money/currency.ts'
import { RuleBroken } from '#core/reasons.ts'
import { MOST_TOGETHER } from '#contract/documents/together.ts'
import type { Read } from '#server/call.ts'
import { ask } from '#server/lists/ask.ts'

export interface Sort {
  /** SQL of the value to order by; an index on (value, id) makes every page as quick as the first. */
  readonly sql: string
  readonly descending: boolean
  readonly type: 'text' | 'bigint' | 'numeric' | 'date' | 'timestamptz'
}

/** A column of a list, or something that it is asked about without being shown. */
export interface ListColumn {
  readonly key: string
  readonly type: ColumnType
  /** SQL of its value: what has none is shown, but neither asked about nor ordered by. */
  readonly sql?: string
  /** A figure that makes sense added up over rows. */
  readonly summed?: true
  /** SQL of the id of the person, where it names one. */
  readonly personId?: string
  /** The values that there are to choose from. */
  readonly options?: (call: Read) => Promise<{ value: string; label: string }[]>
  /** What a chosen value asks, where it is not the value of `sql`. */
  readonly apply?: (query: Knex.QueryBuilder, value: string, call: Read) => void
}

/** How far something has come, as a choice. */
export const EXTENTS: NonNullable<ListColumn['options']> = () =>
  Promise.resolve(['none', 'part', 'full', 'over'].map(value => ({ value, label: `state.${value}` })))

/** One description of a list, used by the address bar, the API and the exports alike. */
export interface ListDefinition<Row> {
  readonly id: string
  /** What the person may see at all. Joins for names are left joins on keys, which the planner drops where only rows are counted. */
  readonly base: (call: Read) => Knex.QueryBuilder
  readonly select: readonly string[]
  readonly views: Readonly<Record<string, (query: Knex.QueryBuilder, call: Read) => void>>
  readonly sorts: Readonly<Record<string, Sort>>
  readonly search: string
  readonly states?: { readonly column: string; readonly values: readonly string[] }
  readonly columns: readonly ListColumn[]
  /** SQL of what a row is worth, in the smallest unit of the base currency. */
  readonly amount?: string
  /** What else it is asked about. */
  readonly filters?: readonly ListColumn[]
  readonly row: (row: Row, call: Read) => ListRow
}

/** Counting stops here: more is shown as "more than". */
const COUNT_LIMIT = 300

/** One page of a list, paged by key. */
export async function listPage<Row>(definition: ListDefinition<Row>, call: Read, query: ListQuery): Promise<ListPage> {
  const { view, sort, orders } = chosen(definition, call, query)
  const { conditions, lost } = asked(definition, call, query.where)
  const limit = query.limit ?? 60
  const rows = await pageRows(definition, call, query, limit + 1, true)
  const { all, shown } = await countsOf(definition, call, query, rows[0])
  const page = rows.slice(0, limit)
  const last = page.at(-1)
  return {
    rows: page.map(row => definition.row(row as Row, call)),
    next: rows.length > limit && last ? encodeKey(last) : null,
    shown,
    hidden: Math.max(0, all - shown),
    countIsFloor: shown >= COUNT_LIMIT || all >= COUNT_LIMIT,
    views: Object.keys(definition.views),
    view,
    sorts: Object.keys(definition.sorts),
    sort,
    states: [...(definition.states?.values ?? [])],
    columns: definition.columns.map(({ key, type, sql }) => ({
      key,
      type,
      numeric: type === 'figure',
      ordered: sql !== undefined,
      grouped: sql !== undefined && groups({ type }),
    })),
    asks: asksOf(definition, call).map(({ key, type, options }) => ({ key, type, choices: options !== undefined })),
    conditions: conditions.map(group => group.map(one => ({ ...one, values: [...one.values] }))),
    lost,
    orders,
  }
}

/** Everything that a list can be asked about. */
export const asksOf = <Row>({ columns, filters, states, amount }: ListDefinition<Row>, call: Read): ListColumn[] => [
  ...columns.filter(column => column.sql !== undefined || column.apply !== undefined),
  ...(amount === undefined
    ? []
    : [{ key: 'amount', type: 'figure' as const, sql: `(${amount}::numeric / ${10 ** minorDigits(call.base)})` }]),
  ...(states === undefined
    ? []
    : [
        {
          key: 'state',
          type: 'choice' as const,
          sql: states.column,
          options: () => Promise.resolve(states.values.map(value => ({ value, label: `state.${value}` }))),
        },
      ]),
  ...(filters ?? []),
]

/** @throws RuleBroken list.tooManyConditions */
function asked<Row>(
  definition: ListDefinition<Row>,
  call: Read,
  where = '',
): { conditions: Condition[][]; lost: string[] } {
  const { reasons, ...read } = readConditions(where, asksOf(definition, call))
  if (reasons.length > 0) throw new RuleBroken(reasons)
  return read
}

/** All rows that a query shows, page after page, for exports. */
export async function* listRows<Row>(
  definition: ListDefinition<Row>,
  call: Read,
  query: ListQuery,
): AsyncGenerator<ListRow> {
  for (let after: string | undefined; ;) {
    const rows = await pageRows(definition, call, { ...query, after }, 1000)
    for (const row of rows) yield definition.row(row as Row, call)
    const last = rows.at(-1)
    if (rows.length < 1000 || !last) return
    after = encodeKey(last)
  }
}

interface Keyed {
  /** Values that the row was ordered by, as text. */
  readonly keyValues: string[]
  readonly keyId: string
  /** How many there are, in all and of what is shown, on each row of a page that counts. */
  readonly countAll?: number
  readonly countShown?: number
}

async function pageRows<Row>(
  definition: ListDefinition<Row>,
  call: Read,
  query: ListQuery,
  limit: number,
  counted = false,
): Promise<(Row & Keyed)[]> {
  const { by, sort } = chosen(definition, call, query)
  const rows = filtered(definition, call, query)
  const key = query.after ? decodeKey(query.after, by.length) : undefined
  if (key) after(rows, by, definition.id, key)
  const last = direction(by.at(-1)!)
  void rows
    .select(
      ...definition.select.map(column => call.trx.raw(column)),
      call.trx.raw(`array[${by.map(one => `(${one.sql})::text`).join(', ')}] as key_values`),
      call.trx.raw(`${definition.id} as key_id`),
      ...(counted ? countColumns(definition, call, query) : []),
    )
    .orderByRaw([...by.map(one => `${one.sql} ${direction(one)}`), `${definition.id} ${last}`].join(', '))
    .limit(limit, { skipBinding: true })
  return (await fetched(call, rows, !query.q && !query.where && sort !== '')) as (Row & Keyed)[]
}

/** The rows that a query asks for, in no order yet. */
export function filtered<Row>(definition: ListDefinition<Row>, call: Read, query: ListQuery): Knex.QueryBuilder {
  const { view } = chosen(definition, call, query)
  const rows = definition.base(call)
  definition.views[view]?.(rows, call)
  if (query.state && definition.states?.values.includes(query.state))
    void rows.whereRaw(`${definition.states.column} = ?`, [query.state])
  const columns = new Map(asksOf(definition, call).map(column => [column.key, column]))
  ask(rows, asked(definition, call, query.where).conditions, columns, call)
  for (const word of (query.q ?? '').toLowerCase().split(/\s+/).filter(Boolean).slice(0, 8))
    void rows.whereRaw(`${definition.search} like ?`, [`%${word.replace(/[\\%_]/g, '\\$&')}%`])
  return rows
}

/** The values that a list's choices have. */
export async function listFilters<Row>(
  definition: ListDefinition<Row>,
  call: Read,
): Promise<{ filters: { key: string; options: { value: string; label: string }[] }[] }> {
  const filters = []
  for (const { key, options } of asksOf(definition, call))
    if (options) filters.push({ key, options: await options(call) })
  return { filters }
}

const direction = ({ descending }: Sort): string => (descending ? 'desc' : 'asc')

/** Rows that come after a key: in one comparison where all is ordered the same way, else value by value. */
function after(rows: Knex.QueryBuilder, by: readonly Sort[], id: string, key: readonly string[]): void {
  const all = [...by, { sql: id, type: 'uuid', descending: by.at(-1)!.descending }]
  const sign = (one: { descending: boolean }): string => (one.descending ? '<' : '>')
  if (all.every(one => one.descending === all[0]!.descending)) {
    const values = all.map(one => `?::${one.type}`).join(', ')
    void rows.whereRaw(`(${all.map(one => one.sql).join(', ')}) ${sign(all[0]!)} (${values})`, [...key])
  } else
    void rows.where(any => {
      for (const [index, one] of all.entries()) {
        const same = all.slice(0, index).map(before => `${before.sql} = ?::${before.type}`)
        const sql = [...same, `${one.sql} ${sign(one)} ?::${one.type}`].join(' and ')
        void any.orWhereRaw(sql, key.slice(0, index + 1))
      }
    })
}

/** What is not there comes last, whichever way a column is ordered. */
const LAST = {
  date: ["'9999-12-31'::date", "'0001-01-01'::date", 'date'],
  figure: ["'Infinity'::numeric", "'-Infinity'::numeric", 'numeric'],
} as const

function sortOf({ sql, type }: ListColumn, descending: boolean): Sort {
  if (type === 'date' || type === 'figure') {
    const [up, down, cast] = LAST[type]
    return { sql: `coalesce((${sql})::${cast}, ${descending ? down : up})`, descending, type: cast }
  }
  return { sql: `lower(coalesce((${sql})::text, ''))`, descending, type: 'text' }
}

function chosen<Row>(
  definition: ListDefinition<Row>,
  call: Read,
  query: ListQuery,
): { view: string; sort: string; by: readonly Sort[]; orders: Order[] } {
  const named = (table: object, name: string | undefined): string =>
    name !== undefined && Object.hasOwn(table, name) ? name : Object.keys(table)[0]!
  const view = named(definition.views, query.view)
  const sort = named(definition.sorts, query.sort)
  const columns = new Map(
    asksOf(definition, call).flatMap(one => (one.sql === undefined ? [] : [[one.key, one] as const])),
  )
  const known = query.sort !== undefined && Object.hasOwn(definition.sorts, query.sort)
  // a named order of a column is that column's own, with an index
  const orders =
    known && columns.has(sort)
      ? [{ column: sort, descending: definition.sorts[sort]!.descending }]
      : readOrders(known ? '' : (query.sort ?? ''), new Set(columns.keys()))
  const own = orders.length > 0 && !known
  const by = own ? orders.map(one => sortOf(columns.get(one.column)!, one.descending)) : [definition.sorts[sort]!]
  return { view, sort: own ? '' : sort, by, orders }
}

const upTo = (call: Read, query: Knex.QueryBuilder): Knex.QueryBuilder =>
  query.clone().select(call.trx.raw('1')).limit(COUNT_LIMIT, { skipBinding: true })

/** Rows of a query; one that comes in few forms is planned once for each connection. */
async function fetched(call: Read, query: Knex.QueryBuilder, often: boolean): Promise<unknown[]> {
  if (!often) return (await query) as unknown[]
  const { sql, bindings } = query.toSQL()
  const name = `list-${createHash('sha1').update(sql).digest('base64url')}`
  const { rows } = await call.trx.raw<{ rows: unknown[] }>(sql, bindings as never).options({ name })
  return rows
}

/** The ids of what a query shows, in its order. */
export async function listIds<Row>(
  definition: ListDefinition<Row>,
  call: Read,
  query: ListQuery,
): Promise<{ ids: string[]; more: boolean }> {
  const { by } = chosen(definition, call, query)
  const order = [...by.map(one => `${one.sql} ${direction(one)}`), `${definition.id} ${direction(by.at(-1)!)}`]
  const rows = (await filtered(definition, call, query)
    .select(call.trx.raw(`${definition.id} as id`))
    .orderByRaw(order.join(', '))
    .limit(MOST_TOGETHER + 1)) as { id: string }[]
  return { ids: rows.slice(0, MOST_TOGETHER).map(row => row.id), more: rows.length > MOST_TOGETHER }
}

/** The counts beside each row of a page, computed once for all of them: a question less to the database. */
const countColumns = <Row>(definition: ListDefinition<Row>, call: Read, query: ListQuery): Knex.Raw[] => [
  call.trx.raw('(select count(*)::int from (?) as counted) as count_all', [upTo(call, definition.base(call))]),
  call.trx.raw('(select count(*)::int from (?) as counted) as count_shown', [
    upTo(call, filtered(definition, call, query)),
  ]),
]

/** How many there are; a page without rows has nobody to say it. */
async function countsOf<Row>(
  definition: ListDefinition<Row>,
  call: Read,
  query: ListQuery,
  row: Keyed | undefined,
): Promise<{ all: number; shown: number }> {
  if (row) return { all: row.countAll ?? 0, shown: row.countShown ?? 0 }
  const all = (await upTo(call, definition.base(call))) as unknown[]
  const shown = (await upTo(call, filtered(definition, call, query))) as unknown[]
  return { all: all.length, shown: shown.length }
}

const encodeKey = (row: Keyed): string =>
  Buffer.from(JSON.stringify([...row.keyValues, row.keyId])).toString('base64url')

function decodeKey(text: string, values: number): string[] | undefined {
  try {
    const key = JSON.parse(Buffer.from(text, 'base64url').toString('utf8')) as unknown
    return Array.isArray(key) &&
      key.length === values + 1 &&
      key.every(part => typeof part === 'string') &&
      /^[0-9a-f-]{36}$/.test(key.at(-1) as string)
      ? (key as string[])
      : undefined
  } catch {
    return undefined
  }
}
