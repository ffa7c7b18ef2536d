import type { PlanTerms } from '#core/award/eventFacts.ts'
import type { PlanFacts } from '#core/award/planFacts.ts'
import { MOST_MULTIPLES } from '#core/award/problem.ts'
import { Decimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { whyNotCompare } from '#core/source/compareAnswers.ts'
import type { EventFacts } from '#core/source/event.ts'

/** Why there is nothing to plan an event's award with: no price was asked for, or nothing can be compared (yet). */
export const whyNotPlan = (event: EventFacts, answered: number, at: string): Reason[] =>
  event.kind.pricing === 'none' ? [stop('plan.noPrices')] : whyNotCompare(event, answered, at)

/** Why a plan cannot be tried with some terms: a multiple that goes into a line too often. */
export const whyNotTerms = (facts: PlanFacts, terms: PlanTerms): Reason[] =>
  Object.entries(terms.bids).flatMap(([key, { multiple }]) => {
    const [lineId] = key.split(' ')
    const asked = terms.quantities[lineId!] || facts.lines.find(line => line.id === lineId)?.quantity || '0'
    return multiple && Number(multiple) > 0 && new Decimal(asked).div(multiple).gt(MOST_MULTIPLES)
      ? [stop('plan.multiple', { most: MOST_MULTIPLES })]
      : []
  })
