import { expect } from 'chai'
import { fuzz, FUZZ_ROLES } from '#test-helpers/fuzz/fuzz.ts'
import { Client, useWorld } from '#test-helpers/world.ts'
import { ReadSession } from '#contract/people/endpoints.ts'

/** Seconds in which acts are tried as several people, each at least once; `./ivory fuzz --minutes N` goes on for longer. */
const SECONDS = 40
const SEED = 20261127

describe('whatever is sent', () => {
  const world = useWorld()

  it('is answered or refused, never with a fault of ours, and the books re-add', async function () {
    this.timeout(SECONDS * 1000 + 600_000)
    const until = Date.now() + SECONDS * 1000
    const signIn = Object.entries(FUZZ_ROLES).map(([role, who]) => [role, async () => (await world.as(who)).cookie])
    const { requests, statuses, tried, operations, faults } = await fuzz({
      address: world.address,
      seed: SEED,
      roles: {
        nobody: () => Promise.resolve(''),
        ...(Object.fromEntries(signIn) as Record<string, () => Promise<string>>),
      },
      goOn: () => Date.now() < until,
    })
    expect(faults.map(fault => `${fault.status} ${fault.what} → ${fault.answer}`)).to.deep.equal([])
    expect(tried, `of ${operations} acts with ${requests} requests`).to.be.above(operations * 0.95)
    // a fuzzer whose requests are all turned away at the door finds nothing
    expect((statuses['200'] ?? 0) / requests).to.be.above(0.1)
    await new Client(world.address, '').do(ReadSession)
  })
})
