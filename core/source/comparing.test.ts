import { expect } from 'chai'
import fc from 'fast-check'
import { minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { AnswerContent } from '#core/source/answer.ts'
import { awardable, proposeAward, takeBackAward } from '#core/source/askAward.ts'
import type { AuctionEntry } from '#core/source/auctionRules.ts'
import { bidAnswers } from '#core/source/bidAnswers.ts'
import { compareAnswers, type ComparedSupplier } from '#core/source/compareAnswers.ts'
import { auctionEnd, bidAmounts, dayEntry, dayReason, dueOpenings, referenceOf, whyNotDayAct } from '#core/source/dayActs.ts' // prettier-ignore
import { lotForSupplier, lotForTeam } from '#core/source/daySeen.ts'
import { type InvitedStanding, lotRules } from '#core/source/event.ts'
import { whyNotGivePoints } from '#core/source/givePoints.ts'
import { landedBy, oursByIncoterm } from '#core/source/landedBy.ts'
import { outcomeFor } from '#core/source/outcome.ts'
import { placeBid } from '#core/source/placeBid.ts'
import { afterEntry, type LotStanding, replayLot } from '#core/source/replayLot.ts'
import { byRule, isComplete, scoreEvent } from '#core/source/scoreEvent.ts'
import { answerOf, eventFacts, eventLine, eventLot, invitedOne, NOW } from '#test-helpers/events.ts'

const codes = (reasons: readonly { readonly code: string }[]): string[] => reasons.map(one => one.code)
const NONE = { freightPercent: '0', dutyPercent: '0' }
const two = eventFacts({ lines: [eventLine('a', { reference: '12' }), eventLine('b', { position: 2, quantity: '4' })] })
const offer = (supplierId: string, answer: AnswerContent | null, changed: Partial<ComparedSupplier> = {}): ComparedSupplier => ({ supplierId, name: supplierId, standing: 'answered' as InvitedStanding, onBehalf: false, answer, rate: '1', costs: () => NONE, ...changed }) // prettier-ignore
const rasmus = { id: 'rasmus', name: 'Rasmus', rights: new Set(['event.write']), roles: [], costCentres: [], supplierId: null, standsInFor: [] } // prettier-ignore

describe('what a price is when the goods are here', () => {
  it('has freight, insurance and duty added as far as the Incoterm leaves them to us', () => {
    expect(oursByIncoterm('EXW')).to.deep.equal({ freight: true, insurance: true, duty: true })
    expect(oursByIncoterm('FOB')).to.deep.equal({ freight: true, insurance: true, duty: true })
    expect(oursByIncoterm('CPT')).to.deep.equal({ freight: false, insurance: true, duty: true })
    expect(oursByIncoterm('CIP')).to.deep.equal({ freight: false, insurance: false, duty: true })
    expect(oursByIncoterm('DDP')).to.deep.equal({ freight: false, insurance: false, duty: false })
    expect(oursByIncoterm(null)).to.deep.equal({ freight: false, insurance: false, duty: true })
  })

  const landed = (incoterm: string | null, answer: Partial<AnswerContent['lines'][number]> = {}, parts = false) => {
    const components = parts ? [{ key: 'f', name: 'Freight', basis: 'perUnit' as const, kind: 'freight' as const }] : []
    const event = eventFacts({
      lines: [eventLine('a', { incoterm })],
      kind: { components, landed: { insurancePercent: '1', insured: '1', dutyOn: 'goods', interestPercent: '0', interest: 'simple' } }, // prettier-ignore
    })
    const content = answerOf(event, { a: '100' })
    const lines = content.lines.map(line => ({ ...line, ...answer }))
    const facts = { kind: event.kind, lots: event.lots, lines: event.lines, rate: '2', costs: () => ({ freightPercent: '10', dutyPercent: '5' }) } // prettier-ignore
    return landedBy(facts, content, lines).get('a')!
  }

  it('is reckoned by country where nobody prices the freight that is ours, at the rate of the day', () => {
    // 10 × 100 × 2 = 2000; freight 10 % = 200; insurance 1 % of 2200 = 22; duty 5 % of 2000 = 100
    expect(landed('EXW').total.toString()).to.equal('2322')
    expect(landed('EXW').perUnit.toString()).to.equal('232.2')
    expect(landed('CIP').total.toString()).to.equal('2100')
    expect(landed('DDP').total.toString()).to.equal('2000')
    expect(landed('CPT').total.toString()).to.equal('2120')
    // 3 for each unit is what the freight is: 10 × 3 × 2 = 60; insurance 20.6
    expect(landed('EXW', { components: { f: '3' } }, true).total.toString()).to.equal('2180.6')
  })

  it('is for what is offered, also for a part and for a price for several', () => {
    expect(landed('DDP', { quantity: '4' }).total.toString()).to.equal('800')
    expect(landed('DDP', { priceBase: '10' }).total.toString()).to.equal('200')
    expect(landed('DDP', { price: '' }).total.toString()).to.equal('0')
  })

  it('shares lump sums inside their lot only', () => {
    const event = eventFacts({
      lots: [eventLot('lot'), eventLot('other', { position: 2 })],
      lines: [eventLine('a'), eventLine('b', { position: 2 }), eventLine('c', { position: 3, lotId: 'other' })],
      kind: { components: [{ key: 'f', name: 'Freight', basis: 'perLot', kind: 'freight' }] },
    })
    const answer = answerOf(event, { a: '30', b: '10', c: '10' }, { lump: { lot: { f: '40' }, other: { f: '5' } } })
    const found = landedBy({ kind: event.kind, lots: event.lots, lines: event.lines, rate: '1', costs: () => NONE }, answer, answer.lines) // prettier-ignore
    expect([...found.values()].map(one => one.total.toString())).to.deep.equal(['330', '110', '105'])
  })

  it('has no freight reckoned where the lot’s is priced', () => {
    const components = [{ key: 'f', name: 'Freight', basis: 'perLot' as const, kind: 'freight' as const }]
    const event = eventFacts({ lines: [eventLine('a', { incoterm: 'EXW' })], kind: { components } })
    const costs = () => ({ freightPercent: '10', dutyPercent: '0' })
    const cost = (lump: AnswerContent['lump']) => {
      const answer = answerOf(event, { a: '100' }, { lump })
      return landedBy({ kind: event.kind, lots: event.lots, lines: event.lines, rate: '1', costs }, answer, answer.lines).get('a')!.total.toString() // prettier-ignore
    }
    expect(cost({})).to.equal('1100')
    expect(cost({ lot: { f: '' } })).to.equal('1100')
    expect(cost({ lot: { f: '30' } })).to.equal('1030')
  })

  it('is worth less the later it is paid; no day named, or one before, counts as at once', () => {
    const event = eventFacts({ lines: [eventLine('a')], kind: { landed: { insurancePercent: '0', insured: '1', dutyOn: 'goods', interestPercent: '7.3', interest: 'simple' } } }) // prettier-ignore
    const paid = (paymentDays: number | null) => {
      const answer = answerOf(event, { a: '100' }, { paymentDays })
      return landedBy({ kind: event.kind, lots: event.lots, lines: event.lines, rate: '1', costs: () => NONE }, answer, answer.lines).get('a')!.total.toFixed(2) // prettier-ignore
    }
    expect([paid(null), paid(-30), paid(0), paid(100)]).to.deep.equal(['1000.00', '1000.00', '1000.00', '980.39'])
  })
})

describe('a comparison', () => {
  const a = offer('A', answerOf(two, { a: '10', b: '7' }))
  const b = offer('B', answerOf(two, { a: '11', b: '6' }))
  const bestOf = (suppliers: readonly ComparedSupplier[]) => compareAnswers(two, suppliers).lines.map(({ cells }) => [...cells.values()].filter(one => one.best).map(one => one.supplierId).join(' ')) // prettier-ignore

  it('marks the lowest landed cost of each line, all that are equally low', () => {
    expect(bestOf([a, b])).to.deep.equal(['A', 'B'])
    expect(bestOf([a, offer('C', answerOf(two, { a: '10.00', b: '9' }))])).to.deep.equal(['A C', 'A'])
  })

  it('says how far apart they are, and nothing where there are not two', () => {
    expect(compareAnswers(two, [a, b]).lines.map(one => one.spread)).to.deep.equal(['10', '16.7'])
    expect(compareAnswers(two, [a]).lines.map(one => one.spread)).to.deep.equal([null, null])
  })

  it('adds up what each has, and what all have, beside the same by reference', () => {
    const part = offer('P', answerOf(two, { b: '5' }))
    const { totals, common } = compareAnswers(two, [a, part])
    expect(common).to.equal(1)
    expect(totals.map(one => [one.lines, one.own.toString(), one.common?.toString(), one.reference?.toString()])).to.deep.equal([[2, '128', '28', '120'], [1, '20', '20', undefined]]) // prettier-ignore
  })

  it('shows whoever does not count beside it, never as the best', () => {
    const cheap = answerOf(two, { a: '1', b: '1' })
    for (const standing of ['suspended', 'withdrawn'] as const) {
      const { lines, totals } = compareAnswers(two, [a, offer('X', cheap, { standing })])
      expect(lines[0]!.cells.get('X')!.best).to.equal(false)
      expect(lines[0]!.cells.get('A')!.best).to.equal(true)
      expect(totals[1]!.common).to.equal(null)
    }
    expect(bestOf([a, offer('X', cheap, { rate: null })])).to.deep.equal(['A', 'A'])
    expect(bestOf([a, offer('X', null)])).to.deep.equal(['A', 'A'])
  })

  it('counts nobody who misses what nobody may miss', () => {
    const question = { key: 'q', label: '', kind: 'yesNo' as const, choices: [], must: 'yes', required: true, scoredBy: 'nobody' as const, points: {}, most: '1', weight: '0' } // prettier-ignore
    const event = { ...two, kind: { ...two.kind, sections: [{ title: '', weight: '1', questions: [question] }] } }
    const out = offer('X', answerOf(two, { a: '1', b: '1' }, { questions: { q: 'no' } }))
    const found = compareAnswers(event, [offer('A', answerOf(two, { a: '10', b: '7' }, { questions: { q: 'yes' } })), out]) // prettier-ignore
    expect(found.totals.map(one => one.knockedOut)).to.deep.equal([false, true])
    expect(found.lines[0]!.cells.get('X')!.best).to.equal(false)
    expect(found.common).to.equal(2)
  })

  it('marks parts, and has alternatives beside what was asked, also where that is not offered', () => {
    const other = { id: 'o', lineId: 'b', description: 'Another', price: '3', priceBase: '1', leadDays: 4, note: '' }
    const part = answerOf(two, { a: '10' }, { alternatives: [other] })
    const some = { ...part, lines: part.lines.map(line => (line.lineId === 'a' ? { ...line, quantity: '9', leadDays: 3 } : line)) } // prettier-ignore
    const { lines } = compareAnswers(two, [offer('A', some)])
    expect(lines[0]!.cells.get('A')).to.deep.include({ part: true, quantity: '9', leadDays: 3, alternatives: [] })
    expect(lines[1]!.cells.get('A')).to.deep.include({ price: '', landed: null, best: false, alternatives: [other] })
  })

  it('leaves out lines that were taken out', () => {
    const gone = { ...two, lines: [eventLine('a', { goneAt: NOW }), eventLine('b')] }
    expect(compareAnswers(gone, [a]).lines.map(one => one.line.id)).to.deep.equal(['b'])
  })

  it('of bids that stand takes each line’s amount for its whole quantity', () => {
    const event = eventFacts({ lines: [eventLine('a', { quantity: '3' })] })
    const rules = lotRules(event.lots[0]!, 'EUR', false)
    const log: AuctionEntry[] = [
      { kind: 'opened', lotId: 'lot', at: 0, endsAt: 9 },
      { kind: 'bid', lotId: 'lot', at: 1, bid: { id: '1', supplierId: 'A', total: minor(1000), lines: new Map([['a', minor(1000)]]) } }, // prettier-ignore
    ]
    const answers = bidAnswers(event, new Map([['lot', replayLot(rules, log)]]))
    expect(answers.get('A')!.lines[0]).to.deep.include({ price: '10.00', priceBase: '3' })
    const [line] = compareAnswers(event, [offer('A', answers.get('A')!)]).lines
    expect(line!.cells.get('A')!.landed!.total.toString()).to.equal('10')
    expect(bidAnswers(event, new Map([['lot', replayLot(rules, log.slice(0, 1))]])).size).to.equal(0)
  })
})

describe('scores of an event', () => {
  const question = (key: string, scoredBy: 'rule' | 'people' | 'nobody') => ({ key, label: key, kind: 'yesNo' as const, choices: [], must: '', required: true, scoredBy, points: { yes: '8', no: '2' }, most: '10', weight: '1' }) // prettier-ignore
  const kind = { ...two.kind, criteria: [{ key: 'price', weight: '50' }, { key: 'questions', weight: '50' }], sections: [{ title: '', weight: '1', questions: [question('r', 'rule'), question('p', 'people'), question('n', 'nobody')] }] } // prettier-ignore
  const answers = new Map([
    ['A', answerOf(two, { a: '10', b: '5' }, { questions: { r: 'yes', p: 'so' } })],
    ['B', answerOf(two, { a: '5', b: '2.5' }, { questions: { r: 'no' } })],
  ])
  const comparison = compareAnswers(two, [...answers].map(([id, answer]) => offer(id, answer))) // prettier-ignore
  const done = [{ personId: 'm', done: true }, { personId: 'r', done: true }] // prettier-ignore
  const given = (personId: string, supplierId: string, points: string) => ({
    personId,
    supplierId,
    question: 'p',
    points,
  })
  const all = [given('m', 'A', '10'), given('r', 'A', '6'), given('m', 'B', '4'), given('r', 'B', '4')]

  it('count what people give only when all are done, on average, with how far apart they were', () => {
    const scores = scoreEvent(kind, comparison, answers, done, all)
    expect(scores.complete).to.equal(true)
    expect(scores.questions.get('p')!.get('A')).to.deep.equal({ points: '8', spread: '4' })
    expect(scores.questions.get('r')!.get('A')).to.deep.equal({ points: '8', spread: null })
    // A: price 120 against 60: 50; questions (80 + 80) / 2 = 80 → 65. B: 100; (20 + 40) / 2 = 30 → 65: equal, the lower cost first
    expect(scores.scored.map(one => [one.supplierId, one.total!.toString()])).to.deep.equal([['B', '65'], ['A', '65']]) // prettier-ignore
    expect(scores.turns.map(one => one.supplierId)).to.deep.equal(['A', 'B'])
    const open = scoreEvent(kind, comparison, answers, [done[0]!, { personId: 'r', done: false }], all)
    expect(open.complete).to.equal(false)
    expect(open.questions.get('p')!.get('A')).to.deep.equal({ points: null, spread: null })
    expect(isComplete(kind, [])).to.equal(false)
    expect(isComplete({ sections: [] }, [])).to.equal(true)
  })

  it('give no points for no answer, and none that a rule does not name', () => {
    expect(byRule(question('r', 'rule'), undefined)).to.equal(null)
    expect(byRule(question('r', 'rule'), '')).to.equal(null)
    expect(byRule(question('r', 'rule'), 'perhaps')).to.equal('0')
    expect(byRule(question('r', 'rule'), 'no')).to.equal('2')
  })

  it('have nothing to say where nobody has a line in common', () => {
    const apart = compareAnswers(two, [offer('A', answerOf(two, { a: '1' })), offer('B', answerOf(two, { b: '1' }))])
    expect(scoreEvent(kind, apart, answers, done, all).scored).to.deep.equal([])
  })

  it('are given by scorers after the end, once, for what people score, from none to the most', () => {
    const over = eventFacts({ state: 'over', invited: [invitedOne('A', { answeredAt: NOW }), invitedOne('B')], kind })
    const me = { personId: 'm', done: false }
    const why = (points: object[], event = over, scorer: typeof me | null = me, isDone = false) => codes(whyNotGivePoints(event, scorer ?? undefined, points as never, isDone, NOW)) // prettier-ignore
    const point = { supplierId: 'A', question: 'p', points: '10' }
    expect(why([point])).to.deep.equal([])
    expect(why([point], over, null)).to.deep.equal(['right.notYours'])
    expect(why([point], eventFacts({ kind }))).to.deep.equal(['score.early'])
    expect(why([point], { ...over, state: 'deciding' })).to.deep.equal(['score.late'])
    expect(why([point], over, { ...me, done: true })).to.deep.equal(['score.done'])
    expect(why([{ ...point, points: '10.5' }, { ...point, points: '-1' }])).to.deep.equal(['score.points', 'score.points']) // prettier-ignore
    expect(why([{ ...point, question: 'r' }, { ...point, supplierId: 'B' }])).to.deep.equal(['score.question', 'score.question']) // prettier-ignore
    expect(why([], over, me, true)).to.deep.equal(['score.open'])
    expect(why([point], over, me, true)).to.deep.equal([])
  })
})

describe('an award', () => {
  const over = { ...two, state: 'over' as const }
  const comparison = compareAnswers(over, [offer('A', answerOf(two, { a: '10', b: '7' })), offer('B', answerOf(two, { a: '11', b: '6' }))]) // prettier-ignore
  const lines = awardable(comparison, new Set(['A', 'B']), (supplierId, lineId) => ({ minimum: supplierId === 'B' && lineId === 'b' ? '2' : '', multiple: '' })) // prettier-ignore
  const propose = (shares: object[], reason = '', event: typeof two = over, now = NOW) => proposeAward(event, lines, shares as never, reason, rasmus, now) // prettier-ignore

  it('costs what its shares cost at landed cost, and says what it is above the cheapest and what stays open', () => {
    const shared = propose([{ lineId: 'a', supplierId: 'B', quantity: '4' }, { lineId: 'a', supplierId: 'A', quantity: '6' }, { lineId: 'b', supplierId: 'B', quantity: '3' }], 'Two sources.') // prettier-ignore
    expect(shared.ok && { ...shared.next.award, shares: 0 }).to.deep.equal({ shares: 0, reason: 'Two sources.', cost: 12_200n, above: 400n, open: ['b'] }) // prettier-ignore
    expect(shared.ok && shared.next.state).to.equal('deciding')
  })

  it('is of what counts, within what is sold, with a reason where it is not the cheapest', () => {
    const dearer = propose([{ lineId: 'a', supplierId: 'B', quantity: '10' }])
    expect(!dearer.ok && codes(dearer.reasons)).to.deep.equal(['award.reason', 'award.notCheapest'])
    const less = propose([{ lineId: 'b', supplierId: 'B', quantity: '1' }])
    expect(!less.ok && codes(less.reasons)).to.deep.equal(['award.belowMinimum'])
    expect(awardable(comparison, new Set(['A']), () => ({ minimum: '', multiple: '' }))[0]!.perUnit.has('B')).to.equal(
      false,
    )
  })

  it('costs by the quantity that somebody gets, where prices go by it, and goes in whole multiples', () => {
    const tiered = answerOf(two, { a: '12', b: '6' })
    const cheaper = { ...tiered, lines: tiered.lines.map(line => ({ ...line, ...(line.lineId === 'a' ? { tiers: [{ from: '5', price: '11' }, { from: '10', price: '9' }], multiple: '5' } : {}) })) } // prettier-ignore
    const compared = compareAnswers(over, [offer('A', answerOf(two, { a: '10' })), offer('B', cheaper)])
    const cell = compared.lines[0]!.cells.get('B')!
    expect([cell.price, cell.best, cell.landed!.perUnit.toString()]).to.deep.equal(['9', true, '9'])
    expect(cell.tiers.map(tier => `${tier.from} ${tier.perUnit.toString()}`)).to.deep.equal(['0 12', '5 11', '10 9'])
    expect(compared.lines[0]!.cells.get('A')!.tiers).to.deep.equal([])
    const some = awardable(compared, new Set(['A', 'B']), id => ({ minimum: '', multiple: id === 'B' ? '5' : '' }))
    const give = (shares: Record<string, string>, reason = 'As planned.') => proposeAward(over, some, Object.entries(shares).map(([supplierId, quantity]) => ({ lineId: 'a', supplierId, quantity })), reason, rasmus, NOW) // prettier-ignore
    const whole = give({ B: '10' }, '')
    expect(whole.ok && [whole.next.award.cost, whole.next.award.above]).to.deep.equal([9000n, 0n])
    const shared = give({ A: '5', B: '5' })
    expect(shared.ok && [shared.next.award.cost, shared.next.award.above]).to.deep.equal([10_500n, 500n])
    const odd = give({ B: '4' })
    expect(!odd.ok && odd.reasons.map(one => [one.code, one.details?.multiple])).to.deep.equal([['award.notMultiple', '5']]) // prettier-ignore
  })

  it('is proposed once the end has come, whoever has said so', () => {
    const share = [{ lineId: 'a', supplierId: 'A', quantity: '10' }]
    const early = propose(share, '', { ...two, state: 'asking' })
    expect(!early.ok && codes(early.reasons)).to.deep.equal(['state.notNow'])
    expect(propose(share, '', { ...two, state: 'asking' }, two.endsAt!).ok).to.equal(true)
  })

  it('is taken back while it is open or stands, not once it is placed', () => {
    expect(takeBackAward({ ...two, state: 'awarded' }, null, rasmus, '').ok).to.equal(true)
    expect(takeBackAward({ ...two, state: 'settled' }, null, rasmus, '').ok).to.equal(false)
    const nobody = takeBackAward({ ...two, state: 'awarded' }, null, { ...rasmus, rights: new Set() }, '')
    expect(!nobody.ok && codes(nobody.reasons)).to.deep.equal(['right.notYours'])
  })

  it('tells others as much as the kind says', () => {
    const costs = new Map([['A', new Decimal(5)], ['B', new Decimal(7)]]) // prettier-ignore
    const shares = [{ lineId: 'a', supplierId: 'A', quantity: '3' }]
    expect(outcomeFor('nothing', 'B', shares, costs, minor(9))).to.deep.equal({
      won: [],
      place: null,
      winningPrice: null,
    })
    expect(outcomeFor('place', 'B', shares, costs, minor(9))).to.deep.equal({ won: [], place: 2, winningPrice: null })
    expect(outcomeFor('winningPrice', 'A', shares, costs, minor(9))).to.deep.equal({ won: [{ lineId: 'a', quantity: '3' }], place: 1, winningPrice: 9n }) // prettier-ignore
    expect(outcomeFor('winningPrice', 'C', shares, costs, minor(9))).to.deep.equal({ won: [], place: null, winningPrice: null }) // prettier-ignore
  })
})

describe('the day of an auction', () => {
  const event = eventFacts({ kind: { format: 'auction' }, opensAt: new Date(1000).toISOString(), lots: [eventLot('lot', { minutes: 1 }), eventLot('hand', { minutes: 2, byHand: true })] }) // prettier-ignore
  const fresh = new Map(event.lots.map(lot => [lot.id, replayLot(lotRules(lot, 'EUR', false), [])]))
  const after = (...entries: AuctionEntry[]) => new Map(event.lots.map(lot => [lot.id, replayLot(lotRules(lot, 'EUR', false), entries)])) // prettier-ignore

  it('opens lots at their time, whenever that is noticed; those opened by hand wait', () => {
    expect(dueOpenings(event, fresh, 999)).to.deep.equal([])
    expect(dueOpenings(event, fresh, 1000)).to.deep.equal([{ kind: 'opened', lotId: 'lot', at: 1000, endsAt: 61_000 }])
    expect(dueOpenings(event, fresh, 50_000)[0]!.at).to.equal(1000)
    expect(dueOpenings(event, after(...dueOpenings(event, fresh, 1000)), 2000)).to.deep.equal([])
    expect(dueOpenings({ ...event, state: 'over' }, fresh, 1000)).to.deep.equal([])
    expect(dueOpenings({ ...event, opensAt: null }, fresh, 1000)).to.deep.equal([])
  })

  it('ends when the last lot does; nobody knows when while one is paused or waits for a hand', () => {
    const opened: AuctionEntry = { kind: 'opened', lotId: 'lot', at: 1000, endsAt: 61_000 }
    const hand: AuctionEntry = { kind: 'opened', lotId: 'hand', at: 2000, endsAt: 122_000 }
    expect(auctionEnd(event, fresh)).to.equal(null)
    expect(auctionEnd(event, after(opened))).to.equal(null)
    expect(auctionEnd(event, after(opened, hand))).to.equal(122_000)
    expect(auctionEnd(event, after(opened, hand, { kind: 'paused', lotId: 'lot', at: 3000 }))).to.equal(null)
    expect(auctionEnd({ ...event, lots: [event.lots[0]!] }, fresh)).to.equal(61_000)
  })

  it('lets us do with each lot what its phase allows, with a reason for what changes the clock', () => {
    const open = after({ kind: 'opened', lotId: 'lot', at: 0, endsAt: 60_000 }).get('lot')!
    const paused = after({ kind: 'opened', lotId: 'lot', at: 0, endsAt: 60_000 }, { kind: 'paused', lotId: 'lot', at: 1 }).get('lot')! // prettier-ignore
    const can = (lot: LotStanding, at: number) => (['start', 'pause', 'resume', 'extend', 'end'] as const).filter(act => whyNotDayAct(event, lot, act, at).length === 0) // prettier-ignore
    expect(can(fresh.get('lot')!, 5)).to.deep.equal(['start', 'end'])
    expect(can(open, 59_999)).to.deep.equal(['pause', 'extend', 'end'])
    expect(can(open, 60_000)).to.deep.equal([])
    expect(can(paused, 99_999)).to.deep.equal(['resume', 'extend', 'end'])
    expect(codes(whyNotDayAct({ state: 'over' }, open, 'pause', 5))).to.deep.equal(['event.notOpen'])
    expect(codes(whyNotDayAct(event, open, 'start', 5))).to.deep.equal(['day.open'])
    expect(codes(dayReason('pause', '', 0))).to.deep.equal(['event.reason'])
    expect(dayReason('start', '', 0)).to.deep.equal([])
    expect(dayReason('resume', '', 0)).to.deep.equal([])
    expect(codes(dayReason('extend', 'Why so.', 0))).to.deep.equal(['day.seconds'])
    expect(dayEntry(event.lots[1]!, 'start', 0, 5)).to.deep.equal({ kind: 'opened', lotId: 'hand', at: 5, endsAt: 120_005 }) // prettier-ignore
    expect(dayEntry(event.lots[0]!, 'extend', 60, 5)).to.deep.equal({ kind: 'extended', lotId: 'lot', at: 5, bySeconds: 60 }) // prettier-ignore
    expect((['pause', 'resume', 'end'] as const).map(act => dayEntry(event.lots[0]!, act, 0, 5).kind)).to.deep.equal(['paused', 'resumed', 'endedEarly']) // prettier-ignore
  })

  it('takes one price for each line of a lot, rounded once at the line', () => {
    const lots = eventFacts({ lines: [eventLine('a', { quantity: '3' }), eventLine('b', { quantity: '2', reference: '1.5' }), eventLine('c', { lotId: 'x', reference: '2' })] }) // prettier-ignore
    const amounts = bidAmounts(lots, 'lot', { a: '0.335', b: '1' })
    expect(amounts.ok && [amounts.total, amounts.lines.get('a')]).to.deep.equal([301n, 101n])
    const missing = bidAmounts(lots, 'lot', { a: '1' })
    expect(!missing.ok && missing.reasons.map(one => one.place)).to.deep.equal(['lines.b'])
    expect(bidAmounts(lots, 'lot', { a: '1', b: '1', c: '1' }).ok).to.equal(false)
    expect(bidAmounts(lots, 'nowhere', {}).ok).to.equal(false)
    expect(referenceOf(lots, 'lot')).to.equal(null)
    expect(referenceOf(lots, 'x')).to.equal(2000n)
    expect(referenceOf(lots, 'nowhere')).to.equal(null)
  })
})

describe('whatever happens in an auction', () => {
  const act = fc.record({
    what: fc.constantFrom('bid', 'pause', 'resume', 'extend', 'remove', 'suspend', 'lift', 'end', 'wait'),
    supplier: fc.constantFrom('A', 'B', 'C'),
    amount: fc.integer({ min: 1, max: 500 }),
    wait: fc.integer({ min: 0, max: 40_000 }),
  })
  const shows = fc.record({ place: fc.boolean(), best: fc.boolean(), bidders: fc.boolean() })
  const SECRET = 7_000_000

  it('nobody reads another’s hidden figures, and clock, standing and log re-compute to the same', () => {
    fc.assert(
      fc.property(fc.array(act, { maxLength: 40 }), shows, fc.boolean(), (acts, shown, sealed) => {
        const lot = eventLot('lot', { minutes: 2, shows: shown, step: { kind: 'none', value: '', against: 'own' } })
        const rules = lotRules(lot, 'EUR', sealed)
        const log: AuctionEntry[] = [{ kind: 'opened', lotId: 'lot', at: 0, endsAt: 120_000 }]
        let now = 0
        let standing = replayLot(rules, log)
        const add = (entry: AuctionEntry): void => {
          log.push(entry)
          standing = afterEntry(rules, standing, entry)
        }
        acts.forEach((one, index) => {
          now += one.wait
          const common = { lotId: 'lot', at: now }
          if (one.what === 'bid') {
            const total = minor(SECRET + one.amount * 10 + 'ABC'.indexOf(one.supplier))
            const bid = { id: `${index}`, supplierId: one.supplier, total, lines: new Map([['a', total]]) }
            const placed = placeBid(
              rules,
              standing,
              { supplierId: one.supplier, accepted: true, reasons: [] },
              bid,
              now,
            )
            if (placed.ok) add(placed.entry)
          } else if (one.what === 'remove') {
            const bid = standing.bids.find(other => !other.out)
            if (bid) add({ ...common, kind: 'removed', bidId: bid.id })
          } else if (one.what === 'suspend') add({ ...common, kind: 'suspended', supplierId: one.supplier })
          else if (one.what === 'lift') add({ ...common, kind: 'lifted', supplierId: one.supplier })
          else if (one.what !== 'wait' && whyNotDayAct({ state: 'asking' }, standing, one.what, now).length === 0)
            add(dayEntry(lot, one.what, one.amount, now))
        })
        expect(replayLot(rules, log)).to.deep.equal(standing)
        for (const supplier of ['A', 'B', 'C']) {
          const seen = lotForSupplier(rules, standing, supplier, now)
          const text = JSON.stringify(seen)
          const others = standing.bids.filter(bid => bid.supplierId !== supplier)
          const best = standing.standing[0]?.bid.total
          for (const bid of others) {
            const figure = (Number(bid.total) / 100).toFixed(2)
            const may = shown.best && !sealed && bid.total === best
            const own = standing.bids.some(mine => mine.supplierId === supplier && mine.total === bid.total)
            if (!may && !own) expect(text).to.not.include(figure)
            expect(text).to.not.include(`"${bid.supplierId}"`)
          }
          if (sealed) expect([seen.place, seen.best, seen.bidders]).to.deep.equal([null, null, null])
        }
        const team = lotForTeam(rules, standing, now)
        if (sealed && team.phase !== 'over') expect(JSON.stringify(team)).to.not.match(/7\d{4}\.\d\d/)
      }),
      { numRuns: 300 },
    )
  })
})
