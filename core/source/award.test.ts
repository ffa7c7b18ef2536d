import { expect } from 'chai'
import fc from 'fast-check'
import { Decimal, sumDecimals } from '#core/money/decimal.ts'
import {
  type AwardableLine,
  awardAllTo,
  awardedOf,
  cheapestAward,
  checkAward,
  type LineShare,
  notCheapest,
  quantitiesByShare,
} from '#core/source/award.ts'

const line = (
  id: string,
  quantity: string,
  costs: Readonly<Record<string, number>>,
  minimum: Readonly<Record<string, string>> = {},
): AwardableLine => ({
  id,
  quantity,
  perUnit: new Map(Object.entries(costs).map(([supplier, cost]) => [supplier, new Decimal(cost)])),
  minimum: new Map(Object.entries(minimum)),
})
const share = (lineId: string, supplierId: string, quantity: string): LineShare => ({ lineId, supplierId, quantity })
const LINES = [line('l1', '10', { a: 5, b: 4 }), line('l2', '8', { a: 2, b: 3 }, { a: '4' }), line('l3', '1', {})]

describe('an award', () => {
  const codes = (shares: LineShare[], reason = '') => checkAward(LINES, shares, reason).map(one => one.code)

  it('gives parts of lines to those who answered them, each once, no more than is asked for', () => {
    expect(codes([share('l1', 'b', '10')])).to.deep.equal([])
    expect(codes([])).to.deep.equal(['award.nothing'])
    expect(codes([share('l1', 'b', '0')])).to.deep.equal(['award.aboveZero'])
    expect(codes([share('l3', 'a', '1')])).to.deep.equal(['award.noAnswer'])
    expect(codes([share('l9', 'a', '1')])).to.deep.equal(['award.noAnswer'])
    expect(codes([share('l1', 'b', '1'), share('l1', 'b', '2')])).to.deep.equal(['award.twice'])
    expect(codes([share('l1', 'b', '10.000001')])).to.deep.equal(['award.tooMuch'])
    expect(codes([share('l1', 'b', '6'), share('l1', 'a', '5')], 'Two sources.')).to.deep.equal(['award.tooMuch'])
    expect(
      awardedOf('l1', [share('l1', 'b', '6'), share('l1', 'a', '1.5'), share('l2', 'a', '4')]).toString(),
    ).to.equal('7.5')
  })

  it('keeps to the least that somebody takes; exactly that is enough', () => {
    expect(codes([share('l2', 'a', '4')])).to.deep.equal([])
    expect(checkAward(LINES, [share('l2', 'a', '3.9')], '')[0]).to.deep.include({ code: 'award.belowMinimum', details: { least: '4' }, place: 'lines.l2' }) // prettier-ignore
  })

  it('wants a reason where somebody gets a part who is not the cheapest for it, and says by how much', () => {
    const dearer = [share('l1', 'a', '4'), share('l1', 'b', '6')]
    expect(codes(dearer)).to.deep.equal(['award.reason', 'award.notCheapest'])
    expect(codes(dearer, 'Two sources.')).to.deep.equal([])
    expect(notCheapest(LINES, dearer).map(one => [one.lineId, one.supplierId, one.more.toString()])).to.deep.equal([['l1', 'a', '4']]) // prettier-ignore
    const equal = [line('l', '1', { a: 5, b: 5 })]
    expect(checkAward(equal, [share('l', 'b', '1')], '')).to.deep.equal([])
  })

  it('goes line by line to the cheapest, of equal ones to the first; or all that one answered to that one', () => {
    expect(cheapestAward(LINES)).to.deep.equal([share('l1', 'b', '10'), share('l2', 'a', '8')])
    expect(cheapestAward([line('l', '2', { b: 1, a: 1 })])).to.deep.equal([share('l', 'b', '2')])
    expect(awardAllTo(LINES, 'a')).to.deep.equal([share('l1', 'a', '10'), share('l2', 'a', '8')])
    expect(awardAllTo(LINES, 'c')).to.deep.equal([])
    expect(checkAward(LINES, cheapestAward(LINES), '')).to.deep.equal([])
  })
})

describe('shares of a line in per cent', () => {
  it('are quantities in the digits of its unit that add up to the whole', () => {
    expect(quantitiesByShare('10', 0, ['33', '67'])).to.deep.equal(['3', '7'])
    expect(quantitiesByShare('10', 0, ['50', '50'])).to.deep.equal(['5', '5'])
    expect(quantitiesByShare('7', 0, ['50', '50'])).to.deep.equal(['4', '3'])
    expect(quantitiesByShare('1', 3, ['1', '1', '1'])).to.deep.equal(['0.334', '0.333', '0.333'])
    expect(quantitiesByShare('2.5', 0, ['50', '50'])).to.deep.equal(['1.5', '1'])
  })

  it('always add up, and differ from what they stand for by less than one step', () => {
    const percents = fc
      .array(fc.integer({ min: 0, max: 100 }), { minLength: 1, maxLength: 6 })
      .filter(all => all.some(one => one > 0))
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e7 }), fc.constantFrom(0, 1, 3), percents, (steps, digits, wanted) => {
        const quantity = new Decimal(steps).dividedBy(10 ** digits)
        const parts = quantitiesByShare(quantity.toString(), digits, wanted.map(String))
        expect(sumDecimals(parts).equals(quantity)).to.equal(true)
        const sum = wanted.reduce((total, one) => total + one, 0)
        for (const [index, part] of parts.entries()) {
          const exact = quantity.times(wanted[index]!).dividedBy(sum)
          expect(
            exact
              .minus(part)
              .abs()
              .times(10 ** digits)
              .lt(1),
          ).to.equal(true)
        }
      }),
    )
  })
})
