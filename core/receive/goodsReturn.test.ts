import { expect } from 'chai'
import { minor } from '#core/money/amount.ts'
import {
  debitNet,
  endReturn,
  RETURN_STATES,
  returnMail,
  type ReturnablePart,
  type ReturnEntry,
  type ReturnFacts,
  sendReturn,
  whyNotReturn,
} from '#core/receive/goodsReturn.ts'
import { ADA, NOBODY, OrderToPay } from '#test-helpers/orderToPay.ts'

const part = (changed: Partial<ReturnablePart> = {}): ReturnablePart => ({ partId: 'p1', lineId: 'line1', becomes: 'counted', left: '6', there: '6', pieces: [], notAccepted: '0', ...changed }) // prettier-ignore
const parts = (...some: Partial<ReturnablePart>[]) => new Map((some.length ? some : [{}]).map(one => part(one)).map(one => [one.partId, one])) // prettier-ignore
const goes = (quantity = '2', changed: object = {}) => ({ partId: 'p1', lineId: 'line1', quantity, pieces: [], ...changed }) // prettier-ignore
const entry = (changed: Partial<ReturnEntry> = {}): ReturnEntry => ({ reason: 'Rust.', supplierNumber: 'RMA', wish: 'credit', pickUpOn: null, carrier: '', lines: [goes()], ...changed }) // prettier-ignore
const facts = (changed: Partial<ReturnFacts> = {}): ReturnFacts => ({ number: 'Z-1', state: 'draft', entry: entry(), ...changed }) // prettier-ignore
/** Ten ordered at 10.00, six in and so many of them billed. */
function world(billed = '0') {
  const made = new OrderToPay()
  made.issue()
  made.receive([{ line: 1, quantity: '6' }] as never)
  const order = made.order()
  return { ...order, lines: order.lines.map(line => ({ ...line, sums: { ...line.sums, billed } })) }
}
const inspected = (accepted: string, billed = '0') => {
  const order = world(billed)
  return { ...order, lines: order.lines.map(line => ({ ...line, inspects: true, sums: { ...line.sums, accepted } })) }
}
const codes = (reasons: readonly { code: string; place?: string }[]): string[] => reasons.map(one => [one.code, one.place].filter(Boolean).join(' ')) // prettier-ignore
const against = (changed: Partial<ReturnEntry>, of = parts(), order = world()) => codes(whyNotReturn(order, entry(changed), of)) // prettier-ignore
const entries = (order: ReturnType<typeof world>, of = parts(), debits = false, lines = [goes()]) => {
  const sent = sendReturn(order, facts({ entry: entry({ lines }) }), of, debits, ADA)
  return sent.ok ? sent.quantity.map(one => `${one.kind} ${one.quantity}`) : ['refused']
}

