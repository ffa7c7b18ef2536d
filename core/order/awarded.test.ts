import { expect } from 'chai'
import { sumBudget } from '#core/ledger/budget.ts'
import { minor } from '#core/money/amount.ts'
import { awardedOrders, chargesOf, type PlacingFacts, whyNotPlace } from '#core/order/awardedOrders.ts'
import type { PoolLine } from '#core/order/draftOrders.ts'
import { whyNotInEvent } from '#core/order/poolLines.ts'
import { repriceLine } from '#core/order/repriceLine.ts'
import { sumQuantities } from '#core/ledger/quantity.ts'
import { answerOf, eventFacts, eventLine, eventLot } from '#test-helpers/events.ts'

const pilar = { id: 'p', name: 'Pilar', rights: new Set(['order.write']), roles: [], costCentres: [], supplierId: null, standsInFor: [] } // prettier-ignore
const sums = (requested: string, ordered = '0') => sumQuantities([{ kind: 'requested', quantity: requested }, { kind: 'ordered', quantity: ordered }]) // prettier-ignore
const pooled = (changed: Partial<PoolLine> = {}): PoolLine => ({ id: 'q', requisitionId: 'r', requisition: 'R-1', requestTitle: 'Need', position: 1, state: 'toBuy', kind: 'goods', itemId: null, description: 'Pump a', unit: 'C62', price: '12', priceBase: '1', currency: 'EUR', supplierId: null, supplierName: '', overReceiptPercent: 0, needBy: null, addressId: 'quay', proof: 'count', details: {}, incoterm: null, incotermPlace: '', splits: [{ accountId: 'pumps', share: '1' }], routes: ['askForQuotes'], agreement: '', agreementLineId: null, asked: false, event: 'E-1', sums: sums('10'), ...changed }) // prettier-ignore
const event = {
  ...eventFacts({
    state: 'awarded',
    lines: [eventLine('a', { requisitionLineId: 'q' }), eventLine('b', { position: 2, quantity: '4' })],
    kind: { components: [{ key: 'u', name: 'Each', basis: 'perUnit', kind: 'other' }, { key: 'f', name: 'Freight', basis: 'perLot', kind: 'freight' }, { key: 'l', name: 'Tool', basis: 'perLine', kind: 'other' }] }, // prettier-ignore
  }),
}
const answer = (prices: Record<string, string>, currency = 'EUR') => {
  const content = answerOf(event, prices, { currency, lump: { lot: { f: '7.5' } } })
  return { ...content, lines: content.lines.map(line => ({ ...line, components: { u: '0.25', l: '3' } })) }
}
const facts = (changed: Partial<PlacingFacts> = {}): PlacingFacts => ({
  event,
  shares: [
    { lineId: 'a', supplierId: 'A', quantity: '6' },
    { lineId: 'a', supplierId: 'B', quantity: '4' },
    { lineId: 'b', supplierId: 'B', quantity: '4' },
  ],
  answers: new Map([
    ['A', answer({ a: '10', b: '7' })],
    ['B', answer({ a: '11', b: '6' }, 'NOK')],
  ]),
  pool: new Map([['q', pooled()]]),
  suppliers: new Map([
    ['A', { name: 'Alpha', overReceiptPercent: 5 }],
    ['B', { name: 'Beta', overReceiptPercent: 0 }],
  ]),
  accounts: new Map([['b', 'tools']]),
  rates: new Map([
    ['EUR', '1'],
    ['NOK', '0.1'],
  ]),
  base: 'EUR',
  message: 'From E-1.',
  ...changed,
})
const why = (changed: Partial<PlacingFacts>, actor = pilar) => whyNotPlace(facts(changed), actor).map(one => `${one.code} ${one.place ?? ''}`.trim()) // prettier-ignore

const PUMPS = { id: 'pumps', label: 'Pumps', level: 'note' as const, tolerancePercent: 0, open: true, sums: sumBudget([{ kind: 'allotted', amount: minor(99_999) }]) } // prettier-ignore

