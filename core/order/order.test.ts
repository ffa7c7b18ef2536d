import { expect } from 'chai'
import type { Decision } from '#core/acts/decision.ts'
import { minor } from '#core/money/amount.ts'
import { check, stop } from '#core/reasons.ts'
import { orderActions } from '#core/order/actions.ts'
import { againstRequest } from '#core/order/againstRequest.ts'
import { answerOrder } from '#core/order/answerOrder.ts'
import { cancelOrder } from '#core/order/cancelOrder.ts'
import { freightOf } from '#core/order/charges.ts'
import { changeLines } from '#core/order/changeLines.ts'
import { closeOrder } from '#core/order/closeOrder.ts'
import { ACCEPT_DAYS, EXPECTED_DAYS, orderDesk } from '#core/order/desk.ts'
import { editDraft } from '#core/order/editDraft.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { issueOrder, takeOverOrder } from '#core/order/issueOrder.ts'
import { keptFigures, keptLaws, orderLaws } from '#core/order/laws.ts'
import { isBillable, isLate, isSettled, lastPromise, stillToCome, toBill, unbilled } from '#core/order/measures.ts'
import { reviseOrder } from '#core/order/reviseOrder.ts'
import { sealOrder } from '#core/order/sealOrder.ts'
import { acceptAnswer, refuseAnswer } from '#core/order/settleAnswer.ts'
import { lineValues, standingOf, valuesSoFar } from '#core/order/standing.ts'
import { ADA, actorOf, NOBODY, OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

/** Before anything is late. */
const CLOCK = { now: `${TODAY}T12:00:00.000Z`, today: TODAY }
const codes = (decided: Decision<unknown, unknown>): string[] =>
  decided.ok ? [] : decided.reasons.map(reason => reason.code)
const issued = (...[setting]: ConstructorParameters<typeof OrderToPay>): OrderToPay => {
  const world = new OrderToPay(setting)
  expect(codes(world.issue())).to.deep.equal([])
  return world
}
const STOPS = (allotted: bigint) => ({ a1: { allotted, level: 'stop' } }) as const

describe('issuing an order', () => {
  it('commits its value in place of what was reserved for it, and counts it as ordered on both lines', () => {
    const world = new OrderToPay({ charges: 500n })
    expect(world.amount('reserved')).to.equal(10_000n)
    world.issue()
    expect(world.amount('reserved')).to.equal(0n)
    expect(world.amount('committed', 'line1')).to.equal(10_500n)
    expect(world.order().lines[0]!.sums.ordered).to.equal('10')
    expect(world.order().requests[0]!.sums.ordered).to.equal('10')
  })

  it('keeps reserved what is requested and not on this order', () => {
    const world = issued({ lines: [{ requested: '25' }] })
    expect(world.amount('reserved')).to.equal(15_000n)
    expect(world.amount('committed')).to.equal(10_000n)
    // what this order has of it is not elsewhere: it can be revised up to all of it
    expect(codes(world.revise([{ line: 1, quantity: '25' }]))).to.deep.equal([])
    expect(codes(world.revise([{ line: 1, quantity: '25.000001' }]))).to.deep.equal(['order.overRequested'])
  })

  it('tells the supplier once, with the revision as a document', () => {
    const decided = new OrderToPay().issue()
    expect(decided.ok && decided.says).to.have.length(1)
    expect(decided.ok && decided.says[0]).to.deep.include({
      template: 'order.issued',
      to: { kind: 'supplier', id: 'supplier', message: 'orders' },
      key: 'order:order:0',
      attach: { orderId: 'order', revision: 0 },
    })
    expect(decided.ok && decided.next.issues).to.deep.equal({ reason: '' })
    expect(decided.ok && decided.did).to.deep.include({ action: 'issued', reason: null })
  })

  it('is refused to whoever may not, twice, without lines, and where the supplier takes none', () => {
    const world = new OrderToPay()
    expect(codes(world.issue(NOBODY))).to.deep.equal(['right.notYours'])
    const order = world.order()
    expect(codes(issueOrder({ ...order, lines: [] }, world.accounts(), ADA, ''))).to.deep.equal(['order.noLines'])
    const barred = { ...order, supplierReasons: [stop('order.supplier.barred')] }
    expect(codes(issueOrder(barred, world.accounts(), ADA, 'Because.'))).to.deep.equal(['order.supplier.barred'])
    world.issue()
    expect(codes(world.issue())).to.deep.equal(['state.notNow'])
  })

  it('that was made before this program was used commits the same, and tells the supplier nothing', () => {
    const world = new OrderToPay()
    const order = { ...world.order(), supplierReasons: [check('source.certificateMissing')] }
    const [taken, issued] = [
      takeOverOrder(order, world.accounts(), ADA),
      issueOrder(order, world.accounts(), ADA, 'So.'),
    ]
    if (!taken.ok || !issued.ok) throw new Error('Both have to be possible.')
    expect(taken.next).to.deep.equal(issued.next)
    expect([taken.quantity, taken.budget]).to.deep.equal([issued.quantity, issued.budget])
    expect(taken.says ?? []).to.deep.equal([])
    expect(taken.did).to.deep.include({ action: 'takenOver', reason: null })
    expect(taken.did.changes).to.deep.equal(issued.did.changes)
    expect(codes(takeOverOrder(order, world.accounts(), NOBODY))).to.deep.equal(['right.notYours'])
    const barred = { ...order, supplierReasons: [stop('order.supplier.barred')] }
    expect(codes(takeOverOrder(barred, world.accounts(), ADA))).to.deep.equal(['order.supplier.barred'])
    const poor = new OrderToPay({ charges: 500n, accounts: STOPS(10_499n) })
    expect(codes(takeOverOrder(poor.order(), poor.accounts(), ADA))).to.deep.equal(['budget.over'])
  })

  it('that was made before starts both ledgers where they stand: in, billed and spent so far, the rest committed', () => {
    const world = new OrderToPay({ charges: 500n, lines: [{}, { quantity: '4', price: '25' }] })
    const soFar = [
      { received: '6', billed: '2', promised: '2026-06-20' },
      { received: '0', billed: '0', promised: null },
    ]
    const taken = takeOverOrder(world.order(), world.accounts(), ADA, soFar)
    if (!taken.ok) throw new Error('It has to be possible.')
    const of = (kind: string, lineId: string) => taken.quantity.filter(one => one.kind === kind && one.lineId === lineId).map(one => one.quantity) // prettier-ignore
    const [first, second] = world.order().lines
    expect(['ordered', 'received', 'billed', 'confirmed'].map(kind => of(kind, first!.id))).to.deep.equal([['10'], ['6'], ['2'], ['10']]) // prettier-ignore
    expect(['ordered', 'received', 'billed', 'confirmed'].map(kind => of(kind, second!.id))).to.deep.equal([['4'], [], [], []]) // prettier-ignore
    const amount = (kind: string, lineId: string) => taken.budget.filter(one => one.kind === kind && one.lineId === lineId).reduce((sum, one) => sum + one.amount, 0n) // prettier-ignore
    // a line of 100.00 with half of 5.00 freight: a fifth is billed, four tenths wait for their bill
    expect([amount('committed', first!.id), amount('spent', first!.id), amount('accrued', first!.id)]).to.deep.equal([8200n, 2050n, 4100n]) // prettier-ignore
    expect([amount('committed', second!.id), amount('spent', second!.id)]).to.deep.equal([10_250n, 0n])
    expect(taken.next.before).to.deep.equal([{ lineId: first!.id, received: '6', billed: '2' }])
    expect([taken.next.state, taken.next.promises]).to.deep.equal(['issued', [{ lineId: first!.id, date: '2026-06-20' }]]) // prettier-ignore
    const both = takeOverOrder(world.order(), world.accounts(), ADA, soFar.map(one => ({ ...one, promised: '2026-06-20' }))) // prettier-ignore
    expect(both.ok && both.next.state).to.equal('acknowledged')
    const poor = new OrderToPay({ charges: 500n, accounts: STOPS(10_499n) })
    expect(codes(takeOverOrder(poor.order(), poor.accounts(), ADA, [{ received: '10', billed: '9', promised: null }]))).to.deep.equal(['budget.over']) // prettier-ignore
  })

  it('wants a reason where something has to be looked at, and keeps it', () => {
    const world = new OrderToPay()
    const order = { ...world.order(), supplierReasons: [check('source.certificateMissing')] }
    expect(codes(issueOrder(order, world.accounts(), ADA, ''))).to.deep.equal([
      'order.checkReason',
      'source.certificateMissing',
    ])
    const decided = issueOrder(order, world.accounts(), ADA, 'It is on its way.')
    expect(decided.ok && decided.did.reason).to.equal('It is on its way.')
  })

  it('is refused where an account that stops would be overdrawn by the charges, and passes at the last cent', () => {
    expect(codes(new OrderToPay({ charges: 500n, accounts: STOPS(10_499n) }).issue())).to.deep.equal(['budget.over'])
    expect(codes(new OrderToPay({ charges: 500n, accounts: STOPS(10_500n) }).issue())).to.deep.equal([])
  })

  it('is refused above what was requested, and above 110 per cent of what was approved, charges and all', () => {
    const world = new OrderToPay({ lines: [{ requested: '8' }] })
    const [reason] = againstRequest(world.order())
    expect(reason).to.deep.include({ code: 'order.overRequested', place: 'lines.1.quantity', clearedBy: ['requester'] })
    expect(reason!.details).to.deep.equal({ line: 'Line 1', open: '8', wanted: '10' })
    const elsewhere = new OrderToPay({ lines: [{ requested: '25' }] }).order()
    const more = (ordered: string) =>
      againstRequest({
        ...elsewhere,
        requests: elsewhere.requests.map(request => ({ ...request, sums: { ...request.sums, ordered } })),
      }).map(one => one.details)
    expect(more('15')).to.deep.equal([])
    expect(more('15.5')).to.deep.equal([{ line: 'Line 1', open: '9.5', wanted: '10' }])
    expect(codes(new OrderToPay({ charges: 1_000n }).issue())).to.deep.equal([])
    const dear = new OrderToPay({ charges: 1_001n })
    expect(againstRequest(dear.order())[0]).to.deep.include({
      code: 'order.overApproved',
      place: 'lines.1.price',
      details: { line: 'Line 1', approved: 'EUR 100.00', wanted: 'EUR 110.01', percent: 10 },
    })
    expect(codes(dear.issue())).to.deep.equal(['order.overApproved'])
  })
})

describe('a draft', () => {
  it('is written anew without anything in the ledgers, lines may go but not all', () => {
    const world = new OrderToPay({ lines: [{}, { quantity: '2' }] })
    const { lines, ...head } = world.wanted([{ line: 1, price: '12' }], 250n)
    const decided = editDraft(world.order(), { ...head, lines: [lines[0]!] }, ADA)
    expect(decided.ok && decided.next.removed).to.deep.equal(['line2'])
    expect(decided.ok && decided.next.head).to.deep.include({ total: 12_250n, baseTotal: 12_250n, charges: 250n })
    expect(decided.ok && decided.next.lines).to.have.length(1)
    expect(decided.ok && [decided.quantity, decided.budget, decided.says]).to.deep.equal([[], [], []])
    expect(codes(editDraft(world.order(), { ...head, lines: [] }, ADA))).to.deep.equal(['order.noLines'])
  })

  it('is only a draft until it is issued, and only for buyers', () => {
    const world = new OrderToPay()
    expect(codes(editDraft(world.order(), world.wanted(), NOBODY))).to.deep.equal(['right.notYours'])
    world.issue()
    expect(codes(editDraft(world.order(), world.wanted(), ADA))).to.deep.equal(['order.notADraft'])
  })

  it('takes no line twice, none of another order, and no figures that are none', () => {
    const world = new OrderToPay({ lines: [{}, {}] })
    const at = (lines: Parameters<typeof changeLines>[1]['lines'], charges = 0n): string[] =>
      changeLines(world.order(), { ...world.wanted(), lines, charges: freightOf(minor(charges)) }).reasons.map(
        ({ code, place }) => `${code} ${place}`,
      )
    const [first, second] = world.wanted().lines
    expect(at([first!, first!, second!])).to.deep.equal(['order.lineTwice lines.1'])
    expect(at([first!, { ...second!, id: 'another' }])).to.deep.equal(['order.foreignLine lines.1'])
    expect(at([{ ...first!, quantity: '0' }])).to.deep.equal(['line.quantity lines.1.quantity'])
    expect(at([{ ...first!, quantity: 'many', price: '-1' }])).to.deep.equal([
      'line.quantity lines.1.quantity',
      'order.priceBelowZero lines.1.price',
    ])
    expect(at([{ ...first!, price: '0' }])).to.deep.equal([])
    expect(at([first!], -1n)).to.deep.equal(['order.charges charges'])
  })
})

describe('a revision', () => {
  it('moves the commitment to the new value, the ordered quantity with it, and asks the supplier again', () => {
    const world = issued()
    world.answer()
    expect(world.order().lines[0]!.sums.confirmed).to.equal('10')
    const decided = world.revise([{ line: 1, quantity: '8', price: '10.5' }])
    expect(decided.ok && decided.next).to.deep.include({ state: 'issued', revision: 1 })
    expect(decided.ok && decided.next.head).to.deep.include({ total: 8_400n, needBy: '2026-07-01' })
    expect(world.amount('committed')).to.equal(8_400n)
    expect(world.amount('reserved')).to.equal(2_000n)
    expect(world.order().lines[0]!.sums).to.deep.include({ ordered: '8', confirmed: '0' })
    expect(decided.ok && decided.says[0]!.template).to.equal('order.revised')
  })

  it('lowered in price after a part was billed leaves what may still be billed, never less than nothing', () => {
    const world = issued({ lines: [{ price: '85' }] })
    world.receive([{ line: 1, quantity: '10' }])
    world.bill([{ line: 1, quantity: '9' }])
    expect(codes(world.postInvoice(0))).to.deep.equal([])
    expect(codes(world.revise([{ line: 1, price: '60' }]))).to.deep.equal([])
    expect(world.amount('committed')).to.equal(6_000n)
    expect(world.amount('accrued')).to.equal(6_000n)
    expect(world.amount('spent')).to.equal(76_500n)
    expect(world.laws()).to.deep.equal([])
  })

  it('frees no budget that is spent: a stop account cannot be overdrawn by it', () => {
    const world = new OrderToPay({ lines: [{ price: '85' }, { price: '100' }], accounts: STOPS(185_000n) })
    world.issue()
    world.receive([{ line: 1, quantity: '10' }])
    world.bill([{ line: 1, quantity: '9' }])
    world.postInvoice(0)
    world.revise([{ line: 1, price: '1' }])
    // 85.00 of ten pieces were never billed; only the difference of that one is free
    expect(world.accounts()[0]!.sums).to.deep.include({ committed: 100_100n, spent: 76_500n })
    expect(codes(world.revise([{ line: 2, price: '108.4' }]))).to.deep.equal([])
    expect(codes(world.revise([{ line: 2, price: '108.41' }]))).to.deep.equal(['budget.over'])
  })

  it('freight alone is a change, and asks again when it goes beyond what was approved', () => {
    const world = issued()
    expect(codes(world.revise([], 1_000n))).to.deep.equal([])
    expect(world.amount('committed')).to.equal(11_000n)
    expect(codes(world.revise([], 1_001n))).to.deep.equal(['order.overApproved'])
    expect(codes(world.revise([], 1_000n))).to.deep.equal(['order.nothingChanged'])
  })

  it('is refused without a reason, below what is in or billed, without a change, and with a line left out', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '6' }])
    expect(codes(world.revise([{ line: 1, quantity: '6' }], 0n, '  a '))).to.deep.equal(['order.changeWantsReason'])
    expect(codes(world.revise([{ line: 1, quantity: '5.999999' }]))).to.deep.equal(['order.belowProgress'])
    expect(codes(world.revise([{ line: 1, quantity: '10.0' }]))).to.deep.equal(['order.nothingChanged'])
    const none = { ...world.wanted(), lines: [] }
    expect(codes(reviseOrder(world.order(), none, world.accounts(), ADA, 'Why not'))).to.deep.equal([
      'order.lineCannotGo',
    ])
    expect(codes(reviseOrder(world.order(), none, world.accounts(), NOBODY, 'Why not'))).to.deep.equal([
      'right.notYours',
    ])
    expect(codes(world.revise([{ line: 1, quantity: '6' }]))).to.deep.equal([])
  })

  it('says which title or message changed even where no figure did', () => {
    const world = issued()
    const order = world.order()
    for (const changed of [{ title: 'Valves' }, { message: 'Ring first.' }])
      expect(
        codes(reviseOrder(order, { ...world.wanted(), ...changed }, world.accounts(), ADA, 'Better so.')),
      ).to.deep.equal([])
  })

  it('replaces an answer that waits', () => {
    const world = issued()
    world.answer([{ quantity: '8' }])
    const decided = world.revise([{ line: 1, quantity: '9' }])
    expect(decided.ok && decided.next.answer).to.deep.equal({ state: 'superseded', reason: '' })
  })
})

