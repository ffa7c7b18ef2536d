import type { ActorFacts } from '#core/acts/actor.ts'
import { needsRight } from '#core/acts/actor.ts'
import { type Decision, done, obstacles, refused } from '#core/acts/decision.ts'
import type { AccountFacts } from '#core/ledger/budget.ts'
import { formatAmount } from '#core/money/amount.ts'
import { againstRequest } from '#core/order/againstRequest.ts'
import { follow, orderedEntries, outcomeOverdrafts } from '#core/order/after.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { orderTotal, revisionMail } from '#core/order/revision.ts'
import type { OrderNext } from '#core/order/next.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

/** What stands in the way of issuing; checks among them want a reason. */
export const whyNotIssue = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...notNow(ORDER_STATES, 'order', order.state, 'issue'),
  ...(order.lines.length === 0 ? [stop('order.noLines')] : []),
  ...order.supplierReasons,
  ...againstRequest(order),
]

/**
 * Issues a draft: its value is committed in place of what was reserved for it, revision 0 is frozen and goes to the supplier.
 * Refused where the supplier takes no orders, where more than requested or dearer than approved is on it, or where an account that
 * stops would be overdrawn.
 */
export function issueOrder(
  order: OrderFacts,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  checkReason: string,
): Decision<OrderNext> {
  const against = obstacles(
    whyNotIssue(order, actor),
    checkReason,
    stop('order.checkReason', {}, { place: 'checkReason' }),
  )
  if (against.length > 0) return refused(against)
  const outcome = follow(
    { ...order, state: 'issued', revision: 0 },
    order.lines.flatMap(line => orderedEntries(line, line.quantity)),
  )
  const overdrawn = outcomeOverdrafts(outcome, accounts, order.base)
  if (overdrawn.length > 0) return refused(overdrawn)
  return done<OrderNext>(
    { state: 'issued', revision: 0, issues: { reason: '' } },
    {
      action: 'issued',
      changes: { revision: 0, total: formatAmount(orderTotal(order), order.currency) },
      reason: checkReason,
    },
    { ...outcome, says: [revisionMail(outcome.after, '', actor.name)] },
  )
}
