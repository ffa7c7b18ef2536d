import { expect } from 'chai'
import { breaks, computePlan, type PlanOutcome, type Solve, stepsOf } from '#core/award/computePlan.ts'
import { awardsFor, compilePlan, minorOf, sharesOf } from '#core/award/compilePlan.ts'
import { eventBids, NO_TERMS, type PlanTerms, withTerms } from '#core/award/eventFacts.ts'
import { handPlan } from '#core/award/handPlan.ts'
import type { PlanBid, PlanFacts } from '#core/award/planFacts.ts'
import { planAgain } from '#core/award/planAgain.ts'
import { type Segment, segmentsOf } from '#core/award/problem.ts'
import { recheckPlan } from '#core/award/recheck.ts'
import { searchAward } from '#core/award/searchAward.ts'
import { whyNotTerms } from '#core/award/whyNotPlan.ts'
import { unitCostAt } from '#core/award/whyLines.ts'
import type { Wish, WishText } from '#core/award/wishes.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { ComparedSupplier } from '#core/source/compareAnswers.ts'
import { cheapestByTrying, smallProblem } from '#test-helpers/awards.ts'
import { answerOf, eventFacts, eventLine } from '#test-helpers/events.ts'

const bid = (lineId: string, supplierId: string, unitCost: string, changed: Partial<PlanBid> = {}): PlanBid => ({ lineId, supplierId, tiers: [{ from: '0', unitCost }], tierPrices: 'allUnits', capacity: '10', minimum: '', leadDays: 10, ...changed }) // prettier-ignore
const supplier = (id: string, changed: Partial<PlanFacts['suppliers'][number]> = {}): PlanFacts['suppliers'][number] => ({ id, country: 'NL', score: null, isNew: false, charge: '', rebates: [], rebateOn: 'everything', ...changed }) // prettier-ignore
/** Two lines of ten, three suppliers: A is cheapest for a, B for b, C dearer for both, near and well scored. */
const FACTS: PlanFacts = {
  currency: 'EUR',
  lines: [{ id: 'a', quantity: '10', incumbentId: 'C' }, { id: 'b', quantity: '10', incumbentId: null }], // prettier-ignore
  suppliers: [supplier('A', { score: '60.0' }), supplier('B', { score: '70.0', country: 'DE', isNew: true }), supplier('C', { score: '90.0' })], // prettier-ignore
  bids: [bid('a', 'A', '10'), bid('a', 'B', '11.5'), bid('a', 'C', '12'), bid('b', 'A', '21'), bid('b', 'B', '20', { leadDays: 40 }), bid('b', 'C', '22')], // prettier-ignore
  charges: [],
  bundles: [],
}
let count = 0
const wish = (what: WishText, changed: Partial<Wish> = {}): Wish => ({ id: `w${++count}`, must: true, worth: '', worthIn: 'amount', what, ...changed }) // prettier-ignore
const solve: Solve = (problem, _effort, start) => {
  let now = 0
  const search = searchAward(problem, { now: () => now++, until: 2000, gap: 0, ...(start ? { start } : {}) })
  for (;;) {
    const { value, done } = search.next()
    if (done) return Promise.resolve({ awards: value.awards, bound: value.bound })
  }
}
const planned = (wishes: readonly Wish[] = [], facts = FACTS): Promise<PlanOutcome> => computePlan(facts, wishes, solve)
const best = async (wishes: readonly Wish[], facts = FACTS): Promise<string[]> => {
  const { rows } = await planned(wishes, facts)
  const row = rows.find(one => one.key === 'best')
  return row ? [row.cost, ...row.shares.map(one => `${one.lineId}${one.supplierId}${one.quantity}`)] : []
}