describe('a supplier’s answer', () => {
  it('without departures confirms at once, with them it waits and moves nothing', () => {
    const world = issued()
    const before = world.books()
    const decided = world.answer([{ price: '11' }])
    expect(decided.ok && decided.did.action).to.equal('answeredDifferently')
    expect(world.order()).to.deep.include({ state: 'issued' })
    expect(world.books()).to.equal(before)
    expect(codes(world.answer())).to.deep.equal(['order.responseWaiting'])
    world.refuseAnswer()
    const again = world.answer()
    expect(again.ok && again.next.state).to.equal('acknowledged')
    expect(world.order().lines[0]).to.deep.include({ promisedDate: '2026-07-01' })
  })

  it('answers every line once, with figures that are none below nothing, and the current revision only', () => {
    const world = issued({ lines: [{}, {}] })
    expect(codes(world.answer([{}, { lineId: 'line1' }]))).to.deep.equal(['order.answerEveryLine'])
    expect(codes(world.answer([{}, { lineId: 'line3' }]))).to.deep.equal(['order.answerEveryLine'])
    expect(codes(world.answer([{ quantity: '-1' }]))).to.deep.equal(['order.answerNegative'])
    expect(codes(world.answer([{ price: '1e3' }]))).to.deep.equal(['order.answerNegative'])
    expect(codes(world.answer([{ quantity: '1', price: '-1' }]))).to.deep.equal(['order.answerNegative'])
    const two = world.promise()
    expect(codes(answerOrder(world.order(), 0, [...two, two[0]!], ADA, ''))).to.deep.equal(['order.answerEveryLine'])
    expect(codes(answerOrder(world.order(), 0, two.slice(1), ADA, ''))).to.deep.equal(['order.answerEveryLine'])
    expect(codes(world.answer([{ quantity: '0' }]))).to.deep.equal([])
    world.revise([{ line: 1, quantity: '9' }])
    expect(codes(world.answer([], 0))).to.deep.equal(['order.superseded'])
    world.close()
    expect(codes(world.answer())).to.deep.equal(['order.isClosed'])
    const gone = issued()
    gone.cancel()
    expect(codes(gone.answer())).to.deep.equal(['order.isCancelled'])
  })

  it('that is dearer makes a revision when it is accepted, one that is less or later is only the promise', () => {
    const dearer = issued()
    dearer.answer([{ price: '10.8' }])
    const accepted = dearer.acceptAnswer()
    expect(accepted.ok && accepted.did.changes)
      .to.have.property('differences')
      .with.length(1)
    expect(accepted.ok && accepted.next).to.deep.include({ state: 'acknowledged', revision: 1 })
    expect(accepted.ok && accepted.next.answer).to.deep.equal({ state: 'accepted', reason: '' })
    expect(accepted.ok && accepted.says.map(mail => mail.template)).to.deep.equal([
      'order.revised',
      'order.answer.accepted',
    ])
    expect(dearer.amount('committed')).to.equal(10_800n)
    expect(dearer.order().lines[0]!.sums.confirmed).to.equal('10')
    const later = issued()
    later.answer([{ quantity: '7', date: '2026-08-01' }])
    expect(
      orderActions(later.order(), ADA, CLOCK)
        .filter(one => one.primary)
        .map(one => one.action),
    ).to.deep.equal(['acceptAnswer'])
    const taken = later.acceptAnswer()
    expect(taken.ok && taken.did.changes).to.deep.equal({})
    expect(taken.ok && taken.says).to.have.length(1)
    expect(taken.ok && taken.next.revision).to.equal(0)
    expect(later.amount('committed')).to.equal(10_000n)
    expect(later.order().lines[0]).to.deep.include({ promisedDate: '2026-08-01', quantity: '10' })
    expect(later.order().lines[0]!.sums.confirmed).to.equal('7')
  })

  it('beyond what was approved or requested is refused like any revision', () => {
    const world = issued()
    world.answer([{ price: '11.01' }])
    expect(codes(world.acceptAnswer())).to.deep.equal(['order.overApproved'])
    world.refuseAnswer()
    world.answer([{ quantity: '11' }])
    expect(codes(world.acceptAnswer())).to.deep.equal(['order.overRequested'])
  })

  it('is settled once, by a buyer, with a reason when it is refused', () => {
    const world = issued()
    world.answer([{ quantity: '8' }])
    const order = world.order()
    expect(codes(refuseAnswer(order, 'answer', ADA, ''))).to.deep.equal(['decide.noReason'])
    expect(codes(refuseAnswer(order, 'another', ADA, 'Too few.'))).to.deep.equal(['order.responseAnswered'])
    expect(codes(acceptAnswer(order, 'answer', [], NOBODY, ''))).to.deep.equal(['right.notYours'])
    const stale = { ...order, answer: { ...order.answer!, revision: 3 } }
    expect(codes(acceptAnswer(stale, 'answer', [], ADA, ''))).to.deep.equal(['order.responseAnswered'])
    const refused = world.refuseAnswer()
    expect(refused.ok && refused.says[0]).to.deep.include({
      template: 'order.answer.refused',
      key: 'order-answer:answer',
    })
    expect(codes(world.acceptAnswer())).to.deep.equal(['order.responseAnswered'])
  })
})

