import { expect } from 'chai'
import { answerConsent, type Consent, type ConsentNext } from '#core/consent/consent.ts'
import type { Decision } from '#core/acts/decision.ts'
import { freightOf } from '#core/order/charges.ts'
import { minor } from '#core/money/amount.ts'
import { orderActions } from '#core/order/actions.ts'
import { againstRequest, approvedFor, notAllowed, overApproved } from '#core/order/againstRequest.ts'
import { orderDesk } from '#core/order/desk.ts'
import {
  askExcess,
  decideExcess,
  excessActions,
  excessAfter,
  excessAmount,
  isStillWanted,
  whyNotAskExcess,
  withdrawExcess,
  wouldBe,
} from '#core/order/excess.ts'
import type { AskedExcess, OrderFacts } from '#core/order/facts.ts'
import type { OrderNext } from '#core/order/next.ts'
import { actorOf, ADA, NOBODY, OrderToPay } from '#test-helpers/orderToPay.ts'
import { asked } from '#test-helpers/runs.ts'

const PAYERS = new Map([
  ['a1', { costCentre: 'LS-210', holderId: 'marit' }],
  ['a2', { costCentre: 'AC-110', holderId: 'tomas' }],
  ['a3', { costCentre: 'ED-410', holderId: 'ada' }],
  ['a4', { costCentre: 'OH-900', holderId: null }],
])
const MARIT = actorOf('marit', { rights: new Set(['requisition.decide']) })
const codes = (one: Decision<unknown>): string[] => (one.ok ? [] : one.reasons.map(reason => reason.code))

/** An order of two lines: the first costs 101.00 against 100.00 with its share of charges, times `dear`. */
const dear = (charges = 1_001n) => new OrderToPay({ charges }).order()

const ask = (order: OrderFacts, next = order, actor = ADA, reason = 'Steel went up.') =>
  askExcess(order, next, PAYERS, { wanted: null }, actor, reason)

/** The order with the question asked, in a state. */
function withQuestion(order: OrderFacts, state: Consent['state'] = 'open', next = order): OrderFacts {
  const decided = ask(order, next)
  if (!decided.ok) throw new Error(codes(decided).join())
  const { upTo } = decided.next.asks.subject as { upTo: Record<string, string> }
  const consent = { ...asked(decided.next.asks, 'ada'), amount: excessAmount(decided.next.above), state }
  const excess: AskedExcess = {
    consent,
    revision: order.revision,
    upTo: new Map(Object.entries(upTo).map(([id, value]) => [id, minor(BigInt(value))])),
  }
  return { ...order, excess }
}

