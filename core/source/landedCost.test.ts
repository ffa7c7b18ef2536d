import { expect } from 'chai'
import fc from 'fast-check'
import { Decimal } from '#core/money/decimal.ts'
import {
  checkCosted,
  type CostComponent,
  type CostedLine,
  daysToPayment,
  discounted,
  landedCost,
  type LandedRules,
} from '#core/source/landedCost.ts'

const PLAIN: LandedRules = {
  insurancePercent: '0',
  insured: '1',
  dutyOn: 'goods',
  interestPercent: '0',
  interest: 'simple',
  rate: '1',
}
const line = (changed: Partial<CostedLine> = {}): CostedLine => ({
  id: 'l1',
  quantity: '10',
  price: '20',
  priceBase: '1',
  components: [],
  dutyPercent: '0',
  ...changed,
})
const component = (amount: string, changed: Partial<CostComponent> = {}): CostComponent => ({
  name: 'Freight',
  basis: 'perLine',
  kind: 'freight',
  amount,
  ...changed,
})
const totals = (lines: readonly CostedLine[], rules: Partial<LandedRules> = {}, lump: CostComponent[] = [], days = 0) =>
  landedCost(lines, lump, { ...PLAIN, ...rules }, days).map(one => one.total.toString())

describe('landed cost', () => {
  it('is the goods at their price base, in the currency of the comparison', () => {
    expect(totals([line()])).to.deep.equal(['200'])
    expect(totals([line({ price: '2000', priceBase: '100' })])).to.deep.equal(['200'])
    expect(totals([line()], { rate: '1.25' })).to.deep.equal(['250'])
    expect(landedCost([line()], [], PLAIN, 0)[0]!.perUnit.toString()).to.equal('20')
  })

  it('has components by unit and by line, freight apart from the rest', () => {
    const components = [component('1.5', { basis: 'perUnit' }), component('30'), component('45', { kind: 'other', name: 'Tooling' })] // prettier-ignore
    const [one] = landedCost([line({ components })], [], { ...PLAIN, rate: '2' }, 0)
    expect([one!.goods, one!.freight, one!.other, one!.total].map(String)).to.deep.equal(['400', '90', '90', '580'])
  })

  it('shares what is for the whole lot by the value of the goods, equally where they are worth nothing', () => {
    const two = [line({ id: 'a', price: '30' }), line({ id: 'b', price: '10' })]
    const lump = [component('100', { basis: 'perLot' }), component('40', { basis: 'perLot', kind: 'other' })]
    expect(totals(two, {}, lump)).to.deep.equal(['405', '135'])
    const free = [line({ id: 'a', price: '0' }), line({ id: 'b', price: '0' })]
    expect(totals(free, {}, lump)).to.deep.equal(['70', '70'])
  })

  it('insures goods and freight, at their value or at 110 per cent of it', () => {
    const insured = [line({ components: [component('50'), component('1000', { kind: 'other' })] })]
    const of = (rules: Partial<LandedRules>) =>
      landedCost(insured, [], { ...PLAIN, ...rules }, 0)[0]!.insurance.toString()
    expect(of({ insurancePercent: '2' })).to.equal('5')
    expect(of({ insurancePercent: '2', insured: '1.1' })).to.equal('5.5')
  })

  it('takes duty on the goods, or on goods, freight and insurance', () => {
    const of = (rules: Partial<LandedRules>) =>
      landedCost([line({ dutyPercent: '10', components: [component('50')] })], [], { ...PLAIN, ...rules }, 0)[0]!.duty.toString() // prettier-ignore
    expect(of({})).to.equal('20')
    expect(of({ dutyOn: 'goodsFreightInsurance', insurancePercent: '2' })).to.equal('25.5')
  })

  it('makes goods worth less the later they are paid, the rest not', () => {
    const hundred = new Decimal(100)
    expect(discounted(hundred, { interestPercent: '7.3', interest: 'simple' }, 100).toFixed(4)).to.equal('98.0392')
    expect(discounted(hundred, { interestPercent: '10', interest: 'compound' }, 365).toFixed(4)).to.equal('90.9091')
    expect(discounted(hundred, { interestPercent: '10', interest: 'compound' }, 0).toString()).to.equal('100')
    const [one] = landedCost([line({ dutyPercent: '10', components: [component('50')] })], [], { ...PLAIN, interestPercent: '7.3' }, 100) // prettier-ignore
    expect([one!.goods.toString(), one!.goodsNow.toFixed(4), one!.duty.toString()]).to.deep.equal([
      '200',
      '196.0784',
      '20',
    ])
    expect(one!.total.toFixed(4)).to.equal('266.0784')
    expect([daysToPayment('2026-03-01', '2026-03-31'), daysToPayment('2026-03-01', '2026-02-01')]).to.deep.equal([
      30, 0,
    ])
  })

  it('has parts that add up to it, and lump sums that are shared whole, whatever the figures', () => {
    const cents = (most: number) => fc.integer({ min: 0, max: most }).map(value => (value / 100).toFixed(2))
    const some = fc.record({
      quantity: fc.integer({ min: 1, max: 5000 }).map(String),
      price: cents(1e7),
      dutyPercent: fc.integer({ min: 0, max: 40 }).map(String),
      freight: cents(1e5),
    })
    fc.assert(
      fc.property(fc.array(some, { minLength: 1, maxLength: 8 }), cents(1e6), (wanted, lump) => {
        const lines = wanted.map((one, index) => line({ ...one, id: String(index), components: [component(one.freight)] })) // prettier-ignore
        const rules = { ...PLAIN, insurancePercent: '0.4', dutyOn: 'goodsFreightInsurance' as const }
        const costs = landedCost(lines, [component(lump, { basis: 'perLot' })], rules, 0)
        for (const one of costs) {
          const parts = one.goodsNow.plus(one.freight).plus(one.other).plus(one.insurance).plus(one.duty)
          expect(parts.minus(one.total).abs().lt('1e-30')).to.equal(true)
          expect(one.perUnit.times(lines[Number(one.id)]!.quantity).minus(one.total).abs().lt('1e-30')).to.equal(true)
        }
        const freight = costs.reduce((sum, one) => sum.plus(one.freight), new Decimal(0))
        const own = wanted.reduce((sum, one) => sum.plus(one.freight), new Decimal(0))
        expect(freight.minus(own).minus(lump).abs().lt('1e-30')).to.equal(true)
      }),
    )
  })

  it('is not made of figures below zero, nor of no quantity', () => {
    const codes = (changed: Partial<CostedLine>) => checkCosted(line(changed)).map(one => [one.code, one.place])
    expect(codes({})).to.deep.equal([])
    expect(codes({ price: '0', components: [component('0')] })).to.deep.equal([])
    expect(codes({ quantity: '0' })).to.deep.equal([['answer.quantity', 'lines.l1.quantity']])
    expect(codes({ price: '-0.01' })).to.deep.equal([['answer.price', 'lines.l1.price']])
    expect(codes({ components: [component('1'), component('-1')] })).to.deep.equal([['answer.component', 'lines.l1.components.1']]) // prettier-ignore
  })
})
