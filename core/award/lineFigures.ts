import { awardsFor, type CompiledPlan, type PlanShare } from '#core/award/compilePlan.ts'
import type { PlanFacts } from '#core/award/planFacts.ts'
import { goodsFor } from '#core/award/problem.ts'
import { unitCostAt } from '#core/award/whyLines.ts'
import { formatAmount, roundAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'

/** What a line of a plan costs. Costs of one unit with four digits, the amount rounded once; before rebates and what falls due once. */
export interface LineFigures {
  readonly lineId: string
  readonly each: string
  /** Above the lowest that anybody asks for one unit of all of it; '0' where it is not above. */
  readonly above: string
  readonly amount: string
}

const UNIT_DIGITS = 4

/** The figures of every line of which a plan gives something, by its bids alone: `alone` is the problem of the same facts without wishes. */
export function lineFigures(facts: PlanFacts, alone: CompiledPlan, shares: readonly PlanShare[]): LineFigures[] {
  const awards = awardsFor(alone, shares)
  return facts.lines.flatMap(({ id, quantity }) => {
    const place = alone.lines.findIndex(([lineId]) => lineId === id)
    const own = awards.filter(one => one.line === place)
    if (place < 0 || own.length === 0) return []
    const goods = own.reduce((sum, one) => sum.plus(goodsFor(alone.problem.bids[place]![one.supplier], one.quantity) ?? 0), new Decimal(0)).dividedBy(alone.perMoney) // prettier-ignore
    const given = new Decimal(own.reduce((sum, one) => sum + one.quantity, 0)).dividedBy(alone.perUnit)
    const each = goods.dividedBy(given).toDecimalPlaces(UNIT_DIGITS)
    const lowest = Decimal.min(...facts.bids.filter(bid => bid.lineId === id).map(bid => unitCostAt(bid.tiers, quantity))) // prettier-ignore
    const amount = formatAmount(roundAmount(goods, facts.currency), facts.currency)
    return [{ lineId: id, each: each.toString(), above: Decimal.max(0, each.minus(lowest)).toString(), amount }]
  })
}
