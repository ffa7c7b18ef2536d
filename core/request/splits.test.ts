import { expect } from 'chai'
import fc from 'fast-check'
import { Decimal, sumDecimals } from '#core/money/decimal.ts'
import { balanced, checkSplits, leftOver, recount, type Split, SPLIT_BY, type SplitBy } from '#core/request/splits.ts'

const whole = { amount: '1250.50', quantity: '12' }
const rows = (...shares: string[]): Split[] => shares.map((share, index) => ({ accountId: `a${index}`, share }))
const codes = (by: SplitBy, ...shares: string[]): string[] =>
  checkSplits(by, rows(...shares), whole, 1).map(reason => reason.code)

describe('a split over accounts', () => {
  it('adds up to a hundred per cent, to the amount or to the quantity; parts need no sum', () => {
    expect(codes('percent', '60', '40')).to.deep.equal([])
    expect(codes('percent', '60', '39.99')).to.deep.equal(['line.splitsAdd'])
    expect(codes('amount', '1000', '250.50')).to.deep.equal([])
    expect(codes('amount', '1000', '250.51')).to.deep.equal(['line.splitsAdd'])
    expect(codes('quantity', '5', '7')).to.deep.equal([])
    expect(codes('quantity', '5', '8')).to.deep.equal(['line.splitsAdd'])
    expect(codes('share', '1', '2', '7')).to.deep.equal([])
  })

  it('says how much is left, with its sign', () => {
    expect(leftOver('percent', rows('60', '30'), whole)).to.equal('10')
    expect(leftOver('amount', rows('1300'), whole)).to.equal('-49.5')
    expect(leftOver('quantity', rows('x', '5'), whole)).to.equal('7')
    expect(leftOver('share', rows('1'), whole)).to.equal(null)
  })

  it('takes one account whole, whatever its figure says', () => {
    expect(codes('percent', '100')).to.deep.equal([])
    expect(codes('amount', '1')).to.deep.equal([])
  })

  it('refuses nothing, an account twice, and figures that are not above zero', () => {
    expect(checkSplits('percent', [], whole, 1)[0]!.code).to.equal('line.noAccount')
    const twice = [
      { accountId: 'a', share: '50' },
      { accountId: 'a', share: '50' },
    ]
    expect(checkSplits('percent', twice, whole, 1)[0]!.code).to.equal('line.shares')
    for (const share of ['0', '-1', '', '1e3', 'NaN'])
      expect(codes('percent', share, '100'), share).to.deep.equal(['line.shares'])
  })

  it('keeps adding up while one figure is typed', () => {
    const shares = (by: SplitBy, at: number, ...typed: string[]): string[] =>
      balanced(by, rows(...typed), at, whole).map(split => split.share)
    expect(shares('percent', 0, '70', '50')).to.deep.equal(['70', '30'])
    expect(shares('percent', 1, '50', '20')).to.deep.equal(['80', '20'])
    expect(shares('percent', 0, '30', '30', '10')).to.deep.equal(['30', '30', '40'])
    expect(shares('percent', 0, '120', '10')).to.deep.equal(['120', '10'])
    expect(shares('share', 0, '3', '1')).to.deep.equal(['3', '1'])
    expect(shares('amount', 0, '0.5', '1')).to.deep.equal(['0.5', '1250'])
  })

  it('can be counted otherwise, and still adds to the last digit', () => {
    expect(recount('percent', rows('1', '2'), whole).map(split => split.share)).to.deep.equal(['33.33', '66.67'])
    expect(recount('amount', rows('1', '1', '1'), whole).map(split => split.share)).to.deep.equal([
      '416.83',
      '416.83',
      '416.84',
    ])
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 9_999 }), { minLength: 1, maxLength: 8 }),
        fc.constantFrom(...SPLIT_BY.filter(by => by !== 'share')),
        (weights, by) => {
          const total = by === 'percent' ? '100' : by === 'amount' ? whole.amount : whole.quantity
          const counted = recount(by, rows(...weights.map(String)), whole, by === 'quantity' ? 6 : 2)
          expect(sumDecimals(counted.map(split => split.share)).equals(new Decimal(total))).to.equal(true)
        },
      ),
    )
  })
})
