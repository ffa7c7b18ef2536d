import type { Knex } from 'knex'
import type { Tables } from 'knex/types/tables.js'

/** Parameters that one statement takes at most (PostgreSQL wire protocol: 65 535), less some room. */
const MOST_PARAMETERS = 20_000

/** Inserts many rows, in as few statements as the protocol allows. */
export async function insertMany<T extends keyof Tables>(
  trx: Knex,
  table: T,
  rows: readonly Partial<Tables[T]>[],
): Promise<void> {
  const columns = Math.max(1, ...rows.slice(0, 50).map(row => Object.keys(row).length))
  const size = Math.max(1, Math.floor(MOST_PARAMETERS / columns))
  for (let from = 0; from < rows.length; from += size) await trx(table as string).insert(rows.slice(from, from + size))
}