describe('an award plan', () => {
  it('is the cheapest of all where nothing is wished, with what stands beside it', async () => {
    const { rows, prices, curve, conflict, short } = await planned()
    expect(rows.map(row => [row.key, row.cost, row.suppliers.length])).to.deep.equal([['best', '300.00', 2], ['withoutWishes', '300.00', 2], ['fewest', '310.00', 1], ['incumbents', '320.00', 2], ['scoreForMoney', '340.00', 1], ['byHand', '300.00', 2]]) // prettier-ignore
    expect(rows[0]).to.deep.include({ bound: '300.00', gap: '0.0000', leadDays: 40, score: '66.7', breaks: [] })
    expect(rows[0]!.suppliers).to.deep.equal([{ supplierId: 'A', amount: '100.00', lines: 1 }, { supplierId: 'B', amount: '200.00', lines: 1 }]) // prettier-ignore
    expect(rows.at(-1)).to.deep.include({ bound: null, gap: null })
    expect(curve).to.deep.equal([{ suppliers: 1, cost: '310.00', bound: '310.00' }, { suppliers: 2, cost: '300.00', bound: '300.00' }, { suppliers: 3, cost: '300.00', bound: '300.00' }]) // prettier-ignore
    expect([prices, conflict, short]).to.deep.equal([[], null, []])
  })

  it('says of each line what a unit costs, how much above the lowest price, and the amount', async () => {
    const tiers = [{ from: '0', unitCost: '10' }, { from: '7', unitCost: '8.5' }] // prettier-ignore
    const facts = { ...FACTS, lines: [...FACTS.lines, { id: 'none', quantity: '1', incumbentId: null }], bids: [bid('a', 'A', '', { tiers, tierPrices: 'incremental', capacity: '8' }), bid('a', 'B', '12.3333'), bid('b', 'C', '5')] } // prettier-ignore
    const { rows } = await planned([], facts)
    // six at 10, two at 8.5, two at 12.3333
    expect(rows[0]!.figures).to.deep.equal([{ lineId: 'a', each: '10.1667', above: '1.6667', amount: '101.67' }, { lineId: 'b', each: '5', above: '0', amount: '50.00' }]) // prettier-ignore
  })

  it('keeps every kind of wish', async () => {
    expect(await best([wish({ kind: 'mostSuppliers', count: 1 })])).to.deep.equal(['310.00', 'aA10', 'bA10'])
    expect(await best([wish({ kind: 'without', supplierId: 'A' })])).to.deep.equal(['315.00', 'aB10', 'bB10'])
    expect(await best([wish({ kind: 'scoreAtLeast', score: '70' })])).to.deep.equal(['315.00', 'aB10', 'bB10'])
    expect(await best([wish({ kind: 'deliveredWithin', days: 39 })])).to.deep.equal(['310.00', 'aA10', 'bA10'])
    expect(await best([wish({ kind: 'deliveredWithin', days: 40 })])).to.deep.equal(['300.00', 'aA10', 'bB10'])
    expect(await best([wish({ kind: 'nobodyNew', unlessScore: '' })])).to.deep.equal(['310.00', 'aA10', 'bA10'])
    expect(await best([wish({ kind: 'nobodyNew', unlessScore: '70' })])).to.deep.equal(['300.00', 'aA10', 'bB10'])
    expect(await best([wish({ kind: 'keepIncumbent', lineIds: ['a', 'b'] })])).to.deep.equal(['320.00', 'aC10', 'bB10'])
    expect(await best([wish({ kind: 'oneSupplier', lineIds: ['a', 'b'] })])).to.deep.equal(['310.00', 'aA10', 'bA10'])
    expect(await best([wish({ kind: 'shareLine', lineIds: ['b'], most: '60' })])).to.deep.equal(['304.00', 'aA10', 'bA4', 'bB6']) // prettier-ignore
    expect(await best([wish({ kind: 'twoSuppliers', lineIds: ['a'] })])).to.deep.equal(['301.50', 'aA9', 'aB1', 'bB10'])
    const share = (whom: { supplierIds?: string[]; country?: string }, limits: object): Wish => wish({ kind: 'share', whom: whom.country ? { kind: 'country', country: whom.country } : { kind: 'suppliers', supplierIds: whom.supplierIds! }, in: 'percent', least: '', most: '', ...limits }) // prettier-ignore
    const [cost, ...shares] = await best([share({ country: 'DE' }, { most: '40' })])
    expect([cost, shares.at(-1)]).to.deep.equal(['304.00', 'bB6'])
    expect(await best([share({ supplierIds: ['C'] }, { in: 'amount', least: '44' })])).to.deep.equal(['304.00', 'aA10', 'bB8', 'bC2']) // prettier-ignore
    expect(await best([share({ supplierIds: ['B'] }, { in: 'amount', most: '0' })])).to.deep.equal(['310.00', 'aA10', 'bA10']) // prettier-ignore
  })

  it('tells the price of each wish, and drops what is worth less', async () => {
    const few = wish({ kind: 'mostSuppliers', count: 1 })
    const kept = await planned([few, wish({ kind: 'without', supplierId: 'C' }, { id: 'free' })])
    expect(kept.prices).to.deep.equal([{ wishId: few.id, kept: true, price: '10.00' }, { wishId: 'free', kept: true, price: '0.00' }]) // prettier-ignore
    for (const [worth, worthIn, stays] of [
      ['10', 'amount', true],
      ['9.99', 'amount', false],
      ['3.3', 'percent', true],
      ['3', 'percent', false],
      ['', 'amount', true],
    ] as const) {
      // prettier-ignore
      const { rows, prices } = await planned([{ ...few, must: false, worth, worthIn }])
      expect([rows[0]!.cost, prices[0]!.kept, rows[0]!.breaks.length], `${worth} ${worthIn}`).to.deep.equal(stays ? ['310.00', true, 0] : ['300.00', false, 1]) // prettier-ignore
    }
  })

  it('names the fewest wishes that contradict each other, and what easing each would give', async () => {
    const one = wish({ kind: 'mostSuppliers', count: 1 })
    const keep = wish({ kind: 'keepIncumbent', lineIds: ['a'] })
    const out = wish({ kind: 'without', supplierId: 'C' })
    const idle = wish({ kind: 'deliveredWithin', days: 99 })
    expect((await planned([one, idle, out])).conflict).to.equal(null)
    const { rows, conflict, why, prices } = await planned([one, idle, out, keep])
    expect(conflict).to.deep.equal({ wishIds: [out.id, keep.id], proved: true, easing: [{ wishId: out.id, cost: '340.00' }, { wishId: keep.id, cost: '310.00' }] }) // prettier-ignore
    expect(rows.map(row => row.key)).to.deep.equal(['withoutWishes', 'fewest', 'incumbents', 'scoreForMoney', 'byHand'])
    expect([why, prices.map(price => price.kept)]).to.deep.equal([[], [false, false, false, false]])
    const hard = wish({ kind: 'share', whom: { kind: 'suppliers', supplierIds: ['C'] }, in: 'percent', least: '10', most: '' }) // prettier-ignore
    const clash = await planned([idle, out, hard])
    expect(clash.conflict).to.deep.equal({ wishIds: [out.id, hard.id], proved: true, easing: [{ wishId: out.id, cost: '304.00' }, { wishId: hard.id, cost: '300.00' }] }) // prettier-ignore
    expect(clash.rows.map(row => row.key)).to.not.include('best')
    // what need not be gives way
    const soft = await planned([idle, out, { ...hard, must: false, worth: '500' }])
    expect(soft.conflict!.wishIds).to.have.length(2)
    expect(soft.rows[0]).to.deep.include({ key: 'best', cost: '300.00', breaks: [hard.id] })
    expect(soft.prices.find(price => price.wishId === hard.id)).to.deep.equal({ wishId: hard.id, kept: false, price: null }) // prettier-ignore
  })

  it('says why a line does not go to the cheapest', async () => {
    const why = async (wishes: readonly Wish[], facts = FACTS) => (await planned(wishes, facts)).why.map(one => [one.lineId, one.cheapestId, one.because, one.cheaper]) // prettier-ignore
    expect(await why([])).to.deep.equal([])
    expect(await why([wish({ kind: 'without', supplierId: 'B' })])).to.deep.equal([['b', 'B', 'wish', '4.8']])
    expect(await why([wish({ kind: 'mostSuppliers', count: 1 })])).to.deep.equal([['b', 'B', 'oneMoreSupplier', '4.8']])
    expect(await why([wish({ kind: 'oneSupplier', lineIds: ['a', 'b'] })])).to.deep.equal([['b', 'B', 'together', '4.8']]) // prettier-ignore
    expect(await why([wish({ kind: 'shareLine', lineIds: ['b'], most: '60' })])).to.deep.equal([['b', 'B', 'capacity', '2.0']]) // prettier-ignore
    const charged = { ...FACTS, suppliers: FACTS.suppliers.map(one => (one.id === 'B' ? { ...one, charge: '30' } : one)) } // prettier-ignore
    expect(await why([], charged)).to.deep.equal([['b', 'B', 'notUsed', '4.8']])
    const rebate = { ...FACTS, suppliers: FACTS.suppliers.map(one => (one.id === 'A' ? { ...one, rebates: [{ from: '300', percent: '10' }] } : one)) } // prettier-ignore
    expect(await why([], rebate)).to.deep.equal([['b', 'B', 'notUsed', '4.8']])
    const least = { ...FACTS, bids: FACTS.bids.map(one => (one.supplierId === 'B' ? { ...one, minimum: '11', capacity: '20' } : one)) } // prettier-ignore
    expect(await why([], least)).to.deep.equal([['b', 'B', 'minimum', '4.8']])
    const three = { ...FACTS, lines: [...FACTS.lines, { id: 'c', quantity: '1', incumbentId: null }], bids: [...FACTS.bids, bid('c', 'B', '5', { capacity: '1' }), bid('c', 'A', '5.5', { capacity: '1' })], suppliers: rebate.suppliers.map(one => ({ ...one, rebates: one.rebates.map(() => ({ from: '305', percent: '10' })) })) } // prettier-ignore
    expect(await why([wish({ kind: 'share', whom: { kind: 'suppliers', supplierIds: ['B'] }, in: 'amount', least: '5', most: '' })], three)).to.deep.equal([['b', 'B', 'rebate', '4.8']]) // prettier-ignore
    expect(await why([wish({ kind: 'share', whom: { kind: 'suppliers', supplierIds: ['B'] }, in: 'amount', least: '', most: '100' })])).to.deep.equal([['b', 'B', 'limit', '2.4']]) // prettier-ignore
  })

  it('counts rebates both ways, charges and bundles', async () => {
    const on = (rebateOn: 'everything' | 'above') => ({ ...FACTS, suppliers: FACTS.suppliers.map(one => (one.id === 'A' ? { ...one, rebateOn, rebates: [{ from: '300', percent: '10' }, { from: '200', percent: '1' }] } : one)) }) // prettier-ignore
    expect((await best([], on('everything')))[0]).to.equal('279.00')
    // 310 − 1 % of 100 − 10 % of 10
    expect((await best([wish({ kind: 'mostSuppliers', count: 1 })], on('above')))[0]).to.equal('308.00')
    const bundle = { ...FACTS, bundles: [{ supplierId: 'C', lineIds: ['a', 'b'], percent: '12' }] }
    expect(await best([], bundle)).to.deep.equal(['299.20', 'aC10', 'bC10'])
    const once = { ...FACTS, charges: [{ supplierId: 'A', lineIds: ['a'], amount: '16' }, { supplierId: 'B', lineIds: ['a', 'b'], amount: '2' }] } // prettier-ignore
    expect(await best([], once)).to.deep.equal(['317.00', 'aB10', 'bB10'])
  })

  it('plans what can be had, and says what is missing', async () => {
    const facts = { ...FACTS, lines: [...FACTS.lines, { id: 'c', quantity: '5', incumbentId: null }, { id: 'd', quantity: '3.5', incumbentId: null }], bids: [...FACTS.bids, bid('d', 'A', '2', { capacity: '1.25' })] } // prettier-ignore
    const { short, rows } = await planned([], facts)
    expect(short).to.deep.equal([
      { lineId: 'c', missing: '5' },
      { lineId: 'd', missing: '2.25' },
    ])
    expect(rows[0]!.shares.at(-1)).to.deep.equal({ lineId: 'd', supplierId: 'A', quantity: '1.25' })
    expect(rows[0]!.cost).to.equal('302.50')
  })

  it('plans a line that nobody gives whole, by minimum or tier, as far as one gives it, and leaves out what nobody gives', async () => {
    const most = async (...bids: PlanBid[]) => {
      const { rows, short, conflict } = await planned([], { ...FACTS, lines: [...FACTS.lines, { id: 'd', quantity: '10', incumbentId: null }], bids: [...FACTS.bids, ...bids] }) // prettier-ignore
      const shares = rows[0]!.shares.filter(one => one.lineId === 'd').map(one => one.quantity)
      return [shares, short.map(one => one.missing), conflict]
    }
    expect(await most(bid('d', 'A', '2', { minimum: '11', capacity: '20' }))).to.deep.equal([[], ['10'], null])
    expect(await most(bid('d', 'A', '2', { tiers: [{ from: '50', unitCost: '1' }] }))).to.deep.equal([[], ['10'], null])
    expect(await most(bid('d', 'A', '2', { minimum: '6', capacity: '8' }), bid('d', 'B', '2', { minimum: '6', capacity: '7' }))).to.deep.equal([['8'], ['2'], null]) // prettier-ignore
    expect(await most(bid('d', 'A', '2', { capacity: '4' }), bid('d', 'B', '2', { capacity: '5' }))).to.deep.equal([['4', '5'], ['1'], null]) // prettier-ignore
  })

  it('goes on where somebody whose lines were cheaper together does not answer any more', async () => {
    const gone = { ...FACTS, bundles: [{ supplierId: 'gone', lineIds: ['a', 'b'], percent: '50' }] }
    expect((await best([], gone))[0]).to.equal('300.00')
  })

  it('keeps what was found before it is stopped, and calls nothing a contradiction for that', async () => {
    let asked = 0
    const once: Solve = (problem, effort, start) => (++asked === 1 ? solve(problem, effort, start) : Promise.resolve({ awards: start ?? null, bound: -Infinity })) // prettier-ignore
    const { rows, conflict } = await computePlan(FACTS, [wish({ kind: 'mostSuppliers', count: 1 })], once, () => asked > 0) // prettier-ignore
    expect(conflict).to.equal(null)
    expect(rows[0]).to.deep.include({ key: 'best', cost: '310.00', gap: '0.0000' })
    const nothing: Solve = () => Promise.resolve({ awards: null, bound: 5 })
    const stopped = await computePlan(FACTS, [wish({ kind: 'mostSuppliers', count: 1 })], nothing, () => true)
    expect([stopped.conflict, stopped.stopped]).to.deep.equal([null, true])
    const { rows: early } = await computePlan(FACTS, [], nothing, () => true)
    const costs = new Map(early.map(row => [row.key, row.cost]))
    expect(costs.get('best')).to.equal(costs.get('byHand')).and.to.be.a('string')
  })

  it('stops beside the best plan where somebody wants it to', async () => {
    const { rows, stopped, curve } = await computePlan(FACTS, [], solve, () => true)
    expect([rows.map(row => row.key), stopped, curve]).to.deep.equal([['best', 'withoutWishes', 'scoreForMoney', 'byHand'], true, []]) // prettier-ignore
    expect(stepsOf(FACTS, [wish({ kind: 'without', supplierId: 'A' })])).to.equal(9)
  })
})

