import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import type { OrderNext } from '#core/order/next.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import type { Reason } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

export const whyNotClose = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...notNow(ORDER_STATES, 'order', order.state, 'close'),
]

/**
 * Closes an order: nothing more is expected, so what is committed for it is free again, but for the value of what has come in and is not
 * billed yet. That stays committed until its bill is there.
 */
export function closeOrder(order: OrderFacts, actor: ActorFacts, reason: string): Decision<OrderNext> {
  const against = whyNotClose(order, actor)
  if (against.length > 0) return refused(against)
  return done<OrderNext>(
    {
      state: 'closed',
      revision: order.revision,
      ...(order.answer ? { answer: { state: 'superseded', reason: '' } } : {}),
    },
    { action: 'close', reason },
    follow({ ...order, state: 'closed' }, []),
  )
}
