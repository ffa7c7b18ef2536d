import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect } from 'chai'
import { chaos } from '#test-helpers/chaos/chaos.ts'

/** Kills in the run of all tests; `./ivory chaos --minutes N` goes on for longer. */
const KILLS = 20
const SEED = 20261127

describe('a month of faults', () => {
  const folder = mkdtempSync(join(tmpdir(), 'ivory-chaos-'))
  after(() => rmSync(folder, { recursive: true, force: true }))

  it('loses nothing and doubles nothing while web, worker, database, bank and mail are killed at random', async function () {
    this.timeout(900_000)
    const { kills, threads, done, wrong } = await chaos({ seed: SEED, folder, goOn: killed => killed < KILLS })
    expect(wrong).to.deep.equal([])
    expect(Object.keys(kills)).to.have.members([
      'server/app/main.ts',
      'server/app/worker.ts',
      'stand-ins/main.ts',
      'database',
    ])
    expect(threads, `${done} acts were said to be done`).to.be.above(10)
  })
})
