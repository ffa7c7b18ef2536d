import { expect } from 'chai'
import fc from 'fast-check'
import { comesAgain, expectedBills, likeThePlan, missedFrom, plannedUntil } from '#core/order/recurring.ts'
import { matchLine } from '#core/bill/matchLine.ts'
import { STRICT } from '#core/bill/tolerance.ts'
import { addDays } from '#core/calendar/days.ts'
import { NO_QUANTITIES } from '#core/ledger/quantity.ts'
import { minor } from '#core/money/amount.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

const months = ['2026-09-01', '2026-10-01', '2026-11-01', '2026-12-01']
const world = new OrderToPay({ lines: [{ price: '1500' }] })
world.issue()
const rent = (billed = '0', more: object = {}) => ({ ...world.order().lines[0]!, proof: 'none' as const, quantity: '4', price: '1500', priceBase: '1', schedule: months.map(date => ({ date, quantity: '1', addressId: null, place: '' })), ...more, sums: { ...NO_QUANTITIES, billed } }) // prettier-ignore
const states = (billed: string, today: string) => expectedBills(rent(billed), 'EUR', today).map(one => one.state)

describe('a line that is billed by a plan', () => {
  it('is one that is not proven and has several days', () => {
    expect([comesAgain(rent()), comesAgain(rent('0', { proof: 'count' })), comesAgain(rent('0', { schedule: [] }))]).to.deep.equal([true, false, false]) // prettier-ignore
  })

  it('expects a bill for each day; what is billed counts for the earliest, one that is late is missing', () => {
    expect(states('0', '2026-09-01')).to.deep.equal(['toCome', 'toCome', 'toCome', 'toCome'])
    expect(states('1', '2026-10-11')).to.deep.equal(['billed', 'toCome', 'toCome', 'toCome'])
    expect(states('1', '2026-10-12')).to.deep.equal(['billed', 'missing', 'toCome', 'toCome'])
    expect(states('2.5', '2026-11-02')).to.deep.equal(['billed', 'billed', 'part', 'toCome'])
    expect(expectedBills(rent('1'), 'EUR', '2026-10-12', '1').map(one => one.state)).to.deep.equal(['billed', 'billed', 'toCome', 'toCome']) // prettier-ignore
    expect(states('4', '2027-01-01')).to.deep.equal(['billed', 'billed', 'billed', 'billed'])
    expect(expectedBills(rent(), 'EUR', '2026-09-01')[0]!.amount).to.equal(150_000n)
    expect([missedFrom(rent('1'), 'EUR'), missedFrom(rent('4'), 'EUR')]).to.deep.equal(['2026-10-12', null])
  })

  it('may be billed a little ahead: nearer to its day than to the one before', () => {
    expect(['2026-08-01', '2026-09-01', '2026-09-15', '2026-09-16', '2026-12-01', '2027-05-01'].map(day => plannedUntil(rent(), day))).to.deep.equal(['1', '1', '1', '2', '4', '4']) // prettier-ignore
  })

  it('is held where it is billed before its time, and not where it is on time', () => {
    const bill = (billed: string, on: string) =>
      matchLine({ position: 1, quantity: '1', unit: 'C62', net: minor(150_000) }, { order: { state: 'issued', currency: 'EUR' }, line: rent(billed), sameInvoice: '0' }, STRICT, 'EUR', on).map(hold => [hold.kind, hold.quantity, hold.amount]) // prettier-ignore
    expect(bill('0', '2026-09-02')).to.deep.equal([])
    expect(bill('1', '2026-09-02')).to.deep.equal([['early', '1', 150_000n]])
    expect(bill('1', '2026-09-20')).to.deep.equal([])
    expect(bill('4', '2026-12-20').map(([kind]) => kind)).to.deep.equal(['early', 'quantity'])
  })

  it('may be for a bill that names no order: in its unit, within a quarter of its price', () => {
    const planned = { unit: 'MON', price: '3000', priceBase: '2' }
    const like = (price: string, unit = 'MON', priceBase = '1') => likeThePlan({ unit, price, priceBase }, planned)
    expect([like('1500'), like('1875'), like('1125'), like('3000', 'MON', '2')]).to.deep.equal([true, true, true, true])
    expect([like('1875.01'), like('1124.99'), like('1500', 'C62'), like('3000')]).to.deep.equal([false, false, false, false]) // prettier-ignore
  })

  it('never plans less on a later day, nor more than is ordered', () => {
    fc.assert(
      fc.property(fc.nat(300), fc.nat(60), (days, more) => {
        const [day, later] = [addDays('2026-07-01', days), addDays('2026-07-01', days + more)]
        expect(Number(plannedUntil(rent(), day))).to.be.at.most(Number(plannedUntil(rent(), later)))
        expect(Number(plannedUntil(rent(), later))).to.be.at.most(4)
      }),
    )
  })
})
