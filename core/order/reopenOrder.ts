import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { AccountFacts } from '#core/ledger/budget.ts'
import { follow, outcomeOverdrafts } from '#core/order/after.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import type { OrderNext } from '#core/order/next.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import type { Reason } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

export const whyNotReopen = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...notNow(ORDER_STATES, 'order', order.state, 'reopen'),
]

/** Takes a closing back: what may still be billed is committed again, if its accounts allow it. */
export function reopenOrder(
  order: OrderFacts,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  reason: string,
): Decision<OrderNext> {
  const against = whyNotReopen(order, actor)
  if (against.length > 0) return refused(against)
  const outcome = follow({ ...order, state: 'acknowledged' }, [])
  const overdrawn = outcomeOverdrafts(outcome, accounts, order.base)
  if (overdrawn.length > 0) return refused(overdrawn)
  return done<OrderNext>({ state: 'acknowledged', revision: order.revision }, { action: 'reopen', reason }, outcome)
}