describe('the way from facts to a problem and back', () => {
  it('is exact: quantities to the last digit, money in ten-thousandths', () => {
    const facts = { ...FACTS, lines: [{ id: 'a', quantity: '2.5', incumbentId: null }], bids: [bid('a', 'A', '3.3333', { capacity: '2.125', minimum: '0.5' }), bid('a', 'B', '3.4')] } // prettier-ignore
    const compiled = compilePlan(facts, [])
    expect([compiled.perUnit, compiled.perMoney, compiled.problem.demands]).to.deep.equal([1000, 10_000_000, [2500]])
    expect(compiled.problem.bids[0]![0]).to.deep.equal([{ least: 500, most: 2125, price: 33_333, base: 0 }])
    const shares = [{ lineId: 'a', supplierId: 'A', quantity: '2.125' }, { lineId: 'a', supplierId: 'B', quantity: '0.375' }] // prettier-ignore
    const awards = awardsFor(compiled, shares)
    expect(sharesOf(facts, compiled, awards)).to.deep.equal(shares)
    const { cost, faults } = recheckPlan(compiled.problem, awards)
    expect(faults).to.deep.equal([])
    // 2.125 × 3.3333 + 0.375 × 3.4 = 8.3582625
    expect([minorOf(cost, compiled.perMoney, 2), minorOf(cost, compiled.perMoney, 4)]).to.deep.equal([836n, 83_583n])
    expect(minorOf(-cost, compiled.perMoney, 2)).to.equal(-836n)
  })

  it('puts lines together that one supplier shall have, also where groups share a line', () => {
    const facts = { ...FACTS, lines: [...FACTS.lines, { id: 'c', quantity: '1', incumbentId: null }], bids: [...FACTS.bids, bid('c', 'A', '5', { capacity: '1' })], charges: [{ supplierId: 'A', lineIds: ['b', 'c'], amount: '4' }] } // prettier-ignore
    const together = compilePlan(facts, [wish({ kind: 'oneSupplier', lineIds: ['a', 'b'] }), wish({ kind: 'oneSupplier', lineIds: ['b', 'c'] })]) // prettier-ignore
    expect(together.lines).to.deep.equal([['a', 'b', 'c']])
    expect(together.problem.bids[0]).to.deep.equal([[{ least: 1, most: 1, price: 3_150_000, base: 0 }], undefined, undefined]) // prettier-ignore
    expect(together.problem.lotCharges).to.deep.equal([{ supplier: 0, lines: [0], amount: 40_000 }])
    expect(sharesOf(facts, together, [{ line: 0, supplier: 0, quantity: 1 }])).to.deep.equal([{ lineId: 'a', supplierId: 'A', quantity: '10' }, { lineId: 'b', supplierId: 'A', quantity: '10' }, { lineId: 'c', supplierId: 'A', quantity: '1' }]) // prettier-ignore
  })

  it('tells whether shares break a wish', () => {
    const shares = [
      { lineId: 'a', supplierId: 'A', quantity: '10' },
      { lineId: 'b', supplierId: 'B', quantity: '10' },
    ]
    expect(breaks(FACTS, wish({ kind: 'oneSupplier', lineIds: ['a', 'b'] }), shares)).to.equal(true)
    expect(breaks(FACTS, wish({ kind: 'oneSupplier', lineIds: ['a'] }), shares)).to.equal(false)
    expect(breaks(FACTS, wish({ kind: 'mostSuppliers', count: 1 }), shares)).to.equal(true)
    expect(breaks(FACTS, wish({ kind: 'mostSuppliers', count: 2 }), shares)).to.equal(false)
    expect(breaks(FACTS, wish({ kind: 'without', supplierId: 'B' }), shares)).to.equal(true)
    expect(breaks(FACTS, wish({ kind: 'twoSuppliers', lineIds: ['b'] }), shares)).to.equal(true)
  })

  it('keeps below each level of a rebate on what is above it the rate that held there', () => {
    const rebates = [
      { from: '300', percent: '5' },
      { from: '100', percent: '2.5' },
    ]
    const levels = (rebateOn: 'everything' | 'above') =>
      compilePlan({ ...FACTS, suppliers: [supplier('A', { rebates, rebateOn }), ...FACTS.suppliers.slice(1)] }, [])
        .problem.suppliers[0]!.levels
    const [hundred, threeHundred] = [100 * 10_000, 300 * 10_000]
    expect(levels('everything')).to.deep.equal([
      { from: 0, rate: 0, offset: 0 },
      { from: hundred, rate: 250, offset: 0 },
      { from: threeHundred, rate: 500, offset: 0 },
    ])
    expect(levels('above')).to.deep.equal([
      { from: 0, rate: 0, offset: 0 },
      { from: hundred, rate: 250, offset: 250 * hundred },
      { from: threeHundred, rate: 500, offset: 250 * hundred + 250 * threeHundred },
    ])
  })

  it('takes the unit cost of the tier that a quantity reaches, below all of them that of the first', () => {
    const tiers = [
      { from: '2', unitCost: '5' },
      { from: '4', unitCost: '4' },
      { from: '8', unitCost: '3' },
    ]
    const at = (quantity: string): string => unitCostAt(tiers, quantity).toString()
    expect(['1', '2', '3.9', '4', '9'].map(at)).to.deep.equal(['5', '5', '5', '4', '3'])
    expect(unitCostAt([], '1').toString()).to.equal('0')
  })

  it('leaves out charges of nothing, and of lines that are not there', () => {
    const charges = [
      { supplierId: 'A', lineIds: ['b'], amount: '0' },
      { supplierId: 'A', lineIds: ['none'], amount: '7' },
      { supplierId: 'B', lineIds: ['a'], amount: '7' },
    ]
    expect(compilePlan({ ...FACTS, charges }, []).problem.lotCharges).to.deep.equal([
      { supplier: 1, lines: [0], amount: 70_000 },
    ])
  })

  it('finds the cheapest plan, and no bound above it, where some bids are had in multiples only', async () => {
    const multiples = (segments: readonly Segment[] | undefined): Segment[] | undefined =>
      segments?.flatMap(one =>
        Array.from({ length: one.most - one.least + 1 }, (_each, at) => one.least + at)
          .filter(quantity => quantity % 2 === 0)
          .map(quantity => ({ ...one, least: quantity, most: quantity })),
      )
    for (let seed = 1; seed <= 150; seed++) {
      const whole = smallProblem(seed)
      const problem = { ...whole, bids: whole.bids.map(line => line.map((one, at) => (at % 2 === 0 ? multiples(one) : one))) } // prettier-ignore
      const cheapest = cheapestByTrying(problem)
      const { awards, bound } = await solve(problem, 'main')
      if (cheapest === null) expect(awards, `seed ${seed}`).to.equal(null)
      else {
        const { cost, faults } = recheckPlan(problem, awards!)
        expect([faults.length, cost], `seed ${seed}`).to.deep.equal([0, cheapest])
        expect(bound * 10_000, `seed ${seed}`).to.be.at.most(Number(cheapest) + 1)
      }
    }
  })

  it('takes only whole multiples of a bid, and refuses those that go into a line too often', async () => {
    const one = { capacity: 30, minimum: 4, tiers: [{ from: 1, price: 10 }, { from: 9, price: 8 }], tierPrices: 'allUnits' as const } // prettier-ignore
    expect(segmentsOf({ ...one, multiple: 3 }, 16).map(each => [each.least, each.most, each.price])).to.deep.equal([[6, 6, 10], [9, 9, 8], [12, 12, 8], [15, 15, 8]]) // prettier-ignore
    const facts = { ...FACTS, bids: [bid('a', 'A', '1', { multiple: '4' }), bid('a', 'B', '9'), bid('b', 'C', '5')] }
    const { problem, perUnit } = compilePlan(facts, [])
    const { awards } = await solve(problem, 'main')
    expect(recheckPlan(problem, awards!).cost).to.equal(cheapestByTrying(problem))
    expect(sharesOf(facts, compilePlan(facts, []), awards!).filter(share => share.lineId === 'a')).to.deep.equal([{ lineId: 'a', supplierId: 'A', quantity: '8' }, { lineId: 'a', supplierId: 'B', quantity: '2' }]) // prettier-ignore
    expect(perUnit).to.equal(1)
    const terms = (multiple: string): PlanTerms => ({ ...NO_TERMS, bids: { 'a A': { unitCost: '', capacity: '', multiple, tiers: [], tierPrices: 'allUnits' } } }) // prettier-ignore
    expect(withTerms(FACTS, terms('5')).bids[0]).to.include({ multiple: '5' })
    expect(whyNotTerms(FACTS, terms('0.1')).map(reason => reason.code)).to.deep.equal(['plan.multiple'])
    expect(whyNotTerms(FACTS, terms('5'))).to.deep.equal([])
  })

  it('takes what is tried in place of what was answered', () => {
    const tried = withTerms(FACTS, { ...NO_TERMS, quantities: { a: '20' }, suppliers: { A: { charge: '5', rebates: [], rebateOn: 'above' } }, bids: { 'a A': { unitCost: '9', capacity: '', tiers: [], tierPrices: 'allUnits' }, 'b B': { unitCost: '', capacity: '4', tiers: [{ from: '0', unitCost: '8' }, { from: '3', unitCost: '7' }], tierPrices: 'incremental' } }, bundles: [{ supplierId: 'A', lineIds: ['a', 'b'], percent: '1' }] }) // prettier-ignore
    expect(tried.lines[0]!.quantity).to.equal('20')
    expect(tried.suppliers[0]).to.deep.include({ charge: '5', rebateOn: 'above', score: '60.0' })
    expect(tried.bids[0]).to.deep.include({ capacity: '20', tiers: [{ from: '0', unitCost: '9' }] })
    expect(tried.bids[4]).to.deep.include({ capacity: '4', tierPrices: 'incremental', tiers: [{ from: '0', unitCost: '8' }, { from: '3', unitCost: '7' }] }) // prettier-ignore
    expect(tried.bundles).to.have.length(1)
    expect(withTerms(FACTS, NO_TERMS)).to.deep.equal(FACTS)
    expect([unitCostAt(tried.bids[4]!.tiers, '3').toString(), unitCostAt(tried.bids[4]!.tiers, '2.9').toString(), unitCostAt([], '1').toString()]).to.deep.equal(['7', '8', '0']) // prettier-ignore
  })
})

