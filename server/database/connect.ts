import knex, { type Knex } from 'knex'
import pg from 'pg'

const CAMEL = /_([a-z0-9])/g
const camelCache = new Map<string, string>()
const camel = (name: string): string => {
  let known = camelCache.get(name)
  if (known === undefined)
    camelCache.set(name, (known = name.replace(CAMEL, (_, letter: string) => letter.toUpperCase())))
  return known
}
const snake = (name: string): string => name.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)

/** Columns arrive exact: bigint as bigint, numeric as tidy text, dates as text, timestamps as ISO text. One place for all of them. */
const PARSERS: Readonly<Record<number, (text: string) => unknown>> = {
  [pg.types.builtins.INT8]: text => BigInt(text),
  [pg.types.builtins.NUMERIC]: text => (text.includes('.') ? text.replace(/\.?0+$/, '') : text),
  [pg.types.builtins.DATE]: text => text,
  [pg.types.builtins.TIMESTAMPTZ]: text => new Date(text).toISOString(),
}

const types = {
  getTypeParser: (oid: number, format?: 'text' | 'binary') =>
    PARSERS[oid] ?? (pg.types.getTypeParser as (oid: number, format?: string) => unknown)(oid, format),
}

const rename = (row: unknown): unknown => {
  if (typeof row !== 'object' || row === null || row instanceof Date || Buffer.isBuffer(row)) return row
  const renamed: Record<string, unknown> = {}
  for (const key in row) renamed[camel(key)] = (row as Record<string, unknown>)[key]
  return renamed
}

/** Opens a pool on a PostgreSQL address. Code writes camelCase names, the database keeps snake_case ones. */
export function connect(url: string, most = 10): Knex {
  return knex({
    client: 'pg',
    connection: {
      connectionString: url,
      types,
      keepAlive: true,
      options: '-c pg_trgm.word_similarity_threshold=0.4 -c pg_trgm.similarity_threshold=0.45',
    } as Knex.PgConnectionConfig,
    pool: { min: 0, max: most, acquireTimeoutMillis: 15_000, createRetryIntervalMillis: 200 },
    acquireConnectionTimeout: 15_000,
    wrapIdentifier: (value, original) => (value === '*' ? value : original(snake(value))),
    postProcessResponse: (result: unknown) => {
      if (Array.isArray(result)) return result.map(rename)
      if (result !== null && typeof result === 'object' && 'rows' in result)
        return { ...result, rows: (result.rows as unknown[]).map(rename) }
      return rename(result)
    },
  })
}
