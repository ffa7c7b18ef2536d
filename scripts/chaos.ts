import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { Mendable } from '#scripts/cluster.ts'
import { command } from '#scripts/run.ts'
import { chaos } from '#test-helpers/chaos/chaos.ts'
import { endCluster } from '#test-helpers/world.ts'

/** Ten people at work on a throw-away copy of the demo, while its processes are killed at random; then everything is re-added. */
await command(async () => {
  const { values } = parseArgs({
    options: { minutes: { type: 'string', default: '10' }, seed: { type: 'string', default: '1' } },
  })
  const minutes = Number(values.minutes)
  if (!(minutes > 0)) throw new Mendable('Say for how long: ./ivory chaos --minutes 10 [--seed 1].')
  const folder = mkdtempSync(join(tmpdir(), 'ivory-chaos-'))
  const until = Date.now() + minutes * 60_000
  try {
    const { kills, threads, done, wrong } = await chaos({
      seed: Number(values.seed),
      folder,
      goOn: () => Date.now() < until,
      tell: text => process.stdout.write(`${text}\n`),
    })
    for (const one of wrong) process.stdout.write(`${one}\n`)
    const killed = Object.entries(kills).map(([name, times]) => `${name} × ${times}`)
    process.stdout.write(
      `${killed.join(', ')} killed; ${done} acts, ${threads} whole threads; ${wrong.length === 0 ? 'nothing lost, nothing doubled, the books re-add' : `${wrong.length} things are wrong`}\n`,
    )
    return wrong.length === 0 ? 0 : 1
  } finally {
    endCluster()
    rmSync(folder, { recursive: true, force: true })
  }
})
process.exit()