describe('an order above what was approved', () => {
  it('is so above 110 per cent of a line with its charges, and exactly there is not', () => {
    expect(overApproved(dear(1_000n))).to.deep.equal([])
    const [above] = overApproved(dear())
    expect([above!.line.id, above!.approved, above!.value]).to.deep.equal(['line1', 10_000n, 11_001n])
    expect(approvedFor(dear(), dear().lines[0]!)).to.equal(10_000n)
    expect(approvedFor(dear(), { ...dear().lines[0]!, quantity: '3' })).to.equal(3_000n)
    expect(approvedFor(dear(), { ...dear().lines[0]!, requestLineId: null })).to.equal(null)
    expect(overApproved({ ...dear(), requests: [] })).to.deep.equal([])
  })

  it('is asked about with what it costs above, and goes no further than was asked', () => {
    const decided = ask(dear())
    if (!decided.ok) throw new Error('It can be asked.')
    expect(excessAmount(decided.next.above)).to.equal(1_001n)
    expect(decided.did).to.deep.include({ action: 'excessAsked', reason: 'Steel went up.' })
    expect(decided.did.changes).to.deep.equal({ above: '10.01' })
    expect(decided.next.asks.subject).to.deep.equal({ wanted: null, revision: 0, upTo: { line1: '11001' } })
    const given = withQuestion(dear(), 'given')
    expect(againstRequest(given)).to.deep.equal([])
    expect(againstRequest({ ...given, charges: minor(1_002n) }).map(one => one.code)).to.deep.equal([
      'order.overApproved',
    ])
    for (const state of ['open', 'refused', 'withdrawn', 'dropped'] as const)
      expect(notAllowed(withQuestion(dear(), state)), state).to.have.length(1)
  })

  it('is decided by the holder of what pays; by who keeps the budgets where that is who asks, who requested it, or nobody', () => {
    const stepsOf = (...accounts: string[]) => {
      const lines = accounts.map(accountId => ({
        splits: [{ accountId, share: '1' }],
        requesterId: accountId === 'a2' ? 'tomas' : 'joren',
      }))
      const decided = ask(new OrderToPay({ charges: 10_000n, lines }).order())
      return decided.ok ? decided.next.asks.steps.map(({ asked: who, label, notBy }) => ({ who, label, notBy })) : []
    }
    const budgets = { kind: 'right', right: 'budget.write', costCentre: null }
    expect(stepsOf('a1', 'a1')).to.deep.equal([
      {
        who: [{ kind: 'person', personId: 'marit', right: 'requisition.decide' }],
        label: 'LS-210',
        notBy: ['ada', 'joren'],
      },
    ])
    expect(stepsOf('a4', 'a1').map(one => one.label)).to.deep.equal(['LS-210', 'OH-900'])
    for (const one of ['a2', 'a3', 'a4']) expect(stepsOf(one)[0]!.who, one).to.deep.equal([budgets])
  })

  it('is asked by who may order, once, with a reason, while it can change, and only where something is above', () => {
    expect(codes(ask(dear(), dear(), NOBODY))).to.deep.equal(['right.notYours'])
    expect(codes(ask(dear(), dear(), ADA, 'so'))).to.deep.equal(['order.excessReason'])
    expect(codes(ask(dear(1_000n)))).to.deep.equal(['order.excessNone'])
    expect(codes(ask({ ...dear(), state: 'closed' }))).to.deep.equal(['order.excessTooLate'])
    expect(codes(ask(withQuestion(dear())))).to.deep.equal(['order.excessAsked'])
    for (const state of ['draft', 'issued', 'acknowledged'] as const)
      expect(whyNotAskExcess({ ...dear(), state }, dear(), ADA), state).to.deep.equal([])
  })

  it('opens with the last yes only, and tells who asked', () => {
    const lines = [{ splits: [{ accountId: 'a1', share: '1' }] }, { splits: [{ accountId: 'a2', share: '1' }] }]
    const two = withQuestion(new OrderToPay({ charges: 10_000n, lines }).order())
    const first = decideExcess(two, MARIT, 'approve', '')
    if (!first.ok) throw new Error('Marit decides.')
    expect([first.next.excess!.state, first.says, first.did.action]).to.deep.equal(['open', [], 'decided'])
    const consent = { ...two.excess!.consent, steps: two.excess!.consent.steps.filter(step => step.label === 'AC-110') }
    const tomas = actorOf('tomas', { rights: new Set(['requisition.decide']) })
    const last = decideExcess({ ...two, excess: { ...two.excess!, consent } }, tomas, 'approve', 'So be it.')
    if (!last.ok) throw new Error('Tomas decides.')
    expect([last.next.excess!.state, last.next.state, last.next.revision]).to.deep.equal(['given', 'draft', 0])
    expect(last.did).to.deep.include({ action: 'excessApproved', reason: 'So be it.', changes: { rule: 'AC-110' } })
    expect(last.says[0]).to.deep.include({
      template: 'order.excess.approved',
      to: { kind: 'person', id: 'ada' },
      key: 'order-excess:consent',
    })
    expect(last.says[0]!.details).to.deep.equal({
      number: 'O-1',
      title: 'Pumps',
      currency: 'EUR',
      amount: '100.00',
      by: 'tomas',
      reason: 'So be it.',
      path: '/order/order',
    })
  })

  it('stays as it was with a no, which wants a reason; who asked may take the question back, others not', () => {
    const order = withQuestion(dear())
    expect(codes(decideExcess(order, MARIT, 'reject', ''))).to.deep.equal(['decide.noReason'])
    const no = decideExcess(order, MARIT, 'reject', 'Too dear.')
    expect(no.ok && [no.next.excess!.state, no.did.action, no.says[0]!.template]).to.deep.equal([
      'refused',
      'excessRefused',
      'order.excess.refused',
    ])
    expect(codes(decideExcess(order, ADA, 'approve', ''))).to.deep.equal(['order.ownExcess'])
    expect(codes(decideExcess(dear(), MARIT, 'approve', ''))).to.deep.equal(['decide.notOpen'])
    expect(codes(decideExcess(withQuestion(dear(), 'given'), MARIT, 'approve', ''))).to.deep.equal([
      'order.excessDecided',
    ])
    const back = withdrawExcess(order, ADA, 'Found another.')
    expect(back.ok && [back.next.excess!.state, back.did.action]).to.deep.equal(['withdrawn', 'excessWithdrawn'])
    expect(codes(withdrawExcess(order, MARIT, 'No.'))).to.deep.equal(['secondYes.notYours'])
    expect(codes(withdrawExcess(dear(), ADA, 'No.'))).to.deep.equal(['decide.notOpen'])
  })

  it('is no longer asked about once the order is another: edited, revised, settled, cancelled, closed', () => {
    const ends = (act: string, order = withQuestion(dear())): ConsentNext | undefined => excessAfter(order, act)
    for (const act of ['edited', 'revised', 'answerAccepted', 'cancel', 'close'])
      expect(ends(act)?.state, act).to.equal('dropped')
    for (const act of ['chased', 'answerRefused', 'excessApproved', 'decided'])
      expect(ends(act), act).to.equal(undefined)
    expect(ends('edited', withQuestion(dear(), 'given'))).to.equal(undefined)
    expect(ends('edited', dear())).to.equal(undefined)
  })

  it('can be as it would be after a change, or after the supplier’s answer', () => {
    const world = new OrderToPay()
    world.issue()
    const order = world.order()
    const line = order.lines[0]!
    const wanted = {
      title: order.title,
      message: '',
      charges: [],
      lines: [{ id: line.id, description: line.description, quantity: '10', price: '12', needBy: null }],
    }
    expect(notAllowed(wouldBe(order, wanted).order).map(one => one.value)).to.deep.equal([12_000n])
    const answer = {
      id: 'answer',
      revision: 0,
      lines: [{ lineId: line.id, quantity: '10', price: '13', date: '2026-08-01' }],
    }
    expect(notAllowed(wouldBe({ ...order, answer }, null).order).map(one => one.value)).to.deep.equal([13_000n])
    expect(wouldBe(order, null).order).to.equal(order)
    expect(wouldBe(order, { ...wanted, charges: freightOf(minor(-1n)) }).reasons.map(one => one.code)).to.deep.equal([
      'order.charges',
    ])
    const given = withQuestion(order, 'given', wouldBe(order, wanted).order)
    const change = (price: string) => wouldBe(given, { ...wanted, lines: [{ ...wanted.lines[0]!, price }] }).order
    expect(notAllowed(change('12'))).to.deep.equal([])
    expect(notAllowed(change('12.01'))).to.have.length(1)
  })

  it('offers its change as long as the order is the same and nobody said no', () => {
    expect(isStillWanted(dear())).to.equal(false)
    for (const [state, wanted] of [
      ['open', true],
      ['given', true],
      ['refused', false],
      ['dropped', false],
    ] as const)
      expect(isStillWanted(withQuestion(dear(), state)), state).to.equal(wanted)
    expect(isStillWanted({ ...withQuestion(dear(), 'given'), revision: 1 })).to.equal(false)
  })

  it('offers to everybody what is theirs, and waits on the Desk of who decides, not of the buyer', () => {
    const names = (order: OrderFacts, actor = ADA) =>
      excessActions(order, actor).map(one => `${one.action}${one.reasons.length > 0 ? '!' : ''}`)
    expect(names(dear())).to.deep.equal(['askExcess'])
    expect(names(dear(), NOBODY)).to.deep.equal([])
    expect(names(dear(1_000n))).to.deep.equal([])
    expect(names(withQuestion(dear()))).to.deep.equal(['approveExcess!', 'refuseExcess!', 'withdrawExcess'])
    expect(names(withQuestion(dear()), MARIT)).to.deep.equal(['approveExcess', 'refuseExcess'])
    const clock = { today: '2026-06-01', now: '2026-06-01T08:00:00Z', zone: 'UTC' }
    expect(orderActions(dear(), ADA, clock).map(one => one.action)).to.include('askExcess')
    const desk = (order: OrderFacts) =>
      orderDesk({ ...order, createdAt: '2026-06-01T08:00:00Z', place: '' }).map(one => one.key)
    expect(desk(dear())).to.deep.equal(['issue'])
    expect(desk(withQuestion(dear()))).to.deep.equal([])
    expect(desk(withQuestion(dear(), 'given'))).to.deep.equal(['issue'])
  })

  it('is the same consent as every other question', () => {
    const order: OrderFacts = withQuestion(dear())
    const decided = decideExcess(order, MARIT, 'approve', '') as { next: OrderNext }
    const answered = answerConsent(order.excess!.consent, MARIT, 'approve', '')
    expect(answered.ok && answered.next).to.deep.equal(decided.next.excess)
  })
})
