import { expect } from 'chai'
import { minor, sumMinor } from '#core/money/amount.ts'
import { notAllowed, overApproved } from '#core/order/againstRequest.ts'
import { changeLines } from '#core/order/changeLines.ts'
import { chargeAsLine } from '#core/order/chargeLine.ts'
import type { ChargeItem } from '#core/order/charges.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { ADA, NOBODY, OrderToPay } from '#test-helpers/orderToPay.ts'

const item = (kind: ChargeItem['kind'], amount: bigint, more: Partial<ChargeItem> = {}): ChargeItem => ({ kind, words: '', percent: null, amount: minor(amount), splits: [], ...more }) // prettier-ignore
/** A draft of two lines of 100.00, the second on two accounts, with these charges. */
function draft(chargeItems: readonly ChargeItem[]): OrderFacts {
  const order = new OrderToPay({ lines: [{}, {}] }).order()
  const [first, second] = order.lines
  const splits = [{ accountId: 'a1', share: '1' }, { accountId: 'a2', share: '3' }] // prettier-ignore
  return {
    ...order,
    state: 'draft',
    chargeItems,
    charges: sumMinor(chargeItems.map(one => one.amount)),
    lines: [
      { ...first!, splits: [{ accountId: 'a1', share: '1' }] },
      { ...second!, splits },
    ],
  }
}
const lineOf = (order: OrderFacts, at = 0, actor = ADA) => chargeAsLine(order, at, 'new', 'Freight', actor)
const codes = (made: ReturnType<typeof lineOf>): string[] => (made.ok ? [] : made.reasons.map(one => one.code))

describe('a charge with a line of its own', () => {
  it('costs the same as before, is paid by the accounts of the lines by value, and is proven by nobody', () => {
    const order = draft([item('freight', 4_000n), item('packing', 500n)])
    const made = lineOf(order)
    if (!made.ok) throw new Error(codes(made).join())
    const { line, head } = made.next
    expect(line).to.deep.include({ id: 'new', position: 3, kind: 'fixedPriceWork', charge: 'freight', description: 'Freight', proof: 'none', quantity: '1', price: '40.00', amount: 4_000n, baseAmount: 4_000n, requestLineId: null }) // prettier-ignore
    expect(line.splits).to.deep.equal([{ accountId: 'a1', share: '12500' }, { accountId: 'a2', share: '7500' }]) // prettier-ignore
    expect([head!.charges, head!.chargeItems.map(one => one.kind), head!.total]).to.deep.equal([500n, ['packing'], 24_500n]) // prettier-ignore
    expect(made.did).to.deep.include({ action: 'chargeAsLine' })
    expect(made.did.changes).to.deep.equal({ line: 'Freight', amount: '40.00' })
  })

  it('keeps its words and accounts; a per cent is from then on the amount that it was', () => {
    const own = [{ accountId: 'freight', share: '1' }]
    const made = lineOf(draft([item('insurance', 300n, { words: ' Cargo ', percent: '1.5', splits: own })]))
    expect(made.ok && [made.next.line.description, made.next.line.splits, made.next.line.price, made.next.line.charge]).to.deep.equal(['Cargo', own, '3.00', 'insurance']) // prettier-ignore
    const nothing = draft([item('freight', 100n)])
    const free = lineOf({ ...nothing, lines: nothing.lines.map(line => ({ ...line, baseAmount: minor(0) })) })
    expect(free.ok && free.next.line.splits).to.deep.equal([{ accountId: 'a1', share: '1' }, { accountId: 'a2', share: '1' }]) // prettier-ignore
  })

  it('is refused for a discount, for nothing, for what is gone, after issue and without the right', () => {
    expect(codes(lineOf(draft([item('discount', 100n)])))).to.deep.equal(['order.charge.discountLine'])
    expect(codes(lineOf(draft([item('freight', 0n)])))).to.deep.equal(['order.charge.nothing'])
    expect(codes(lineOf(draft([]), 1))).to.deep.equal(['order.charge.gone'])
    expect(codes(lineOf({ ...draft([item('freight', 5n)]), state: 'issued' }))).to.deep.equal(['order.notADraft'])
    expect(codes(lineOf(draft([item('freight', 5n)]), 0, NOBODY))).to.deep.equal(['right.notYours'])
  })

  it('is borne by the lines when it is judged against what was approved, and asked about like any other charge', () => {
    const order = draft([item('freight', 2_002n)])
    const before = overApproved(order).map(one => [one.line.id, one.value])
    expect(before).to.deep.equal([['line1', 11_001n], ['line2', 11_001n]]) // prettier-ignore
    const made = lineOf(order)
    if (!made.ok) throw new Error('refused')
    const after = { ...order, chargeItems: [], charges: minor(0), lines: [...order.lines, made.next.line] }
    expect(overApproved(after).map(one => [one.line.id, one.value])).to.deep.equal(before)
    expect(notAllowed(after)).to.have.lengthOf(2)
    // 2.00 less lies within what may be above
    const within = { ...after, lines: [...order.lines, { ...made.next.line, baseAmount: minor(2_000n) }] }
    expect(overApproved(within)).to.deep.equal([])
    // an order without a request was approved for nothing: the line stands for itself
    expect(overApproved({ ...after, direct: true }).map(one => one.line.id)).to.include('new')
    expect(overApproved({ ...after, direct: true, requests: [] }).map(one => one.value)).to.deep.equal([10_000n, 10_000n, 2_002n]) // prettier-ignore
  })

  it('is not what a per cent is of', () => {
    const order = draft([item('freight', 4_000n)])
    const made = lineOf(order)
    if (!made.ok) throw new Error('refused')
    const charged = { ...order, chargeItems: [], charges: minor(0), lines: [...order.lines, made.next.line] }
    const wanted = { title: order.title, message: '', charges: [item('insurance', 0n, { percent: '1' })], lines: charged.lines.map(({ id, description, quantity, price, needBy }) => ({ id, description, quantity, price, needBy })) } // prettier-ignore
    expect(changeLines(charged, wanted).order.charges).to.equal(200n)
  })
})
