import { expect } from 'chai'
import fc from 'fast-check'
import { byAccount } from '#core/ledger/budget.ts'
import { minor, sumMinor } from '#core/money/amount.ts'
import { type ChargeItem, chargedOn, chargesByLine, chargesTotal, freightOf, MOST_CHARGES, payersOf, reckoned, signed, spreadCharges, whyNotCharges } from '#core/order/charges.ts' // prettier-ignore
import { compareHeads, HEAD_LINE, revisionHead } from '#core/order/revision.ts'
import { lineValues, payersByLine } from '#core/order/standing.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

const item = (kind: ChargeItem['kind'], amount: bigint, more: Partial<ChargeItem> = {}): ChargeItem => ({ kind, words: '', percent: null, amount: minor(amount), splits: [], ...more }) // prettier-ignore
const FREIGHT_ACCOUNT = [{ accountId: 'freight', share: '1' }]
const codes = (items: ChargeItem[], lines = 10_000n) => whyNotCharges(items, minor(lines)).map(one => one.code)
const ACCOUNTS = { a1: { allotted: 1_000_000n, level: 'stop' as const }, freight: { allotted: 1_000_000n, level: 'stop' as const } } // prettier-ignore

/** An issued order of two lines of 100.00 with these charges. */
function charged(items: readonly ChargeItem[], accounts: ConstructorParameters<typeof OrderToPay>[0] = {}): OrderToPay {
  const world = new OrderToPay({ lines: [{}, {}], accounts: ACCOUNTS, ...accounts })
  world.issue()
  const decided = world.reviseTo({ ...world.wanted(), charges: items })
  expect(decided.ok ? [] : decided.reasons.map(one => one.code)).to.deep.equal([])
  return world
}
const onAccount = (world: OrderToPay, kind: string) => Object.fromEntries(byAccount(world.budget.filter(one => one.kind === kind))) // prettier-ignore