describe('the end of an order', () => {
  it('cancelled, nothing of it stands; where the need remains it is reserved again', () => {
    const world = issued({ charges: 100n })
    const cancelled = world.cancel(true)
    expect(cancelled.ok && cancelled.next.endedRequests).to.deep.equal([])
    expect(cancelled.ok && cancelled.says[0]!.template).to.equal('order.cancelled')
    expect([world.amount('committed'), world.amount('reserved')]).to.deep.equal([0n, 10_000n])
    expect(codes(world.cancel())).to.deep.equal(['state.notNow'])
  })

  it('without the need its requested lines end, but those that are ordered elsewhere too', () => {
    const gone = issued()
    const ended = gone.cancel(false)
    expect(ended.ok && ended.next.endedRequests).to.deep.equal(['request1'])
    expect(gone.amount('reserved')).to.equal(0n)
    const world = issued({ lines: [{ requested: '25' }] })
    const order = world.order()
    const more = { ...order.requests[0]!, sums: { ...order.requests[0]!.sums, ordered: '15' } }
    const partly = cancelOrder({ ...order, requests: [more] }, world.accounts(), ADA, 'Not wanted.', false)
    expect(partly.ok && partly.next.endedRequests).to.deep.equal([])
  })

  it('a draft is cancelled silently, anything started not at all', () => {
    const draft = new OrderToPay()
    const cancelled = draft.cancel()
    expect(cancelled.ok && cancelled.says).to.deep.equal([])
    const world = issued()
    world.receive([{ line: 1, quantity: '1' }])
    expect(codes(world.cancel())).to.deep.equal(['order.startedAlready'])
    world.reverse(0)
    expect(codes(cancelOrder(world.order(), world.accounts(), ADA, '', true))).to.deep.equal(['order.wantsReason'])
    expect(codes(world.cancel())).to.deep.equal([])
    const billed = issued({ lines: [{ kind: 'fixedPriceWork', proof: 'none', quantity: '1' }] })
    billed.bill([{ line: 1, quantity: '1' }])
    billed.postInvoice(0)
    expect(codes(billed.cancel())).to.deep.equal(['order.startedAlready'])
  })

  it('closed, only what came in and is not billed stays committed; reopened, all that may be billed', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '4' }])
    world.answer([{ quantity: '8' }])
    const closed = world.close()
    expect(closed.ok && closed.next.answer).to.deep.equal({ state: 'superseded', reason: '' })
    expect([world.amount('committed'), world.amount('accrued')]).to.deep.equal([4_000n, 4_000n])
    world.bill([{ line: 1, quantity: '4' }])
    expect(codes(world.postInvoice(0))).to.deep.equal([])
    expect(world.amount('committed')).to.equal(0n)
    world.reopen()
    expect(world.amount('committed')).to.equal(6_000n)
  })

  it('is not reopened into an account that stops and has it no more', () => {
    const world = new OrderToPay({ lines: [{}, {}], accounts: STOPS(20_000n) })
    world.issue()
    world.close()
    world.budget.push({ accountId: 'a1', kind: 'committed', amount: minor(1n), source: 'elsewhere' })
    expect(codes(world.reopen())).to.deep.equal(['budget.over'])
  })

  it('is sealed when no invoice is open and nothing in without its bill', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '4' }])
    world.close()
    expect(codes(world.seal())).to.deep.equal(['order.billIsMissing'])
    world.bill([{ line: 1, quantity: '4' }])
    world.postInvoice(0)
    expect(codes(world.seal())).to.deep.equal(['order.openInvoices'])
    world.invoices[0]!.state = 'paid'
    expect(codes(sealOrder(world.order(), NOBODY, ''))).to.deep.equal(['right.notYours'])
    expect(codes(world.seal())).to.deep.equal([])
    for (const again of [world.seal(), world.reopen(), world.close(), world.revise([], 5n)])
      expect(codes(again)).to.deep.equal(['state.notNow'])
    expect(codes(closeOrder(world.order(), NOBODY, ''))[0]).to.equal('right.notYours')
  })
})

