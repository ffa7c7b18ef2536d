import { expect } from 'chai'
import fc from 'fast-check'
import { Decimal } from '#core/money/decimal.ts'
import {
  checkCriteria,
  type ComparedAnswer,
  PRICE,
  PRICE_FORMULAS,
  pricePoints,
  questionnairePoints,
  scoreAnswers,
  scorersTogether,
  winnersByPriceWeight,
} from '#core/source/scores.ts'

const decimals = (...values: (number | string)[]): Decimal[] => values.map(one => new Decimal(one))
const answer = (supplierId: string, cost: number, quality = 0, knockedOut = false): ComparedAnswer => ({
  supplierId,
  cost: new Decimal(cost),
  points: new Map([['quality', new Decimal(quality)]]),
  knockedOut,
})
const HALF = [
  { key: PRICE, weight: '50' },
  { key: 'quality', weight: '50' },
]

describe('points of a price', () => {
  const of = (formula: (typeof PRICE_FORMULAS)[number], price: number, ...prices: number[]) =>
    pricePoints(formula, new Decimal(price), decimals(...prices))
      .toDecimalPlaces(4)
      .toString()

  it('are the lowest by the price', () => {
    expect(of('lowestRatio', 100, 100, 125)).to.equal('100')
    expect(of('lowestRatio', 125, 100, 125)).to.equal('80')
    expect(of('lowestRatio', 0, 0, 125)).to.equal('100')
    expect(of('lowestRatio', 125, 0, 125)).to.equal('0')
  })

  it('are its place between best and worst; all of one price have 100', () => {
    expect(of('betweenBestAndWorst', 100, 100, 150, 200)).to.equal('100')
    expect(of('betweenBestAndWorst', 150, 100, 150, 200)).to.equal('50')
    expect(of('betweenBestAndWorst', 200, 100, 150, 200)).to.equal('0')
    expect(of('betweenBestAndWorst', 100, 100, 100)).to.equal('100')
  })

  it('are what is left below twice the lowest, and none beyond', () => {
    expect(of('belowTwiceLowest', 100, 100, 150)).to.equal('100')
    expect(of('belowTwiceLowest', 150, 100, 150)).to.equal('50')
    expect(of('belowTwiceLowest', 200, 100, 200)).to.equal('0')
    expect(of('belowTwiceLowest', 250, 100, 250)).to.equal('0')
    expect([of('belowTwiceLowest', 0, 0, 5), of('belowTwiceLowest', 5, 0, 5)]).to.deep.equal(['100', '0'])
  })

  it('are between 0 and 100, and never more for a dearer one', () => {
    const prices = fc.array(fc.integer({ min: 0, max: 100_000 }), { minLength: 1, maxLength: 8 })
    fc.assert(
      fc.property(fc.constantFrom(...PRICE_FORMULAS), prices, (formula, wanted) => {
        const all = decimals(...wanted)
        const sorted = [...all].sort((a, b) => a.comparedTo(b)).map(one => pricePoints(formula, one, all))
        expect(sorted[0]!.toString()).to.equal('100')
        for (const [index, one] of sorted.entries()) {
          expect(one.gte(0) && one.lte(100)).to.equal(true)
          if (index > 0) expect(one.lte(sorted[index - 1]!)).to.equal(true)
        }
      }),
    )
  })
})

describe('points of a questionnaire', () => {
  it('are weighted inside the section and by sections; what is not answered has none', () => {
    const sections = [
      {
        weight: '3',
        questions: [
          { weight: '1', most: '10', points: '10' },
          { weight: '3', most: '5', points: '1' },
        ],
      },
      { weight: '1', questions: [{ weight: '1', most: '4', points: null }] },
    ]
    // first section: 100·1/4 + 20·3/4 = 40; together 40·3/4
    expect(questionnairePoints(sections).toString()).to.equal('30')
    const same = [{ weight: '0', questions: [{ weight: '0', most: '2', points: '1' }, { weight: '0', most: '2', points: '2' }] }] // prettier-ignore
    expect(questionnairePoints(same).toString()).to.equal('75')
  })

  it('of several scorers are told when all of them have given theirs, with how far apart they are', () => {
    expect(scorersTogether(['3', null])).to.equal(null)
    expect(scorersTogether([])).to.equal(null)
    const both = scorersTogether(['3', '8'])!
    expect([both.average.toString(), both.spread.toString()]).to.deep.equal(['5.5', '5'])
    expect(scorersTogether(['4'])!.spread.toString()).to.equal('0')
  })
})

