import { expect } from 'chai'
import { minor } from '#core/money/amount.ts'
import { payTerms } from '#core/order/payTerms.ts'

const order = { charges: minor(0), lines: [{ kind: 'goods' as const, amount: minor(90_001) }, { kind: 'fixedPriceWork' as const, amount: minor(10_010) }] } // prettier-ignore
const say = (values: Record<string, string>) => Object.entries(values).map(([key, value]) => ({ key: key as 'prepaidPercent', value })) // prettier-ignore

describe('when an order is paid', () => {
  it('is prepaid by a per cent of all of it, charges and all', () => {
    expect(payTerms(order, say({ prepaidPercent: '30' })).prepaid).to.equal(30_003n)
    expect(payTerms({ ...order, charges: minor(-99_911) }, say({ prepaidPercent: '50' })).prepaid).to.equal(50n)
    expect(payTerms({ ...order, charges: minor(-200_000) }, say({ prepaidPercent: '50' })).prepaid).to.equal(0n)
  })

  it('holds back a per cent of its work for days after acceptance', () => {
    // 5 % of 100.10 is 5.005
    expect(payTerms(order, say({ retainedPercent: '5', retainedDays: '90' }))).to.deep.equal({ prepaid: 0n, retained: 501n, days: 90 }) // prettier-ignore
    expect(payTerms({ ...order, lines: order.lines.slice(0, 1) }, say({ retainedPercent: '5' })).retained).to.equal(0n)
  })

  it('is neither where nothing is said', () => {
    expect(payTerms(order, [])).to.deep.equal({ prepaid: 0n, retained: 0n, days: 0 })
  })
})