describe('what can be done with an order', () => {
  const possible = (order: OrderFacts, actor = ADA): string[] =>
    orderActions(order, actor, CLOCK)
      .filter(one => one.reasons.length === 0)
      .map(one => one.action)
  const offered = (order: OrderFacts): string[] => orderActions(order, ADA, CLOCK).map(one => one.action)

  it('is offered by the time of its life, and agrees with what the acts say', () => {
    const world = new OrderToPay()
    expect(possible(world.order())).to.deep.equal(['issue', 'edit', 'cancel'])
    expect(
      orderActions(world.order(), ADA, CLOCK)
        .filter(one => one.primary)
        .map(one => one.action),
    ).to.deep.equal(['issue'])
    world.issue()
    expect(possible(world.order())).to.deep.equal(['recordAnswer', 'chase', 'revise', 'close', 'cancel', 'receive'])
    world.answer([{ quantity: '8' }])
    expect(possible(world.order())).to.deep.equal([
      'acceptAnswer',
      'refuseAnswer',
      'revise',
      'close',
      'cancel',
      'receive',
    ])
    expect(possible(world.order(), NOBODY)).to.deep.equal([])
    world.receive([{ line: 1, quantity: '10' }])
    expect(possible(world.order())).to.not.include('cancel')
    world.close()
    expect(offered(world.order())).to.deep.equal(['reopen', 'seal', 'revise'])
    expect(possible(world.order())).to.deep.equal(['reopen'])
    world.bill([{ line: 1, quantity: '10' }])
    world.invoices[0]!.state = 'paid'
    world.post('credited', 1, '-10')
    world.seal()
    expect(offered({ ...world.order(), state: 'sealed' })).to.deep.equal([])
  })

  it('work is accepted by whoever asked for it, not by a receiver', () => {
    const world = issued({ lines: [{ kind: 'workByRate', proof: 'acceptWork' }] })
    const receive = (actor = ADA) =>
      orderActions(world.order(), actor, CLOCK).find(one => one.action === 'receive')!.reasons
    expect(receive()).to.deep.equal([])
    expect(receive(actorOf('bo')).map(reason => reason.code)).to.deep.equal(['receive.workByRequester'])
    world.receive([{ line: 1, quantity: '10' }])
    expect(receive(actorOf('bo')).map(reason => reason.code)).to.deep.equal(['receive.workByRequester'])
  })
})

