import type { ActorFacts } from '#core/acts/actor.ts'
import { type Action, action } from '#core/acts/decision.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { whyNotReceiveAll } from '#core/receive/receiveDelivery.ts'

/** What can be done with an expected delivery now, and for the rest why not. */
export const deliveryActions = (order: OrderFacts, actor: ActorFacts): Action[] => [
  action('receiveAll', whyNotReceiveAll(order, actor), true),
]