describe('orders that follow an award', () => {
  it('are one for each supplier, at the prices that it answered, for the shares that it got', () => {
    const made = awardedOrders(facts(), pilar)
    expect(made.ok).to.equal(true)
    const orders = made.ok ? made.next.orders : []
    expect(orders.map(one => [one.supplierName, one.currency, one.from.join(' '), one.message])).to.deep.equal([['Alpha', 'EUR', 'E-1 R-1', 'From E-1.'], ['Beta', 'NOK', 'E-1 R-1', 'From E-1.']]) // prettier-ignore
    expect(orders[0]!.lines.map(line => [line.eventLineId, line.requisitionLineId, line.quantity, line.price, line.amount])).to.deep.equal([['a', 'q', '6', '10', 6000n]]) // prettier-ignore
    expect(orders[1]!.lines.map(line => [line.eventLineId, line.quantity, line.amount, line.baseAmount])).to.deep.equal([['a', '4', 4400n, 440n], ['b', '4', 2400n, 240n]]) // prettier-ignore
    expect(orders[1]!.lines.map(line => line.splits[0]!.accountId)).to.deep.equal(['pumps', 'tools'])
    expect(orders[0]!.lines[0]!.overReceiptPercent).to.equal(5)
    expect(orders[0]!.addressId).to.equal('quay')
    // 6 × 0.25 + 3 + 7.50 = 12.00; (4 + 4) × 0.25 + 2 × 3 + 7.50 = 15.50
    expect(orders.map(one => one.charges)).to.deep.equal([1200n, 1550n])
    expect(orders[1]!.chargeItems!.map(one => [one.kind, one.words, one.amount])).to.deep.equal([['other', 'Each', 200n], ['freight', 'Freight', 750n], ['other', 'Tool', 600n]]) // prettier-ignore
    expect(orders.map(one => [one.total, one.baseTotal])).to.deep.equal([[7200n, 7200n], [8350n, 835n]]) // prettier-ignore
  })

  it('of work are for work that is accepted, where no request says otherwise', () => {
    const work = { ...event, kind: { ...event.kind, bought: 'work' as const } }
    const made = awardedOrders(facts({ event: work }), pilar)
    const lines = made.ok ? made.next.orders[1]!.lines : []
    expect(lines.map(line => [line.kind, line.proof])).to.deep.equal([['goods', 'count'], ['fixedPriceWork', 'acceptWork']]) // prettier-ignore
  })

  it('are refused where a line waits no more, has no account, less of it is left, or there is no rate', () => {
    expect(why({})).to.deep.equal([])
    expect(why({ pool: new Map() })).to.deep.equal(['order.lineNotToBuy', 'order.lineNotToBuy'].slice(0, 1))
    expect(why({ pool: new Map([['q', pooled({ state: 'cancelled' })]]) })).to.deep.equal(['order.lineNotToBuy'])
    expect(why({ pool: new Map([['q', pooled({ sums: sums('10', '1') })]]) })).to.deep.equal(['place.lessLeft'])
    expect(why({ accounts: new Map() })).to.deep.equal(['place.account accounts.b'])
    expect(why({ rates: new Map([['EUR', '1']]) })).to.deep.equal(['line.noRate'])
    expect(why({ event: { ...event, state: 'over' } })).to.deep.equal(['state.notNow'])
    expect(why({}, { ...pilar, rights: new Set() })).to.deep.equal(['right.notYours'])
  })

  it('charge a lump sum only for lots of which something is bought', () => {
    const lots = { ...event, lots: [eventLot('lot'), eventLot('other')] }
    const content = { ...answer({ a: '1' }), lump: { lot: { f: '7.5' }, other: { f: '99' } } }
    const charged = chargesOf({ event: lots }, content, [{ lineId: 'a', supplierId: 'A', quantity: '2' }])
    expect(charged.map(one => one.amount)).to.deep.equal([50n, 750n, 300n])
  })
})

describe('a line that suppliers are asked about', () => {
  it('is not bought, split or sent back by hand meanwhile', () => {
    expect(whyNotInEvent(pooled()).map(one => one.code)).to.deep.equal(['pool.inEvent'])
    expect(whyNotInEvent(pooled({ event: '' }))).to.deep.equal([])
  })

  const line = { id: 'q', requisitionId: 'r', kind: 'goods' as const, description: 'Pump', state: 'toBuy' as const, position: 1, quantity: '10', baseAmount: minor(10_000), splits: [{ accountId: 'pumps', share: '1' }], sums: sums('10'), standing: [{ accountId: 'pumps', kind: 'reserved' as const, amount: minor(10_000) }] } // prettier-ignore
  const reprice = (price: string, changed = {}, rate = '1') => repriceLine({ ...line, ...changed } as never, { price, priceBase: '1', currency: 'EUR', rate }, [PUMPS], pilar, 'EUR') // prettier-ignore
  it('gets the price that it came to, and what is reserved follows', () => {
    const done = reprice('8')
    expect(done.ok && [done.next.amount, done.next.baseAmount]).to.deep.equal([8000n, 8000n])
    expect(done.ok && done.budget.map(one => one.amount)).to.deep.equal([-2000n])
  })

  it('stays within what was approved, and is not priced anew where it is ordered in part or waits no more', () => {
    const codes = (result: ReturnType<typeof reprice>) => (result.ok ? [] : result.reasons.map(one => one.code))
    expect(codes(reprice('11'))).to.deep.equal([])
    expect(codes(reprice('11.01'))).to.deep.equal(['pool.overApproved'])
    expect(codes(reprice('8', { sums: sums('10', '1') }))).to.deep.equal(['pool.partOrdered'])
    expect(codes(reprice('8', { state: 'cancelled' }))).to.deep.equal(['order.lineNotToBuy'])
  })
})