describe('a kept plan', () => {
  it('comes to the same when it is added up again, and says where it does not', async () => {
    const wishes = [wish({ kind: 'oneSupplier', lineIds: ['a', 'b'] }), wish({ kind: 'without', supplierId: 'B' })]
    const outcome = await planned(wishes)
    const again = planAgain(FACTS, wishes, outcome)
    expect(again.map(one => [one.key, one.same])).to.deep.equal(outcome.rows.map(row => [row.key, true]))
    const wrong = { rows: outcome.rows.map(row => ({ ...row, cost: '1.00' })) }
    expect(planAgain(FACTS, wishes, wrong)[0]).to.deep.equal({
      key: 'best',
      kept: '1.00',
      again: '310.00',
      same: false,
    })
  })
})

describe('the award made by hand', () => {
  it('goes line by line and leaves out who has least', () => {
    const { problem } = compilePlan(FACTS, [wish({ kind: 'mostSuppliers', count: 1 })])
    expect(handPlan(problem)!.map(one => one.supplier)).to.deep.equal([1, 1])
    expect(handPlan({ ...problem, mostSuppliers: 2 })!.map(one => one.supplier)).to.deep.equal([0, 1])
    expect(handPlan(problem, [1, 1, 0.5])!.map(one => one.supplier)).to.deep.equal([2, 2])
    expect(handPlan({ ...problem, demands: [99, 1] })).to.equal(null)
  })

  it('moves lines only where a limit is broken', () => {
    const { problem } = compilePlan(FACTS, [wish({ kind: 'share', whom: { kind: 'suppliers', supplierIds: ['B'] }, in: 'amount', least: '', most: '100' })]) // prettier-ignore
    expect(recheckPlan(problem, handPlan(problem)!).faults).to.deep.equal([])
  })
})

