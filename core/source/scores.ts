import { Decimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** How a price becomes points from 0 to 100. */
export const PRICE_FORMULAS = ['lowestRatio', 'betweenBestAndWorst', 'belowTwiceLowest'] as const
export type PriceFormula = (typeof PRICE_FORMULAS)[number]

/**
 * Points of a price from 0 to 100 (domain page, section 9). Prices are landed costs of those that are not knocked out.
 * lowestRatio: 100·lowest/price · betweenBestAndWorst: 100·(highest−price)/(highest−lowest), all equal: 100 · belowTwiceLowest:
 * 100·(2·lowest−price)/lowest, not below 0. A price of nothing has 100 where the lowest is nothing, too.
 *
 * pricePoints('lowestRatio', new Decimal(125), [new Decimal(100), new Decimal(125)]).toString() //=> '80'
 */
export function pricePoints(formula: PriceFormula, price: Decimal, prices: readonly Decimal[]): Decimal {
  const lowest = Decimal.min(...prices)
  const highest = Decimal.max(...prices)
  const hundred = new Decimal(100)
  switch (formula) {
    case 'lowestRatio':
      return price.isZero() ? hundred : hundred.times(lowest).dividedBy(price)
    case 'betweenBestAndWorst':
      return highest.equals(lowest) ? hundred : hundred.times(highest.minus(price)).dividedBy(highest.minus(lowest))
    case 'belowTwiceLowest':
      if (lowest.isZero()) return price.isZero() ? hundred : new Decimal(0)
      return Decimal.max(0, hundred.times(lowest.times(2).minus(price)).dividedBy(lowest))
  }
}

/** One question that is scored, with the points that an answer got; null: it was not answered. */
export interface ScoredQuestion {
  readonly weight: string
  readonly most: string
  readonly points: string | null
}
export interface ScoredSection {
  readonly weight: string
  readonly questions: readonly ScoredQuestion[]
}

/** Shares that weights stand for; they need not add to 100. All nothing: everybody the same. */
function shares(weights: readonly string[]): Decimal[] {
  const sum = weights.reduce((total, one) => total.plus(one), new Decimal(0))
  return weights.map(one => (sum.isZero() ? new Decimal(1).dividedBy(weights.length) : new Decimal(one).dividedBy(sum)))
}

const weighted = (values: readonly Decimal[], weights: readonly string[]): Decimal => {
  const parts = shares(weights)
  return values.reduce((total, value, index) => total.plus(value.times(parts[index]!)), new Decimal(0))
}

/**
 * Points of a questionnaire from 0 to 100: points by the most that there are, weighted inside the section, sections weighted. What is not answered has
 * none.
 */
export const questionnairePoints = (sections: readonly ScoredSection[]): Decimal =>
  weighted(
    sections.map(section =>
      weighted(
        section.questions.map(one =>
          one.points === null ? new Decimal(0) : new Decimal(one.points).dividedBy(one.most).times(100),
        ),
        section.questions.map(one => one.weight),
      ),
    ),
    sections.map(section => section.weight),
  )

/** Several scorers of one question: what they gave, on average, and how far apart they are. Null until all of them have. */
export function scorersTogether(given: readonly (string | null)[]): { average: Decimal; spread: Decimal } | null {
  if (given.length === 0 || given.some(one => one === null)) return null
  const points = given.map(one => new Decimal(one!))
  const sum = points.reduce((total, one) => total.plus(one), new Decimal(0))
  return { average: sum.dividedBy(points.length), spread: Decimal.max(...points).minus(Decimal.min(...points)) }
}

/** An answer that is compared with others. */
export interface ComparedAnswer {
  readonly supplierId: string
  /** Landed cost of what is compared. */
  readonly cost: Decimal
  /** Points by criterion other than the price, from 0 to 100. */
  readonly points: ReadonlyMap<string, Decimal>
  /** It misses what nobody may miss. */
  readonly knockedOut: boolean
}

export interface Criterion {
  readonly key: string
  readonly weight: string
}
/** The price among the criteria. */
export const PRICE = 'price'

export interface Scored {
  readonly supplierId: string
  /** Points by criterion, the price included; null where it is knocked out. */
  readonly points: ReadonlyMap<string, Decimal> | null
  /** From 0 to 100. */
  readonly total: Decimal | null
  readonly place: number | null
}

/**
 * The answers by their points, the best first. What is knocked out is not scored and sets no lowest or highest; it comes last. Equal totals: the lower
 * landed cost first.
 */
export function scoreAnswers(
  answers: readonly ComparedAnswer[],
  criteria: readonly Criterion[],
  formula: PriceFormula,
): Scored[] {
  const counted = answers.filter(one => !one.knockedOut)
  const costs = counted.map(one => one.cost)
  const scored = counted
    .map(answer => {
      const points = new Map([...answer.points, [PRICE, pricePoints(formula, answer.cost, costs)]])
      const values = criteria.map(one => points.get(one.key) ?? new Decimal(0))
      return { answer, points, total: weighted(values, criteria.map(one => one.weight)) } // prettier-ignore
    })
    .sort((a, b) => b.total.comparedTo(a.total) || a.answer.cost.comparedTo(b.answer.cost))
  return [
    ...scored.map(({ answer, points, total }, index) => ({
      supplierId: answer.supplierId,
      points,
      total,
      place: index + 1,
    })),
    ...answers
      .filter(one => one.knockedOut)
      .map(one => ({ supplierId: one.supplierId, points: null, total: null, place: null })),
  ]
}

/** A weight of the price at which another answer wins, while the other criteria keep their shares of the rest; in per cent. */
export interface Turn {
  readonly from: Decimal
  readonly supplierId: string
}

/**
 * Who wins at which weight of the price, from 0 to 100 per cent: from each of these on, that answer. The others' weights stay in proportion.
 */
export function winnersByPriceWeight(
  answers: readonly ComparedAnswer[],
  criteria: readonly Criterion[],
  formula: PriceFormula,
): Turn[] {
  const others = criteria.filter(one => one.key !== PRICE)
  const counted = answers.filter(one => !one.knockedOut)
  const costs = counted.map(one => one.cost)
  const lines = counted.map(answer => ({
    answer,
    price: pricePoints(formula, answer.cost, costs),
    rest: others.length === 0 ? new Decimal(0) : weighted(others.map(one => answer.points.get(one.key) ?? new Decimal(0)), others.map(one => one.weight)), // prettier-ignore
  }))
  const winnerAt = (weight: Decimal) =>
    [...lines].sort(
      (a, b) => pointsAt(b, weight).comparedTo(pointsAt(a, weight)) || a.answer.cost.comparedTo(b.answer.cost),
    )[0]
  const crossings = lines.flatMap((a, index) =>
    lines.slice(index + 1).flatMap(b => {
      const steeper = slope(a).minus(slope(b))
      if (steeper.isZero()) return []
      const at = b.rest.minus(a.rest).dividedBy(steeper)
      return at.gt(0) && at.lt(1) ? [at] : []
    }),
  )
  const from = [new Decimal(0), ...crossings.sort((a, b) => a.comparedTo(b))]
  const turns: Turn[] = []
  for (const [index, at] of from.entries()) {
    // in the middle up to the next crossing nobody is level with anybody whom they cross
    const winner = winnerAt(at.plus(from[index + 1] ?? 1).dividedBy(2))
    if (winner && turns.at(-1)?.supplierId !== winner.answer.supplierId)
      turns.push({ from: at.times(100), supplierId: winner.answer.supplierId })
  }
  return turns
}

interface Line {
  readonly price: Decimal
  readonly rest: Decimal
}
const slope = ({ price, rest }: Line): Decimal => price.minus(rest)
/** Points where the price weighs so much, from 0 to 1. */
const pointsAt = (line: Line, weight: Decimal): Decimal => line.rest.plus(slope(line).times(weight))

/** What stands against criteria: weights that do not add to 100, below zero, one criterion twice, or none. */
export function checkCriteria(criteria: readonly Criterion[]): Reason[] {
  const sum = criteria.reduce((total, one) => total.plus(one.weight), new Decimal(0))
  const twice = criteria.find((one, index) => criteria.findIndex(other => other.key === one.key) < index)
  return [
    ...criteria.flatMap((one, index) =>
      new Decimal(one.weight).lt(0) ? [stop('criteria.belowZero', {}, { place: `criteria.${index}.weight` })] : [],
    ),
    ...(twice ? [stop('criteria.twice', { criterion: twice.key }, { place: 'criteria' })] : []),
    ...(sum.equals(100) ? [] : [stop('criteria.sum', { sum: sum.toString() }, { place: 'criteria' })]),
  ]
}