describe('charges and discounts of an order', () => {
  it('add to it or take off it, per cent of the lines rounded once each', () => {
    expect([signed(item('packing', 5n)), signed(item('discount', 5n))]).to.deep.equal([5n, -5n])
    const items = reckoned([item('freight', 500n), item('discount', 0n, { percent: '2.5' }), item('insurance', 0n, { percent: '0.05' })], minor(1_010n), 'EUR') // prettier-ignore
    // 2.5 % of 10.10 is 0.2525, 0.05 % is 0.00505
    expect(items.map(one => one.amount)).to.deep.equal([500n, 25n, 1n])
    expect(chargesTotal(items)).to.equal(476n)
    expect([freightOf(minor(0)), freightOf(minor(7)).map(one => one.amount)]).to.deep.equal([[], [7n]])
  })

  it('are refused where they are no figures, too many, or leave less than nothing', () => {
    expect(codes([item('freight', -1n)])).to.deep.equal(['order.charges'])
    expect(codes([item('freight', 1n, { percent: 'x' })])).to.deep.equal(['order.charges'])
    expect(codes([item('freight', 1n, { percent: '-1' })])).to.deep.equal(['order.charges'])
    expect(codes([item('freight', 0n, { percent: '0' })])).to.deep.equal([])
    expect(codes(Array.from({ length: MOST_CHARGES }, () => item('other', 1n)))).to.deep.equal([])
    expect(codes(Array.from({ length: MOST_CHARGES + 1 }, () => item('other', 1n)))).to.deep.equal(['order.charge.tooMany']) // prettier-ignore
    expect([codes([item('discount', 10_000n)]), codes([item('discount', 10_001n)])]).to.deep.equal([[], ['order.charge.belowNothing']]) // prettier-ignore
    expect(codes([item('discount', 10_001n), item('packing', 1n)])).to.deep.equal([])
    // what another account pays does not make up for a discount on the lines
    expect(codes([item('discount', 10_001n), item('packing', 1n, { splits: FREIGHT_ACCOUNT })])).to.deep.equal(['order.charge.belowNothing']) // prettier-ignore
  })

  it('take an account of their own only where something is charged, with shares that divide', () => {
    expect(codes([item('freight', 5n, { splits: FREIGHT_ACCOUNT })])).to.deep.equal([])
    expect(codes([item('discount', 5n, { splits: FREIGHT_ACCOUNT })])).to.deep.equal(['order.charge.discountAccount'])
    const shares = (...all: string[]) => codes([item('freight', 5n, { splits: all.map((share, at) => ({ accountId: String(at), share })) })]) // prettier-ignore
    expect([shares('0', '1'), shares('0'), shares('-1', '2'), shares('a')].map(one => one[0])).to.deep.equal([undefined, 'order.charge.shares', 'order.charge.shares', 'order.charge.shares']) // prettier-ignore
  })

  it('lie on the lines by value, and re-add, whoever pays', () => {
    const amounts = fc.array(fc.bigInt({ min: 0n, max: 100_000n }), { minLength: 1, maxLength: 6 })
    const items = fc.array(fc.record({ amount: fc.bigInt({ min: 0n, max: 9_999n }), own: fc.boolean() }), { maxLength: 4 }) // prettier-ignore
    fc.assert(
      fc.property(amounts, items, (lines, all) => {
        const chargeItems = all.map(one => item('freight', one.amount, one.own ? { splits: FREIGHT_ACCOUNT } : {}))
        const order = { charges: chargesTotal(chargeItems), chargeItems, currency: 'EUR', rate: '1', base: 'EUR', lines: lines.map((amount, at) => ({ id: String(at), baseAmount: minor(amount) })) } // prettier-ignore
        const charges = [...chargesByLine(order).values()]
        expect(sumMinor(charges.map(chargedOn))).to.equal(order.charges)
        expect(sumMinor([...lineValues(order).values()])).to.equal(sumMinor([order.charges, ...lines.map(minor)]))
      }),
    )
  })

  it('are committed on the accounts that pay for them, and leave them when the order ends', () => {
    const world = charged([item('freight', 1_500n, { splits: FREIGHT_ACCOUNT }), item('packing', 300n)])
    expect(onAccount(world, 'committed')).to.deep.equal({ a1: 20_300n, freight: 1_500n })
    expect(world.laws()).to.deep.equal([])
    world.cancel()
    expect(onAccount(world, 'committed')).to.deep.equal({ a1: 0n, freight: 0n })
    expect(world.laws()).to.deep.equal([])
  })

  it('stop where the account that pays for them would be overdrawn', () => {
    const world = new OrderToPay({ lines: [{}], accounts: { ...ACCOUNTS, freight: { allotted: 99n, level: 'stop' } } })
    world.issue()
    const decided = world.reviseTo({ ...world.wanted(), charges: [item('freight', 100n, { splits: FREIGHT_ACCOUNT })] })
    expect(decided.ok ? [] : decided.reasons.map(one => one.code)).to.deep.equal(['budget.over'])
  })

  it('are paid by a line’s own accounts where there are no others, exactly as before', () => {
    const order = charged([item('packing', 500n)]).order()
    expect(payersByLine(order).get('line1')).to.equal(order.lines[0]!.splits)
    const free = { baseAmount: minor(0), splits: [{ accountId: 'a1', share: '1' }] }
    expect(payersOf(free, { shared: minor(0), own: [{ amount: minor(0), splits: FREIGHT_ACCOUNT }] })).to.deep.equal(free.splits) // prettier-ignore
    // a cent below nothing by rounding is nothing
    expect(payersOf(free, { shared: minor(-1), own: [{ amount: minor(5), splits: FREIGHT_ACCOUNT }] })).to.deep.equal([{ accountId: 'freight', share: '5' }]) // prettier-ignore
  })

  it('are spent on them as far as charges are billed at all', () => {
    const lines = [{ accountId: 'a1', share: '1' }]
    const spent = (billed: bigint, shared: bigint, own: bigint) =>
      Object.fromEntries(byAccount(spreadCharges('line1', minor(billed), lines, { shared: minor(shared), own: own === 0n ? [] : [{ amount: minor(own), splits: FREIGHT_ACCOUNT }] }))) // prettier-ignore
    expect(spent(40n, 10n, 30n)).to.deep.equal({ a1: 10n, freight: 30n })
    expect(spent(20n, 10n, 30n)).to.deep.equal({ a1: 5n, freight: 15n })
    expect(spent(20n, 10n, 0n)).to.deep.equal({ a1: 20n })
    expect(spent(0n, 10n, 30n)).to.deep.equal({})
    expect(spent(-20n, 0n, 30n)).to.deep.equal({ a1: -20n })
    // 30 of freight and 100 of discount: all of both, freight without the discount, the discount alone
    expect([spent(-70n, -100n, 30n), spent(30n, -100n, 30n), spent(-100n, -100n, 30n)]).to.deep.equal([{ a1: -100n, freight: 30n }, { freight: 30n }, { a1: -100n }]) // prettier-ignore
  })

  it('are spent by an invoice where they were committed, and the ledgers re-add', () => {
    const world = charged([item('freight', 3_000n, { splits: FREIGHT_ACCOUNT }), item('discount', 1_000n)])
    world.receive([{ line: 1, quantity: '10' }, { line: 2, quantity: '10' }]) // prettier-ignore
    world.bill([{ line: 1, quantity: '10' }, { line: 2, quantity: '10' }], { charges: minor(2_000n) }) // prettier-ignore
    expect(world.postInvoice(0).ok).to.equal(true)
    expect(onAccount(world, 'spent')).to.deep.equal({ a1: 19_000n, freight: 3_000n })
    expect(onAccount(world, 'committed')).to.deep.equal({ a1: 0n, freight: 0n })
    expect(world.laws()).to.deep.equal([])
  })

  it('follow the lines where they are a per cent of them, and show as a difference of the head', () => {
    const world = charged([item('discount', 0n, { percent: '10', words: 'As agreed' })])
    expect([world.order().charges, lineValues(world.order()).get('line1')]).to.deep.equal([-2_000n, 9_000n])
    const before = revisionHead(world.order())
    world.revise([{ line: 1, quantity: '5' }])
    expect(world.order().charges).to.equal(-1_500n)
    const after = revisionHead(world.order())
    expect(compareHeads(before, after)).to.deep.equal([{ lineId: HEAD_LINE, position: 0, kind: 'changed', fields: [{ field: 'charges', before: 'discount 20.00 As agreed', after: 'discount 15.00 As agreed' }] }]) // prettier-ignore
    expect(compareHeads(after, { ...after, title: 'Other', message: 'Ring.' })[0]!.fields.map(one => one.field)).to.deep.equal(['title', 'message']) // prettier-ignore
    // revisions of old have one sum, which counts as freight
    const old = { title: 'Pumps', message: '', charges: '5.00' }
    expect(compareHeads(old, { ...old, location: 'Works two' })).to.deep.equal([])
    expect(compareHeads({ ...old, location: '' }, { ...old, location: 'Works two' })[0]!.fields).to.deep.equal([{ field: 'location', before: '', after: 'Works two' }]) // prettier-ignore
    expect(compareHeads(old, { ...old, chargeItems: [{ kind: 'freight', words: '', percent: null, amount: '5.00' }] })).to.deep.equal([]) // prettier-ignore
  })
})