describe('goods that go back', () => {
  it('are some of a count, no more than is left and still there, with a reason', () => {
    expect(against({})).to.deep.equal([])
    expect(against({ lines: [] })).to.deep.equal(['return.nothing'])
    expect(against({ lines: [goes('1'), goes('1')] })).to.deep.equal(['return.nothing'])
    expect(against({ reason: ' ' })).to.deep.equal(['return.why reason'])
    for (const quantity of ['0', '-1', 'x', '6.1']) expect(against({ lines: [goes(quantity)] }), quantity).to.deep.equal(['return.tooMuch lines.0.quantity']) // prettier-ignore
    expect(against({ lines: [goes('6')] })).to.deep.equal([])
    expect(against({ lines: [goes('5')] }, parts({ there: '4' }))).to.deep.equal(['return.tooMuch lines.0.quantity'])
    expect(against({ lines: [goes('5')] }, parts({ left: '4' }))).to.deep.equal(['return.tooMuch lines.0.quantity'])
    for (const odd of [{ partId: 'p9' }, { lineId: 'line9' }]) expect(against({ lines: [goes('1', odd)] }), JSON.stringify(odd)).to.deep.equal(['return.foreignLine lines.0.quantity']) // prettier-ignore
    expect(against({}, parts(), { ...world(), state: 'cancelled' })).to.deep.equal(['return.orderEnded'])
  })

  it('are told by name where each is a piece of ours', () => {
    const of = parts({ becomes: 'asset', pieces: ['a', 'b', 'c'] })
    const pieces = (...some: string[]) => against({ lines: [goes('2', { pieces: some })] }, of)
    expect([pieces('a', 'c'), pieces('a'), pieces('a', 'a'), pieces('a', 'x')]).to.deep.equal([[], ['return.whichPieces lines.0.quantity'], ['return.whichPieces lines.0.quantity'], ['return.whichPieces lines.0.quantity']]) // prettier-ignore
  })

  it('count as returned; of what was inspected, what nobody found good goes first and costs nothing of what was', () => {
    expect(entries(world())).to.deep.equal(['returned 2'])
    expect(entries(inspected('6'))).to.deep.equal(['returned 2', 'accepted -2'])
    expect(entries(inspected('4'), parts({ notAccepted: '2' }))).to.deep.equal(['returned 2'])
    expect(entries(inspected('5'), parts({ notAccepted: '1' }))).to.deep.equal(['returned 2', 'accepted -1'])
    expect(entries(inspected('1'))).to.deep.equal(['returned 2', 'accepted -1'])
  })

  it('are taken off the bill by a debit note where the supplier’s setting says so, as far as they are billed', () => {
    const sent = (billed: string, debits = true) => sendReturn(world(billed), facts(), parts(), debits, ADA)
    const whole = sent('6')
    expect(whole.ok && [whole.next.debit.map(one => [one.quantity, one.net, one.position]), whole.quantity.map(one => `${one.kind} ${one.quantity}`), whole.next.unproven]).to.deep.equal([[['2', 2000n, 1]], ['returned 2', 'credited 2'], []]) // prettier-ignore
    expect(whole.ok && whole.budget.filter(one => one.kind === 'spent').map(one => one.amount)).to.deep.equal([-2000n])
    const some = sent('5')
    expect(some.ok && some.next.debit.map(one => [one.quantity, one.net])).to.deep.equal([['1', 1000n]])
    const none = sent('4')
    expect(none.ok && [none.next.debit, none.next.unproven]).to.deep.equal([[], []])
    const unset = sent('6', false)
    expect(unset.ok && [unset.next.debit, unset.next.unproven]).to.deep.equal([[], ['line1']])
    expect(debitNet([{ net: minor(5n) }, { net: minor(7n) }])).to.equal(12n)
  })

  it('leave once, by who receives, and end with the replacement or the credit, or do not go back after all', () => {
    expect(sendReturn(world(), facts({ state: 'sent' }), parts(), false, ADA).ok).to.equal(false)
    expect(sendReturn(world(), facts(), parts(), false, NOBODY).ok).to.equal(false)
    expect(sendReturn(world(), facts({ entry: entry({ lines: [] }) }), parts(), false, ADA).ok).to.equal(false)
    const settled = endReturn(facts({ state: 'sent' }), 'settle', ADA, '')
    expect(settled.ok && [settled.next.state, settled.did.action]).to.deep.equal(['settled', 'settled'])
    const withdrawn = endReturn(facts(), 'withdraw', ADA, 'A mistake.')
    expect(withdrawn.ok && [withdrawn.next.state, withdrawn.did.action, withdrawn.did.reason]).to.deep.equal(['withdrawn', 'returnWithdrawn', 'A mistake.']) // prettier-ignore
    expect([endReturn(facts(), 'settle', ADA, ''), endReturn(facts({ state: 'sent' }), 'withdraw', ADA, ''), endReturn(facts(), 'withdraw', NOBODY, '')].map(one => one.ok)).to.deep.equal([false, false, false]) // prettier-ignore
    expect([RETURN_STATES.settled, RETURN_STATES.withdrawn]).to.deep.equal([{}, {}])
  })

  it('say in the history what went and to the supplier why', () => {
    const sent = sendReturn(world(), facts(), parts(), false, ADA)
    expect(sent.ok && sent.did).to.deep.equal({ action: 'returned', changes: { return: 'Z-1', wish: 'credit', lines: [{ position: 1, quantity: '2', unit: 'C62' }] }, reason: 'Rust.' }) // prettier-ignore
    const mail = returnMail(world(), facts({ entry: entry({ pickUpOn: '2026-06-05' }) }), 'DN-1')
    expect([mail.to, mail.details['pickUpOn'], mail.details['debit'], mail.details['supplierNumber']]).to.deep.equal([{ kind: 'supplier', id: 'supplier', message: 'orders' }, '2026-06-05', 'DN-1', 'RMA']) // prettier-ignore
  })
})