describe('what waits because of an order', () => {
  const desk = (world: OrderToPay) =>
    orderDesk({ ...world.order(), createdAt: '2026-05-01T08:00:00Z', place: 'Dock 2' })

  it('a draft waits for its buyer', () => {
    expect(desk(new OrderToPay())).to.have.length(1)
    expect(desk(new OrderToPay())[0]).to.deep.include({ key: 'issue', audiences: ['person:ada'], from: null })
  })

  it('goods wait for receivers two days before, the buyer hears the day after, and nothing waits when all is in', () => {
    const world = issued()
    const [late, expected] = desk(world)
    expect([EXPECTED_DAYS, ACCEPT_DAYS]).to.deep.equal([2, 3])
    expect(late).to.deep.include({
      key: 'late',
      from: '2026-07-02',
      audiences: ['person:ada'],
      tone: 'stop',
      amount: 10_000n,
    })
    expect(expected).to.deep.include({
      key: 'expected',
      from: '2026-06-29',
      audiences: ['right:delivery.receive'],
      amount: null,
    })
    world.receive([{ line: 1, quantity: '4' }])
    expect(desk(world).map(entry => entry.key)).to.deep.equal(['late', 'expected'])
    world.receive([{ line: 1, quantity: '6' }])
    expect(desk(world)).to.deep.equal([])
  })

  it('goods by amount wait for receivers too; work by rate and fees for whoever asked', () => {
    const world = issued({
      lines: [
        { kind: 'goodsByAmount', unit: 'M4', price: '1' },
        { kind: 'workByRate', proof: 'acceptWork', requesterId: 'bo' },
        { kind: 'personalFee', proof: 'acceptWork', requesterId: 'bo' },
        { kind: 'fixedPriceWork', proof: 'billFirst', quantity: '1', requesterId: 'cy' },
      ],
    })
    expect(desk(world).map(entry => `${entry.key} ${entry.audiences.join()}`)).to.deep.equal([
      'late person:ada',
      'expected right:delivery.receive',
      'acceptWork person:bo',
      'acceptWork person:cy',
    ])
    expect(desk(world)[2]).to.deep.include({ from: '2026-06-28', needBy: '2026-07-01' })
    expect(desk(world)[2]!.details).to.deep.include({ title: 'Line 2' })
  })

  it('what is not proven waits for nobody, nor does an order that is closed', () => {
    const world = issued({ lines: [{ kind: 'fixedPriceWork', proof: 'none', quantity: '1' }] })
    expect(desk(world)).to.deep.equal([])
    const closed = issued()
    closed.close()
    expect(desk(closed)).to.deep.equal([])
  })

  it('without a day it waits at once, and nothing is late', () => {
    const order = { ...issued().order(), needBy: null }
    const waits = orderDesk({ ...order, createdAt: TODAY, place: '' })
    expect(waits.map(({ key, from }) => [key, from])).to.deep.equal([['expected', null]])
  })
})

