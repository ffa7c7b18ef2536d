import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { Mendable } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import { fuzz, FUZZ_ROLES } from '#test-helpers/fuzz/fuzz.ts'
import { endCluster, openWorld } from '#test-helpers/world.ts'

/** Sends a throw-away copy of the demo what nobody should send, for some minutes; prints every answer that was our fault. */
await command(async () => {
  const { values } = parseArgs({
    options: { minutes: { type: 'string', default: '5' }, seed: { type: 'string', default: '1' } },
  })
  const minutes = Number(values.minutes)
  if (!(minutes > 0)) throw new Mendable('Say for how long: ./ivory fuzz --minutes 5 [--seed 1].')
  const folder = mkdtempSync(join(tmpdir(), 'ivory-fuzz-'))
  const { world, close } = await openWorld('world_fuzz', folder)
  try {
    const until = Date.now() + minutes * 60_000
    const roles: Record<string, () => Promise<string>> = { nobody: () => Promise.resolve('') }
    for (const [role, who] of Object.entries(FUZZ_ROLES)) roles[role] = async () => (await world.as(who)).cookie
    const outcome = await fuzz({
      address: world.address,
      seed: Number(values.seed),
      roles,
      goOn: () => Date.now() < until,
    })
    const { differences } = await auditDatabase(world.db)
    for (const fault of outcome.faults) process.stdout.write(`${fault.status} ${fault.what}\n    ${fault.answer}\n`)
    for (const one of differences)
      process.stdout.write(`${one.check}: ${one.document}: expected ${one.expected}, found ${one.found}\n`)
    process.stdout.write(
      `${outcome.requests} requests to ${outcome.tried} of ${outcome.operations} acts, ${outcome.faults.length} faults, ${differences.length} differences in the books; answers: ${Object.entries(
        outcome.statuses,
      )
        .map(([status, times]) => `${status} × ${times}`)
        .join(', ')}\n`,
    )
    return outcome.faults.length + differences.length === 0 ? 0 : 1
  } finally {
    await close()
    endCluster()
    rmSync(folder, { recursive: true, force: true })
  }
})
process.exit()
