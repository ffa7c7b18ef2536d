import { readFileSync } from 'node:fs'
import { parseArgs } from 'node:util'
import { say } from '#contract/messages/say.ts'
import { RuleBroken } from '#core/reasons.ts'
import { endPrivateCluster, needUpToDate, openDatabase, runningInstance } from '#scripts/instance.ts'
import { Mendable } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'
import { connect } from '#server/database/connect.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { importItems } from '#server/request/importItems.ts'
import { proposeMapping } from '#core/source/importMapping.ts'
import { type Write, writing } from '#server/call.ts'
import { wire } from '#server/app/wiring.ts'
import { readCells } from '#server/formats/cells.ts'
import { load, lookAtRows } from '#server/source/importSuppliers.ts'

/** Suppliers by the mapping that their headings and examples propose; rows that look like a record stop the load as they do in the pages. */
async function importSuppliers(call: Write, bytes: Buffer, dryRun: boolean) {
  const cells = await readCells(bytes)
  const mapping = proposeMapping(cells.headings, cells.rows.slice(0, 20))
  const outcome = await load(call, await lookAtRows(call, cells, { mapping, dryRun, withNear: false }))
  const near = outcome.near.map(one => ({
    row: one.row,
    place: 'name',
    code: 'import.near',
    details: { name: one.other, number: one.number, percent: one.percent },
  }))
  return {
    rows: outcome.rows,
    good: outcome.good,
    loaded: outcome.loaded,
    faults: [...outcome.faults, ...near],
    faultCount: outcome.faultCount + outcome.nearCount,
    format: cells.format,
  }
}

interface Loaded {
  rows: number
  good: number
  loaded: number
  faults: { row: number; place: string; code: string; details: Record<string, string | number> }[]
  faultCount: number
  format?: string
  delimiter?: string
  encoding?: string
}
type Load = (call: Write, bytes: Buffer, dryRun: boolean) => Promise<Loaded>

const IMPORTS = {
  suppliers: { load: importSuppliers, right: 'supplier.write' },
  items: { load: importItems, right: 'catalogue.write' },
} as const satisfies Readonly<Record<string, { load: Load; right: string }>>

await command(async () => {
  const { values, positionals } = parseArgs({
    options: { 'dry-run': { type: 'boolean' }, as: { type: 'string' } },
    allowPositionals: true,
  })
  const [what, path] = positionals
  const chosen = what === 'suppliers' || what === 'items' ? IMPORTS[what] : undefined
  if (!chosen || !path)
    throw new Mendable('Say what and from where: ./ivory import suppliers|items FILE [--dry-run] [--as EMAIL].')
  const bytes = readBytes(path)
  const running = runningInstance()
  const url = running && !process.env.DATABASE_URL ? running.databaseUrl : (await openDatabase()).url
  await needUpToDate(url)
  const db = connect(url, 2)
  try {
    const person = await db('people')
      .join('personRoles', 'personRoles.personId', 'people.id')
      .join('roles', 'roles.code', 'personRoles.role')
      .where('people.active', true)
      .whereRaw('? = any(permissions)', [chosen.right])
      .modify(query => {
        if (values.as) void query.where('people.email', values.as)
      })
      .orderBy('people.name')
      .first<{ id: string; name: string } | undefined>('people.id', 'people.name')
    if (!person)
      throw new Mendable(
        values.as
          ? `${values.as} may not import ${what}: name somebody who may.`
          : `Nobody may import ${what} yet: give somebody the role of a buyer first.`,
      )
    wire()
    const setting = await settingOf({ db, clock: () => new Date().toISOString() }, person.id, 'import')
    const load: Load = chosen.load
    const result = await db.transaction(trx => load(writing(trx, setting), bytes, values['dry-run'] ?? false))
    for (const fault of result.faults.slice(0, 50))
      process.stdout.write(`row ${fault.row}, ${fault.place}: ${say(fault.code, fault.details)}\n`)
    process.stdout.write(
      `${result.rows} rows (${result.format ?? `${result.delimiter}, ${result.encoding}`}), ${result.good} good, ${result.faultCount} faults, ${result.loaded} loaded as ${person.name}\n`,
    )
    return result.faultCount === 0 ? 0 : 1
  } catch (error) {
    if (error instanceof RuleBroken)
      throw new Mendable(error.reasons.map(reason => say(reason.code, reason.details)).join('\n'))
    throw error
  } finally {
    await db.destroy()
    if (!running && !process.env.DATABASE_URL) endPrivateCluster()
  }
})

function readBytes(path: string): Buffer {
  try {
    return readFileSync(path)
  } catch (error) {
    throw new Mendable(`${path} cannot be read: check the name and the rights.`, { cause: error })
  }
}
