import { type Reason, stop } from '#core/reasons.ts'
import { whyNotCompare } from '#core/source/compareAnswers.ts'
import type { EventFacts } from '#core/source/event.ts'

/** Why there is nothing to plan an event's award with: no price was asked for, or nothing can be compared (yet). */
export const whyNotPlan = (event: EventFacts, answered: number, at: string): Reason[] =>
  event.kind.pricing === 'none' ? [stop('plan.noPrices')] : whyNotCompare(event, answered, at)
