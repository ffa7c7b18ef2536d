import { createHash } from 'node:crypto'
import type { Knex } from 'knex'
import type { ListPage, ListQuery, ListRow } from '#contract/fields.ts'
import type { Read } from '#server/call.ts'

export interface Sort {
  /** SQL of the value to order by; an index on (value, id) makes every page as quick as the first. */
  readonly sql: string
  readonly descending: boolean
  readonly type: 'text' | 'bigint' | 'date' | 'timestamptz'
}

/** Something a list can be narrowed by: its values, and what each does. */
export interface ListFilter {
  readonly options: (call: Read) => Promise<{ value: string; label: string }[]>
  readonly apply: (query: Knex.QueryBuilder, value: string, call: Read) => void
}

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
  readonly filters?: Readonly<Record<string, ListFilter>>
  readonly columns: readonly { readonly key: string; readonly numeric: boolean }[]
  readonly row: (row: Row, call: Read) => ListRow
}

/** Counting stops here: more is shown as "more than". */
const COUNT_LIMIT = 300

/** One page of a list, paged by key. */
export async function listPage<Row>(definition: ListDefinition<Row>, call: Read, query: ListQuery): Promise<ListPage> {
  const { view, sort } = chosen(definition, query)
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
    columns: [...definition.columns],
    narrow: narrowings(definition, query.where).map(([key, value]) => ({ key, value })),
  }
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
  readonly keyValue: unknown
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
  const { sort } = chosen(definition, query)
  const by = definition.sorts[sort]!
  const rows = filtered(definition, call, query)
  const key = query.after ? decodeKey(query.after) : undefined
  if (key)
    void rows.whereRaw(`(${by.sql}, ${definition.id}) ${by.descending ? '<' : '>'} (?::${by.type}, ?::uuid)`, key)
  const direction = by.descending ? 'desc' : 'asc'
  void rows
    .select(
      ...definition.select.map(column => call.trx.raw(column)),
      call.trx.raw(`(${by.sql})::text as key_value`),
      call.trx.raw(`${definition.id} as key_id`),
      ...(counted ? countColumns(definition, call, query) : []),
    )
    .orderByRaw(`${by.sql} ${direction}, ${definition.id} ${direction}`)
    .limit(limit, { skipBinding: true })
  return (await fetched(call, rows, !query.q && !query.where)) as (Row & Keyed)[]
}

function filtered<Row>(definition: ListDefinition<Row>, call: Read, query: ListQuery): Knex.QueryBuilder {
  const { view } = chosen(definition, query)
  const rows = definition.base(call)
  definition.views[view]?.(rows, call)
  if (query.state && definition.states?.values.includes(query.state))
    void rows.whereRaw(`${definition.states.column} = ?`, [query.state])
  for (const [key, value] of narrowings(definition, query.where)) definition.filters![key]!.apply(rows, value, call)
  for (const word of (query.q ?? '').toLowerCase().split(/\s+/).filter(Boolean).slice(0, 8))
    void rows.whereRaw(`${definition.search} like ?`, [`%${word.replace(/[\\%_]/g, '\\$&')}%`])
  return rows
}

/** `country:NO;category:Feed` as pairs; what the list does not know is left out. */
function narrowings<Row>(definition: ListDefinition<Row>, where: string | undefined): [string, string][] {
  return (where ?? '').split(';').flatMap(part => {
    const at = part.indexOf(':')
    const key = part.slice(0, at)
    return at > 0 && definition.filters && Object.hasOwn(definition.filters, key)
      ? [[key, part.slice(at + 1)] as [string, string]]
      : []
  })
}

/** The values that a list can be narrowed by. */
export async function listFilters<Row>(
  definition: ListDefinition<Row>,
  call: Read,
): Promise<{ filters: { key: string; options: { value: string; label: string }[] }[] }> {
  const filters = []
  for (const [key, filter] of Object.entries(definition.filters ?? {}))
    filters.push({ key, options: await filter.options(call) })
  return { filters }
}

function chosen<Row>(definition: ListDefinition<Row>, query: ListQuery): { view: string; sort: string } {
  const named = (table: object, name: string | undefined): string =>
    name !== undefined && Object.hasOwn(table, name) ? name : Object.keys(table)[0]!
  const view = named(definition.views, query.view)
  const sort = named(definition.sorts, query.sort)
  return { view, sort }
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

const encodeKey = (row: Keyed): string => Buffer.from(JSON.stringify([row.keyValue, row.keyId])).toString('base64url')

function decodeKey(text: string): [string, string] | undefined {
  try {
    const key = JSON.parse(Buffer.from(text, 'base64url').toString('utf8')) as unknown
    return Array.isArray(key) &&
      key.length === 2 &&
      key.every(part => typeof part === 'string') &&
      /^[0-9a-f-]{36}$/.test(key[1] as string)
      ? (key as [string, string])
      : undefined
  } catch {
    return undefined
  }
}
