import { expect } from 'chai'
import { isCancelledLine, toReceive } from '#core/order/measures.ts'
import type { Decision } from '#core/acts/decision.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

const codes = (decision: Decision<unknown>): string[] => (decision.ok ? [] : decision.reasons.map(one => one.code))
/** An order of two lines, ten pieces each at 10.00, issued. */
function issued(): OrderToPay {
  const world = new OrderToPay({ lines: [{}, {}] })
  world.issue()
  return world
}

describe('a line of an order', () => {
  it('is cancelled by a quantity of zero: what it bought is to be bought again, and reserved', () => {
    const world = issued()
    const before = world.amount('committed')
    expect(codes(world.revise([{ line: 2, quantity: '0' }]))).to.deep.equal([])
    const order = world.order()
    expect(isCancelledLine(order.lines[1]!)).to.equal(true)
    expect([order.lines[1]!.sums.ordered, toReceive(order.lines[1]!)]).to.deep.equal(['0', '0'])
    expect(world.amount('committed')).to.equal(before / 2n)
    expect(world.amount('reserved')).to.equal(before / 2n)
    expect(world.laws()).to.deep.equal([])
  })

  it('ends what it bought where that is not needed any more', () => {
    const world = issued()
    const revised = world.revise([{ line: 2, quantity: '0' }], undefined, 'Not needed.', false)
    expect(revised.ok && revised.next.endedRequests).to.deep.equal([world.order().requests[1]!.id])
    expect(world.amount('reserved')).to.equal(0n)
    expect(world.laws()).to.deep.equal([])
  })

  it('keeps what has come in: the rest of it can be cancelled, not more', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '4' }])
    expect(codes(world.revise([{ line: 1, quantity: '0' }]))).to.deep.equal(['order.belowProgress'])
    expect(codes(world.revise([{ line: 1, quantity: '4' }]))).to.deep.equal([])
    expect(world.laws()).to.deep.equal([])
  })

  it('cannot be the last one to go: then the order is cancelled', () => {
    const world = issued()
    expect(codes(world.revise([{ line: 1, quantity: '0' }, { line: 2, quantity: '0' }]))).to.deep.equal(['order.cancelInstead']) // prettier-ignore
    expect(codes(new OrderToPay({ lines: [{}] }).revise([{ line: 1, quantity: '0' }]))).to.not.deep.equal([])
  })

  it('that is cancelled is answered no more', () => {
    const world = issued()
    world.revise([{ line: 2, quantity: '0' }])
    expect(codes(world.answer())).to.deep.equal(['order.answerEveryLine'])
  })
})

describe('an answer that is accepted in part', () => {
  const [first, second] = ['line1', 'line2']

  it('takes the lines that are accepted, leaves the others as they were ordered, and asks again', () => {
    const world = issued()
    world.answer([{ price: '10.5' }, { quantity: '5', date: '2026-08-01' }])
    expect(codes(world.acceptAnswer([first]))).to.deep.equal(['order.partWantsReason'])
    const taken = world.acceptAnswer([first], 'Five are too few.')
    expect(taken.ok && [taken.next.state, taken.next.revision, taken.next.answer!.state]).to.deep.equal(['issued', 1, 'part']) // prettier-ignore
    expect(taken.ok && taken.says.map(mail => mail.template)).to.deep.equal(['order.revised', 'order.answer.part'])
    const [one, two] = world.order().lines
    expect([one!.price, one!.sums.confirmed, two!.quantity, two!.promisedDate, two!.sums.confirmed]).to.deep.equal(['10.5', '10', '10', null, '0']) // prettier-ignore
    expect(world.laws()).to.deep.equal([])
  })

  it('needs no revision where only a promise is taken', () => {
    const world = issued()
    world.answer([{ price: '10.5' }, { quantity: '5', date: '2026-08-01' }])
    const taken = world.acceptAnswer([second], 'The price was agreed.')
    expect(taken.ok && [taken.next.state, taken.next.revision]).to.deep.equal(['issued', 0])
    const [one, two] = world.order().lines
    expect([one!.price, one!.sums.confirmed, two!.promisedDate, two!.sums.confirmed]).to.deep.equal(['10', '0', '2026-08-01', '5']) // prettier-ignore
  })

  it('of every line that departs is accepted in full; of none it is refused', () => {
    const world = issued()
    world.answer([{ price: '10.5' }, { quantity: '5' }])
    expect(codes(world.acceptAnswer([], 'No.'))).to.deep.equal(['order.acceptNone'])
    const taken = world.acceptAnswer([first, second])
    expect(taken.ok && [taken.next.state, taken.next.answer!.state]).to.deep.equal(['acknowledged', 'accepted'])
  })
})