describe('how far an order has come', () => {
  it('late is only what the supplier owes, the day after it was needed', () => {
    const order = { state: 'issued', needBy: '2026-07-01', receiveExtent: 'part' }
    expect(isLate(order, '2026-07-01')).to.equal(false)
    expect(isLate(order, '2026-07-02')).to.equal(true)
    expect(isLate({ ...order, state: 'closed' }, '2026-07-02')).to.equal(false)
    expect(isLate({ ...order, receiveExtent: 'full' }, '2026-07-02')).to.equal(false)
    expect(isLate({ ...order, needBy: null }, '2026-07-02')).to.equal(false)
  })

  it('a line is settled when all is billed and proven, or when its order ended', () => {
    const world = issued()
    const line = () => world.order().lines[0]!
    world.receive([{ line: 1, quantity: '10' }])
    expect(isSettled(line(), 'issued')).to.equal(false)
    world.bill([{ line: 1, quantity: '10' }])
    world.postInvoice(0)
    expect(isSettled(line(), 'issued')).to.equal(true)
    expect(isSettled(line(), 'draft')).to.equal(false)
    world.post('returned', 1, '1')
    expect(isSettled(line(), 'acknowledged')).to.equal(false)
    expect(isSettled({ ...line(), proof: 'none' }, 'issued')).to.equal(true)
    expect(isSettled(line(), 'closed')).to.equal(true)
  })

  it('billed is net of credits, proven net of returns, everywhere', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '10' }])
    world.bill([{ line: 1, quantity: '10' }])
    world.postInvoice(0)
    world.post('credited', 1, '3')
    const line = world.order().lines[0]!
    expect([toBill(line), unbilled(line), isBillable(line)]).to.deep.equal(['3', '3', true])
    expect([world.amount('committed'), world.amount('accrued')]).to.deep.equal([3_000n, 3_000n])
    world.post('returned', 1, '3')
    const after = world.order().lines[0]!
    expect([toBill(after), unbilled(after), isBillable(after)]).to.deep.equal(['3', '0', false])
    expect([world.amount('committed'), world.amount('accrued')]).to.deep.equal([3_000n, 0n])
    expect(keptFigures(world.order())).to.deep.equal({
      receiveExtent: 'part',
      needBy: '2026-07-01',
      billExtent: 'part',
      lines: [{ id: 'line1', proven: '7', billed: '7', settled: false }],
    })
  })

  it('what is still to come is never below nothing, and nothing where nothing is proven', () => {
    expect(stillToCome({ proof: 'count', quantity: '10', proven: '4' })).to.equal('6')
    expect(stillToCome({ proof: 'count', quantity: '10', proven: '11' })).to.equal('0')
    expect(stillToCome({ proof: 'none', quantity: '10', proven: '0' })).to.equal('0')
  })

  it('the last promise counts, else the day it is needed', () => {
    const lines = [{ promisedDate: '2026-07-03' }, { promisedDate: null }, { promisedDate: '2026-07-01' }]
    expect(lastPromise({ needBy: '2026-06-30' }, lines)).to.equal('2026-07-03')
    expect(lastPromise({ needBy: '2026-06-30' }, [{ promisedDate: null }])).to.equal('2026-06-30')
    expect(lastPromise({ needBy: null }, [])).to.equal('')
  })

  it('values re-add with their share of the charges, evenly where nothing is worth anything', () => {
    const line = (id: string, baseAmount: bigint) => ({ id, baseAmount: minor(baseAmount) })
    const order = { charges: minor(100n), chargeItems: [], currency: 'EUR', rate: '1', base: 'EUR' }
    const values = (...lines: ReturnType<typeof line>[]) => [...lineValues({ ...order, lines }).values()]
    expect(values(line('a', 100n), line('b', 200n))).to.deep.equal([133n, 267n])
    expect(values(line('a', 0n), line('b', 0n))).to.deep.equal([50n, 50n])
    expect(values(line('a', 0n), line('b', 200n))).to.deep.equal([0n, 300n])
    expect([...lineValues({ ...order, charges: minor(0n), lines: [line('a', 7n)] }).values()]).to.deep.equal([7n])
  })

  it('goes along the Thread in proportion, and stands for nothing in a draft', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '4' }])
    world.answer()
    expect(valuesSoFar(world.order().lines[0]!, minor(10_000n))).to.deep.equal({
      ordered: 10_000n,
      confirmed: 10_000n,
      received: 4_000n,
      billed: 0n,
      paid: 0n,
    })
    for (const state of ['draft', 'sealed', 'cancelled'] as const)
      expect(standingOf(world.order().lines[0]!, minor(10_000n), state)).to.deep.equal({ committed: 0n, accrued: 0n })
  })
})