describe('answers by their points', () => {
  const told = (answers: readonly ComparedAnswer[], criteria = HALF) =>
    scoreAnswers(answers, criteria, 'lowestRatio').map(one => `${one.place} ${one.supplierId} ${one.total}`)

  it('are added by weights, which count in proportion, and told the best first', () => {
    expect(told([answer('a', 100, 40), answer('b', 125, 80)])).to.deep.equal(['1 b 80', '2 a 70'])
    const doubled = HALF.map(one => ({ ...one, weight: '1' }))
    expect(told([answer('a', 100, 40), answer('b', 125, 80)], doubled)).to.deep.equal(['1 b 80', '2 a 70'])
    expect(told([answer('a', 100), answer('b', 125)], [{ key: PRICE, weight: '75' }, { key: 'unknown', weight: '25' }])).to.deep.equal(['1 a 75', '2 b 60']) // prettier-ignore
  })

  it('leave out what is knocked out, which sets no lowest either and comes last', () => {
    expect(told([answer('cheap', 10, 100, true), answer('a', 100), answer('b', 200)])).to.deep.equal([
      '1 a 50',
      '2 b 25',
      'null cheap null',
    ])
    expect(told([answer('cheap', 10, 100, true)])).to.deep.equal(['null cheap null'])
  })

  it('with the same total: the lower landed cost first', () => {
    // 100 and 50 for the price, 40 and 90 for the quality
    expect(told([answer('dear', 200, 90), answer('low', 100, 40)])).to.deep.equal(['1 low 70', '2 dear 70'])
  })
})

describe('who wins at which weight of the price', () => {
  const turns = (...answers: ComparedAnswer[]) =>
    winnersByPriceWeight(answers, HALF, 'lowestRatio').map(one => `${one.from.toDecimalPlaces(2)} ${one.supplierId}`)

  it('turns where the points of two are the same, and the one that gains by price goes on', () => {
    // a: 100·w + 40·(1−w); b: 80·w + 80·(1−w): equal at w = 2/3
    expect(turns(answer('a', 100, 40), answer('b', 125, 80))).to.deep.equal(['0 b', '66.67 a'])
    expect(turns(answer('a', 100, 80), answer('b', 125, 40))).to.deep.equal(['0 a'])
    expect(turns(answer('a', 100, 40, true), answer('b', 125, 80))).to.deep.equal(['0 b'])
    expect(turns()).to.deep.equal([])
  })

  it('is who is first by their points at that weight', () => {
    const some = fc.array(fc.tuple(fc.integer({ min: 1, max: 500 }), fc.integer({ min: 0, max: 100 })), {
      minLength: 1,
      maxLength: 6,
    })
    fc.assert(
      fc.property(some, fc.integer({ min: 0, max: 100 }), (wanted, percent) => {
        const answers = wanted.map(([cost, quality], index) => answer(String(index), cost, quality))
        const found = winnersByPriceWeight(answers, HALF, 'lowestRatio')
        const criteria = [{ key: PRICE, weight: String(percent) }, { key: 'quality', weight: String(100 - percent) }] // prettier-ignore
        const best = scoreAnswers(answers, criteria, 'lowestRatio')
        const winner = found.filter(one => one.from.lte(percent)).at(-1)!.supplierId
        const total = best.find(one => one.supplierId === winner)!.total!
        expect(total.minus(best[0]!.total!).abs().lt('1e-40'), `${winner} at ${percent}`).to.equal(true)
        expect(found[0]!.from.toString()).to.equal('0')
      }),
    )
  })
})

describe('criteria', () => {
  const codes = (...weights: [string, string][]) =>
    checkCriteria(weights.map(([key, weight]) => ({ key, weight }))).map(one => one.code)

  it('have weights that add to 100, none below zero, each once', () => {
    expect(codes([PRICE, '60'], ['quality', '40'])).to.deep.equal([])
    expect(codes([PRICE, '100'], ['quality', '0'])).to.deep.equal([])
    expect(codes([PRICE, '60'], ['quality', '39.99'])).to.deep.equal(['criteria.sum'])
    expect(codes([PRICE, '110'], ['quality', '-10'])).to.deep.equal(['criteria.belowZero'])
    expect(codes([PRICE, '50'], [PRICE, '50'])).to.deep.equal(['criteria.twice'])
    expect(codes()).to.deep.equal(['criteria.sum'])
  })
})
