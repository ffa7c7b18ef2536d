import { expect } from 'chai'
import fc from 'fast-check'
import { differences } from '#core/bill/matchInvoice.ts'
import { STRICT } from '#core/bill/tolerance.ts'
import { profileFor, type ToleranceCase } from '#core/bill/toleranceRules.ts'
import { type ToleranceRule, toleranceRule, whyNotTolerance } from '#core/bill/toleranceEntry.ts'
import { minor } from '#core/money/amount.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

const rule = (more: Partial<ToleranceRule> = {}): ToleranceRule => ({ ...toleranceRule({ of: 'price', percent: '2', from: '2026-01-01' }), ...more }) // prettier-ignore
const line = (more: Partial<ToleranceCase> = {}): ToleranceCase => ({ supplier: 'S-9', categories: ['Seals', 'Pumps'], currency: 'EUR', rate: '1', base: 'EUR', value: '500', on: '2026-06-01', ...more }) // prettier-ignore
const percent = (rules: readonly ToleranceRule[], more: Partial<ToleranceCase> = {}): string | null =>
  profileFor(rules, line(more)).price.percent

describe('the tolerance that holds', () => {
  it('is the nearest: supplier, then category, then value, then currency', () => {
    const all = [
      rule(),
      rule({ percent: '3', currency: 'EUR' }),
      rule({ percent: '4', above: '100' }),
      rule({ percent: '5', above: '400' }),
      rule({ percent: '6', category: 'Pumps' }),
      rule({ percent: '7', category: 'Seals' }),
      rule({ percent: '8', supplier: 'S-9' }),
    ]
    const order = ['8', '7', '6', '5', '4', '3', '2']
    for (let left = all.length; left > 0; left--)
      for (const given of [all.slice(0, left).reverse(), all.slice(0, left)])
        expect(percent(given), String(left)).to.equal(order[all.length - left])
    const dated = [rule({ percent: '1', from: '2026-03-01' }), rule(), rule({ percent: '9', from: '2026-05-01' })]
    expect([percent(dated), percent(dated.toReversed()), percent(dated, { on: '2026-04-01' })]).to.deep.equal([
      '9',
      '9',
      '1',
    ])
  })

  it('is not that of another supplier, category, currency or a smaller value', () => {
    for (const other of [{ supplier: 'S-8' }, { category: 'Food' }, { currency: 'NOK' }, { above: '501' }])
      expect(percent([rule({ percent: '9', ...other })]), JSON.stringify(other)).to.equal(null)
    expect(percent([rule({ above: '500' })])).to.equal('2')
    expect(percent([rule({ category: 'Pumps' })], { categories: [] })).to.equal(null)
  })

  it('is the version of the day on which the invoice came', () => {
    const versions = [rule(), rule({ percent: '1', from: '2026-06-01' }), rule({ percent: '0', from: '2026-06-02' })]
    expect(percent(versions, { on: '2026-05-31' })).to.equal('2')
    expect(percent(versions, { on: '2026-06-01' })).to.equal('1')
    expect(percent(versions, { on: '2026-06-02' })).to.equal('0')
    expect(percent(versions, { on: '2025-12-31' })).to.equal(null)
  })

  it('allows nothing to a supplier that is judged strictly, or where nothing is set', () => {
    expect(profileFor([rule()], line(), 'strict')).to.deep.equal(STRICT)
    expect(profileFor([], line())).to.deep.equal(STRICT)
  })

  it('converts an amount that names no currency, but not a quantity', () => {
    const absolute = (more: Partial<ToleranceRule>, one: Partial<ToleranceCase> = {}) =>
      profileFor([rule({ percent: null, absolute: '5', ...more })], line({ currency: 'NOK', rate: '0.08', ...one }))
    expect(absolute({}).price.absolute).to.equal('62.5')
    expect(absolute({ currency: 'NOK' }).price.absolute).to.equal('5')
    expect(absolute({ of: 'quantity' }).quantity.absolute).to.equal('5')
    expect(absolute({}, { currency: 'EUR', rate: '1' }).price.absolute).to.equal('5')
    expect(absolute({ combine: 'looser', both: true }).price).to.include({ combine: 'looser', both: true })
  })

  it('of one thing never lends itself to another', () => {
    fc.assert(
      fc.property(fc.constantFrom('price', 'quantity', 'freight', 'tax'), of => {
        const profile = profileFor([rule({ of: of as ToleranceRule['of'] })], line())
        for (const key of ['price', 'quantity', 'freight', 'tax'] as const)
          expect(profile[key].percent, key).to.equal(key === of ? '2' : null)
      }),
    )
  })

  it('has a limit, goes both ways only where less can be held, and has a category only of lines', () => {
    const codes = (values: Record<string, string>) => whyNotTolerance({ of: 'price', percent: '2', ...values }).map(reason => reason.code) // prettier-ignore
    expect(codes({})).to.deep.equal([])
    expect(codes({ percent: '' })).to.deep.equal(['tolerance.noLimit'])
    expect(codes({ percent: '', absolute: '0' })).to.deep.equal([])
    expect(codes({ ways: 'both' })).to.deep.equal([])
    expect(codes({ of: 'freight', ways: 'both' })).to.deep.equal([])
    for (const of of ['quantity', 'amount', 'tax', 'smallTotal'])
      expect(codes({ of, ways: 'both' }), of).to.deep.equal(['tolerance.oneWay'])
    for (const of of ['price', 'quantity', 'amount']) expect(codes({ of, category: 'Pumps' }), of).to.deep.equal([])
    for (const of of ['freight', 'tax', 'smallTotal'])
      expect(codes({ of, category: 'Pumps' }), of).to.deep.equal(['tolerance.ofLines'])
  })
})

describe('differences that are small together', () => {
  const bill = (net: bigint, smallTotal: string, more: { charges?: bigint; quantity?: string } = {}) => {
    const world = new OrderToPay({ lines: [{ price: '20' }] })
    world.issue()
    world.receive([{ line: 1, quantity: '10' }])
    const one = world.bill([{ line: 1, quantity: more.quantity ?? '10', net }])
    const invoice = { ...one, charges: minor(more.charges ?? 0n), tolerances: { ...STRICT, smallTotal: { percent: null, absolute: smallTotal } } } // prettier-ignore
    return differences(invoice).map(hold => [hold.kind, hold.amount])
  }

  it('are let pass up to their limit, all of them or none', () => {
    expect(bill(20_100n, '1')).to.deep.equal([])
    expect(bill(20_100n, '0.99')).to.deep.equal([['price', 100n]])
    expect(bill(20_100n, '1.5', { charges: 50n })).to.deep.equal([])
    expect(bill(20_100n, '1.49', { charges: 50n })).to.deep.equal([['price', 100n], ['charges', 50n]]) // prettier-ignore
  })

  it('never take away that something has not come', () => {
    const kinds = bill(22_000n, '1000', { quantity: '11' }).map(([kind]) => kind)
    expect(kinds).to.deep.equal(['proof'])
  })
})
