import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { saysWhy } from '#core/acts/decision.ts'
import { dayAfter, type Month, nextMonth } from '#core/calendar/months.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** What is known of the months of the books when one of them is to be closed or opened again. */
export interface PeriodFacts {
  readonly month: Month
  readonly today: string
  /** The month in which the books begin; null where nothing was ever posted. */
  readonly begins: Month | null
  /** Months that are closed, in any order. */
  readonly closed: readonly Month[]
  /** Documents and accounts of the month that do not re-add. */
  readonly faults: readonly string[]
}

const lastOf = (months: readonly Month[]): Month | undefined => [...months].sort().at(-1)

/** What stands against closing a month: it is not over, one before it is open, or its journal does not re-add. */
export function whyNotClosePeriod(facts: PeriodFacts, actor: ActorFacts): Reason[] {
  const { month, today, begins, closed, faults } = facts
  if (closed.includes(month)) return [stop('period.closed', { month })]
  const last = lastOf(closed)
  const next = last === undefined ? begins : nextMonth(last)
  return [
    ...needsRight(actor, 'budget.write'),
    ...(today < dayAfter(month) ? [stop('period.notOver', { month, from: dayAfter(month) })] : []),
    ...(next !== null && next < month ? [stop('period.earlierFirst', { month: next })] : []),
    ...(next !== null && month < next ? [stop('period.noBooks', { month: next })] : []),
    ...(faults.length > 0 ? [stop('period.doesNotAdd', { faults: faults.slice(0, 5).join(', ') })] : []),
  ]
}

/** What stands against opening a month again: it is open, a later one is closed, or nobody says why. */
export function whyNotReopenPeriod(
  { month, closed }: Pick<PeriodFacts, 'month' | 'closed'>,
  actor: ActorFacts,
  reason: string,
): Reason[] {
  if (!closed.includes(month)) return [stop('period.open', { month })]
  const last = lastOf(closed)!
  return [
    ...needsRight(actor, 'budget.write'),
    ...(last > month ? [stop('period.laterFirst', { month: last })] : []),
    ...(saysWhy(reason) ? [] : [stop('period.wantsReason', {}, { place: 'reason' })]),
  ]
}

/**
 * The first day into which something may still be booked: the day after the last closed month, or the later one that is set beside it; null: none was closed.
 *
 * openFrom(['2026-10'], '2026-09-01') //=> '2026-11-01'
 */
export function openFrom(closed: readonly Month[], set: string | null): string | null {
  const last = lastOf(closed)
  const after = last === undefined ? null : dayAfter(last)
  return after === null ? set : set === null || set < after ? after : set
}
