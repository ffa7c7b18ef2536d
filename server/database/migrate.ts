import { readdir } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import { runMigrations } from 'graphile-worker'
import type { Knex } from 'knex'
import pg from 'pg'
import { ROLES } from '#contract/permissions.ts'

const FOLDER = fileURLToPath(new URL('./migrations', import.meta.url))

const source = {
  getMigrations: async (): Promise<string[]> =>
    (await readdir(FOLDER)).filter(name => /^\d{3}_\w+\.ts$/.test(name)).sort(),
  getMigrationName: (name: string): string => name,
  getMigration: (name: string): Promise<Knex.Migration> =>
    import(`#server/database/migrations/${name}`) as Promise<Knex.Migration>,
}

export class DatabaseTooNew extends Error {}

/** Migrations of this version that a database does not have yet. */
export async function pendingMigrations(db: Knex): Promise<string[]> {
  const known = await source.getMigrations()
  if (!(await db.schema.hasTable('migrations'))) return known
  const applied = new Set(await db('migrations').pluck<string[]>('name'))
  return known.filter(name => !applied.has(name))
}

/** Brings a database up to date; safe to call from several processes at once. Refuses one that a newer version has migrated. */
export async function migrate(db: Knex, url: string): Promise<void> {
  await refuseNewer(db)
  await db.migrate.latest({ migrationSource: source, tableName: 'migrations' })
  const pool = new pg.Pool({ connectionString: url, max: 2 })
  try {
    await runMigrations({ pgPool: pool, logger: undefined })
  } finally {
    await pool.end()
  }
  for (const [code, permissions] of Object.entries(ROLES))
    await db('roles')
      .insert({ code, permissions: [...new Set(permissions)] })
      .onConflict('code')
      .ignore()
}

async function refuseNewer(db: Knex): Promise<void> {
  if (!(await db.schema.hasTable('migrations'))) return
  const known = new Set(await source.getMigrations())
  const applied = (await db('migrations').select('name')) as { name: string }[]
  const unknown = applied.find(row => !known.has(row.name))
  if (unknown)
    throw new DatabaseTooNew(
      `The database was written by a newer Ivory Order (it has ${unknown.name}): start that version, or use another database.`,
    )
}