describe('the laws of orders', () => {
  it('speak where the books and the order differ', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '4' }])
    const order = world.order()
    const line = order.lines[0]!
    const laws = (changed: Partial<typeof line>, state = order.state) =>
      orderLaws({ ...order, state, lines: [{ ...line, ...changed }] }).map(one => one.law)
    expect(laws({})).to.deep.equal([])
    expect(laws({ standing: [] })).to.deep.equal(['committedAmount', 'accruedAmount'])
    expect(laws({ sums: { ...line.sums, ordered: '9' } })).to.deep.equal(['orderedQuantity'])
    expect(laws({ sums: { ...line.sums, rejected: '-1' } })).to.deep.equal(['quantityBelowNothing'])
    expect(laws({}, 'cancelled')).to.deep.equal(['orderedQuantity', 'committedAmount', 'accruedAmount'])
  })

  it('hold what lists read against what the ledgers give', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '4' }])
    const kept = keptFigures(world.order())
    const laws = (changed: Partial<typeof kept>) => keptLaws(world.order(), { ...kept, ...changed }).map(one => one.law)
    expect(laws({})).to.deep.equal([])
    expect(laws({ receiveExtent: 'none', billExtent: 'full' })).to.deep.equal(['receiveExtent', 'billExtent'])
    expect(laws({ lines: [{ id: 'line1', proven: '3', billed: '1', settled: true }] })).to.deep.equal([
      'provenQuantity',
      'billedNet',
      'settled',
    ])
    expect(laws({ lines: [] })).to.deep.equal(['provenQuantity', 'billedNet', 'settled'])
  })
})
