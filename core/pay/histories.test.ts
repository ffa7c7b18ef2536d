import { expect } from 'chai'
import fc from 'fast-check'
import type { Decision } from '#core/acts/decision.ts'
import { RUN_GROUPS, type RunState } from '#core/pay/states.ts'
import { isIn } from '#core/states.ts'
import { ADA } from '#test-helpers/orderToPay.ts'
import { BORIS, Treasury } from '#test-helpers/treasury.ts'

/** What people and the worker do; the rest is the bank, and what becomes of suppliers meanwhile. */
const OURS = [
  'propose',
  'approve',
  'withdraw',
  'leave',
  'leaveUnheard',
  'leaveInVain',
  'askRecall',
  'answerRecall',
] as const
const ACTS = [...OURS, 'books', 'refuses', 'returns', 'tells', 'tells', 'tellsAll', 'account', 'supplier'] as const

interface Try {
  readonly act: (typeof ACTS)[number]
  readonly run: number
  readonly payment: number
  readonly yes: boolean
}

const tries: fc.Arbitrary<Try[]> = fc.array(
  fc.record({
    act: fc.oneof(
      { weight: 2, arbitrary: fc.constantFrom(...ACTS) },
      { weight: 1, arbitrary: fc.constantFrom('propose' as const, 'approve' as const, 'leave' as const) },
      { weight: 1, arbitrary: fc.constantFrom('books' as const, 'tellsAll' as const) },
    ),
    run: fc.nat(3),
    payment: fc.nat(8),
    yes: fc.boolean(),
  }),
  { minLength: 15, maxLength: 60, size: 'max' },
)

function attempt(world: Treasury, { act, run, payment, yes }: Try): Decision<unknown> | undefined {
  const id = `E${payment + 1}`
  // mostly a run in which something can happen
  const open = world.runs.findIndex(one => isIn(RUN_GROUPS.open, one.state))
  const index = yes && open >= 0 ? open : run
  if (act === 'propose') return world.propose(yes ? ADA : BORIS)
  if (act === 'books') return void world.happens(id, 'booked')
  if (act === 'refuses') return void world.happens(id, 'refused')
  if (act === 'returns') return void world.happens(id, 'returned')
  if (act === 'tells') return void world.tell(id)
  if (act === 'tellsAll') return void [...world.fates.keys()].forEach(one => world.tell(one))
  if (act === 'account') return void (world.accountState = yes || payment > 1 ? 'proven' : 'unproven')
  if (act === 'supplier') return void (world.supplierState = yes || payment > 1 ? 'active' : 'barred')
  if (index >= world.runs.length) return undefined
  if (act === 'approve') return world.approve(index, run % 2 === 0 ? BORIS : ADA)
  if (act === 'withdraw') return world.withdraw(index)
  if (act === 'askRecall') return world.askRecall(index)
  if (act === 'answerRecall') {
    if (yes) world.askRecall(index)
    return world.answerRecall(index, payment > 3)
  }
  return world.leave(index, act !== 'leaveInVain', act === 'leave')
}

const pictured = (world: Treasury): string =>
  JSON.stringify([world.invoices, world.runs, world.payments, [...world.fates]], (_, value: unknown) =>
    typeof value === 'bigint' ? String(value) : value,
  )

describe('whatever happens to payment runs, and whatever the bank does and tells', () => {
  it('no invoice is paid twice, each has one payment on its way at most, and its lines are paid when it is', () => {
    const seen = new Map<string, number>()
    const reached = new Set<RunState>()
    fc.assert(
      fc.property(tries, history => {
        const world = new Treasury(3)
        for (const one of history) {
          const before = pictured(world)
          const decided = attempt(world, one)
          if (decided?.ok) seen.set(one.act, (seen.get(one.act) ?? 0) + 1)
          if (decided && !decided.ok) expect(pictured(world), `${one.act} was refused`).to.equal(before)
          expect(world.laws(), one.act).to.deep.equal([])
          for (const { id, state } of world.invoices) {
            expect(world.moneyOut(id), `${one.act}: money for ${id}`).to.be.at.most(1)
            expect(world.paid.get(id)?.toString() ?? '0', `${one.act}: lines of ${id}`).to.equal(
              state === 'paid' ? '4' : '0',
            )
          }
          for (const run of world.runs) reached.add(run.state)
        }
      }),
      { numRuns: 200, seed: 5 },
    )
    for (const act of OURS) expect(seen.get(act) ?? 0, `${act} happened`).to.be.above(5)
    expect([...reached].sort()).to.deep.equal([
      'answered',
      'approved',
      'proposed',
      'recalled',
      'sending',
      'sent',
      'withdrawn',
    ])
  })

  it('once the bank has told everything, what it booked is paid and what it did not is payable or on its way', () => {
    let paid = 0
    fc.assert(
      fc.property(tries, history => {
        const world = new Treasury(3)
        for (const one of history) attempt(world, one)
        // what is leaving is handed over until the bank has said that it has it
        world.accountState = 'proven'
        world.supplierState = 'active'
        for (const [index, run] of world.runs.entries()) if (run.state === 'sending') world.leave(index, true, true)
        for (const id of world.fates.keys()) world.tell(id)
        for (const { id, state } of world.invoices) {
          expect(state === 'paid', `${id} ${state}`).to.equal(world.moneyOut(id) === 1)
          if (state === 'paid') paid++
        }
        expect(world.laws()).to.deep.equal([])
      }),
      { numRuns: 200, seed: 19 },
    )
    expect(paid).to.be.above(20)
  })

  it('a run is taken back by its own undoing: its invoices can be proposed again, and the same act is refused', () => {
    const world = new Treasury(2)
    expect(world.propose().ok).to.equal(true)
    expect(world.propose(), 'nothing is left').to.have.nested.property('next.taken').that.deep.equals([])
    expect(world.withdraw(0).ok).to.equal(true)
    expect(world.withdraw(0).ok, 'withdrawn twice').to.equal(false)
    expect(world.propose().ok).to.equal(true)
    expect(world.approve(1, ADA).ok, 'by who proposed it').to.equal(false)
    expect(world.approve(1).ok).to.equal(true)
    expect(world.approve(1).ok, 'approved twice').to.equal(false)
    world.leave(1, true, false)
    expect(world.withdraw(1).ok, 'what may have left').to.equal(false)
    expect(world.askRecall(1).ok).to.equal(true)
    expect(world.askRecall(1).ok, 'asked twice').to.equal(false)
    expect(world.answerRecall(1, true, ADA).ok, 'answered by who asked').to.equal(false)
    expect(world.answerRecall(1, true).ok).to.equal(true)
    expect(world.invoices.map(one => one.state)).to.deep.equal(['cleared', 'cleared'])
    expect(world.leave(1, true, true).ok, 'a recalled run').to.equal(false)
    expect(world.open).to.equal(0)
    world.tell('E9')
    expect(world.open).to.equal(1)
  })
})
