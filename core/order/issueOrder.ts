import type { ActorFacts } from '#core/acts/actor.ts'
import { needsRight } from '#core/acts/actor.ts'
import { type Decision, done, obstacles, refused } from '#core/acts/decision.ts'
import type { AccountFacts } from '#core/ledger/budget.ts'
import { formatAmount } from '#core/money/amount.ts'
import { againstRequest } from '#core/order/againstRequest.ts'
import { follow, orderedEntries, type Outcome, outcomeOverdrafts } from '#core/order/after.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { orderTotal } from '#core/order/revision.ts'
import type { OrderNext } from '#core/order/next.ts'
import { revisionLeaves } from '#core/order/tellSupplier.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { type Reason, stop, stops } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

/** What stands in the way of issuing; checks among them want a reason. */
export const whyNotIssue = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...notNow(ORDER_STATES, 'order', order.state, 'issue'),
  ...(order.lines.length === 0 ? [stop('order.noLines')] : []),
  ...order.supplierReasons,
  ...order.agreementReasons,
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
  const issued = committed(order, accounts)
  return 'reasons' in issued
    ? refused(issued.reasons)
    : done<OrderNext>(FIRST, did(order, 'issued', checkReason), {
        ...issued.outcome,
        says: revisionLeaves(issued.outcome.after, '', actor.name),
      })
}

/**
 * Takes over an order that was issued before this program was used: it commits as an issued one does and its revision 0 is frozen, but the
 * supplier, who has it, is told nothing.
 */
export function takeOverOrder(
  order: OrderFacts,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
): Decision<OrderNext> {
  const against = stops(whyNotIssue(order, actor))
  if (against.length > 0) return refused(against)
  const issued = committed(order, accounts)
  return 'reasons' in issued
    ? refused(issued.reasons)
    : done<OrderNext>(FIRST, did(order, 'takenOver', ''), issued.outcome)
}

const FIRST: OrderNext = { state: 'issued', revision: 0, issues: { reason: '' } }

const did = (order: OrderFacts, action: string, reason: string) => ({
  action,
  changes: { revision: 0, total: formatAmount(orderTotal(order), order.currency) },
  reason,
})

/** What issuing posts, or the accounts that would be overdrawn by it. */
function committed(
  order: OrderFacts,
  accounts: readonly AccountFacts[],
): { readonly outcome: Outcome } | { readonly reasons: Reason[] } {
  const outcome = follow(
    { ...order, state: 'issued', revision: 0 },
    order.lines.flatMap(line => orderedEntries(line, line.quantity)),
  )
  const reasons = outcomeOverdrafts(outcome, accounts, order.base)
  return reasons.length > 0 ? { reasons } : { outcome }
}
