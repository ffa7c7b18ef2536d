import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { Mendable, runTool } from '#scripts/cluster.ts'
import { bringUpToDate, endPrivateCluster, openDatabase, runningInstance } from '#scripts/instance.ts'
import { command } from '#scripts/run.ts'
import { connect } from '#server/database/connect.ts'
import { auditDatabase } from '#server/insight/audit.ts'

/** Brings a backup into an empty database, up to this version, and re-adds its books. One that holds something is left alone. */
await command(async () => {
  const { positionals } = parseArgs({ allowPositionals: true })
  const [path] = positionals
  if (path === undefined || !existsSync(path)) throw new Mendable('Say from where: ./ivory restore FILE.')
  if (!process.env.DATABASE_URL && runningInstance())
    throw new Mendable('Ivory Order runs: ./ivory stop ends it, then restore.')
  const { url, privateCluster } = await openDatabase()
  const db = connect(url, 2)
  try {
    const { rows } = await db.raw<{ rows: { n: number }[] }>(
      `select count(*)::int as n from pg_class c join pg_namespace n on n.oid = c.relnamespace where n.nspname = 'public' and c.relkind = 'r'`,
    )
    if (rows[0]!.n > 0)
      throw new Mendable(
        'The database holds something already, and a restore never writes over it: name an empty one in DATABASE_URL, or another folder in IVORY_DATA.',
      )
    runTool('pg_restore', url, [
      '--no-owner',
      '--no-privileges',
      '--exit-on-error',
      '--single-transaction',
      `--dbname=${new URL(url).pathname.slice(1)}`,
      resolve(path),
    ])
    await bringUpToDate(url)
    const { differences, quantityEntries, budgetEntries } = await auditDatabase(db)
    for (const one of differences)
      process.stdout.write(`${one.check}: ${one.document}: expected ${one.expected}, found ${one.found}\n`)
    process.stdout.write(
      `Restored: ${quantityEntries} quantity entries, ${budgetEntries} budget entries, ${differences.length === 0 ? 'no differences' : `${differences.length} differences`}. Mails and files that had not left will leave when it starts.\n`,
    )
    return differences.length === 0 ? 0 : 1
  } finally {
    await db.destroy()
    if (privateCluster) endPrivateCluster()
  }
})
process.exit()