describe('the bids of an event', () => {
  const parts = [{ key: 'f', name: 'Freight', basis: 'perLot', kind: 'freight' }, { key: 't', name: 'Tooling', basis: 'perLine', kind: 'other' }, { key: 'u', name: 'Packing', basis: 'perUnit', kind: 'other' }] as const // prettier-ignore
  const event = eventFacts({ lines: [eventLine('a'), eventLine('b', { position: 2, incoterm: 'EXW' })], kind: { pricing: 'components', components: [...parts] } }) // prettier-ignore
  const compared = (changed: object = {}): ComparedSupplier => {
    const answer = answerOf(event, { a: '10', b: '20' })
    return { supplierId: 's1', name: 'S', standing: 'answered', onBehalf: false, rate: '2', costs: () => ({ freightPercent: '5', dutyPercent: '0' }), answer: { ...answer, lump: { lot: { f: '30' } }, lines: answer.lines.map(line => ({ ...line, minimum: '2', leadDays: 7, components: { t: '4', u: '1' } })) }, ...changed } // prettier-ignore
  }

  it('are unit costs as far as they go with the quantity, and charges for what falls due once', () => {
    const { bids, charges } = eventBids(event, [compared()])
    expect(bids).to.deep.equal([bid('a', 's1', '22', { minimum: '2', leadDays: 7 }), bid('b', 's1', '42', { minimum: '2', leadDays: 7 })]) // prettier-ignore
    expect(charges).to.deep.equal([{ supplierId: 's1', lineIds: ['a'], amount: '8' }, { supplierId: 's1', lineIds: ['b'], amount: '8' }, { supplierId: 's1', lineIds: ['a', 'b'], amount: '60' }]) // prettier-ignore
  })

  it('leave out who has no answer or no rate, and reckon freight in per cent where nobody prices it', () => {
    expect(eventBids(event, [compared({ answer: null }), compared({ rate: null })])).to.deep.equal({ bids: [], charges: [] }) // prettier-ignore
    const plain = compared()
    const { bids, charges } = eventBids(event, [{ ...plain, answer: { ...plain.answer!, lump: {} } }])
    expect(bids.map(one => one.tiers[0]!.unitCost)).to.deep.equal(['22', '44'])
    expect(charges).to.have.length(2)
    expect(new Decimal(bids[0]!.capacity).toString()).to.equal('10')
  })
})
