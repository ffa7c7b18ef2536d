import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { Decimal } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { unbilled } from '#core/order/measures.ts'
import type { OrderNext } from '#core/order/next.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

/** A sealed order needs all under it settled: no invoice open, nothing in without its bill (domain page, section 3). */
export const whyNotSeal = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...notNow(ORDER_STATES, 'order', order.state, 'seal'),
  ...(order.openInvoices.length > 0
    ? [
        stop(
          'order.openInvoices',
          { invoices: order.openInvoices.join(', ') },
          { clearedBy: ['invoiceClerk', 'treasurer'] },
        ),
      ]
    : []),
  ...order.lines
    .filter(line => new Decimal(unbilled(line)).gt(0))
    .map(line =>
      stop(
        'order.billIsMissing',
        { line: line.description, quantity: unbilled(line) },
        { clearedBy: ['invoiceClerk', 'receiver'] },
      ),
    ),
]

/** Seals an order for good. */
export function sealOrder(order: OrderFacts, actor: ActorFacts, reason: string): Decision<OrderNext> {
  const against = whyNotSeal(order, actor)
  if (against.length > 0) return refused(against)
  return done<OrderNext>(
    { state: 'sealed', revision: order.revision },
    { action: 'seal', reason },
    follow({ ...order, state: 'sealed' }, []),
  )
}
