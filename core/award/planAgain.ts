import { awardsFor, compilePlan, minorOf } from '#core/award/compilePlan.ts'
import type { PlanOutcome, PlanRowKey } from '#core/award/computePlan.ts'
import type { PlanFacts } from '#core/award/planFacts.ts'
import { recheckPlan } from '#core/award/recheck.ts'
import type { Wish } from '#core/award/wishes.ts'
import { formatAmount } from '#core/money/amount.ts'
import { minorDigits } from '#core/money/currency.ts'

/** A kept plan and what it comes to when it is added up again from what it was made of. */
export interface PlanAgain {
  readonly key: PlanRowKey
  readonly kept: string
  readonly again: string
  readonly same: boolean
}

/** Adds kept plans up again. What a plan costs does not hang on wishes, but for lines that were put together by one that it keeps. */
export const planAgain = (facts: PlanFacts, wishes: readonly Wish[], outcome: Pick<PlanOutcome, 'rows'>): PlanAgain[] =>
  outcome.rows.map(({ key, cost: kept, shares, breaks }) => {
    const joined = wishes.filter(one => one.what.kind === 'oneSupplier' && !breaks.includes(one.id))
    const own = compilePlan(facts, joined)
    const { cost } = recheckPlan(own.problem, awardsFor(own, shares))
    const again = formatAmount(minorOf(cost, own.perMoney, minorDigits(facts.currency)), facts.currency)
    return { key, kept, again, same: again === kept }
  })
