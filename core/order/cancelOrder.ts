import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Message, refused, saysWhy } from '#core/acts/decision.ts'
import type { AccountFacts } from '#core/ledger/budget.ts'
import { addQuantities, leadTo, type QuantityEntry } from '#core/ledger/quantity.ts'
import { Decimal } from '#core/money/decimal.ts'
import { follow, orderedEntries, outcomeOverdrafts } from '#core/order/after.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { isStarted } from '#core/order/measures.ts'
import type { OrderNext } from '#core/order/next.ts'
import { cancellationLeaves } from '#core/order/tellSupplier.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

/** What stands in the way of cancelling: something has come in, was accepted or is billed. */
export const whyNotCancel = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...notNow(ORDER_STATES, 'order', order.state, 'cancel'),
  ...(order.lines.some(isStarted) ? [stop('order.startedAlready', {}, { clearedBy: ['buyer'] })] : []),
]

/**
 * Cancels an order of which nothing has come in or is billed. Where the need remains, its lines go back to be bought and are reserved
 * again; else requested lines of which nothing is ordered elsewhere end with it. The supplier is told if it knew of the order.
 */
export function cancelOrder(
  order: OrderFacts,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  reason: string,
  needRemains: boolean,
): Decision<OrderNext> {
  const against = [
    ...whyNotCancel(order, actor),
    ...(saysWhy(reason) ? [] : [stop('order.wantsReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const undone = order.lines.flatMap((line): QuantityEntry[] => [
    ...orderedEntries(line, new Decimal(0).minus(line.sums.ordered).toString()),
    ...leadTo(line, 'confirmed', '0'),
  ])
  const ended = needRemains ? [] : endedRequests(order, order.lines, undone)
  const outcome = follow({ ...order, state: 'cancelled' }, [
    ...undone,
    ...ended.flatMap(request => leadTo(request, 'requested', '0')),
  ])
  const overdrawn = outcomeOverdrafts(outcome, accounts, order.base)
  if (overdrawn.length > 0) return refused(overdrawn)
  return done<OrderNext>(
    {
      state: 'cancelled',
      revision: order.revision,
      endedRequests: ended.map(request => request.id),
      ...(order.answer ? { answer: { state: 'superseded', reason: '' } } : {}),
    },
    { action: 'cancel', changes: { needRemains }, reason },
    {
      ...outcome,
      says: order.state === 'draft' ? [] : cancellationLeaves(order, cancelMail(order, reason, actor.name)),
    },
  )
}

/** Requested lines that these lines bought and that are ordered nowhere once they are gone. */
export const endedRequests = (
  order: OrderFacts,
  lines: readonly Pick<OrderLine, 'requestLineId'>[],
  undone: readonly QuantityEntry[],
): OrderFacts['requests'][number][] =>
  order.requests.filter(request => {
    if (!lines.some(line => line.requestLineId === request.id)) return false
    const after = addQuantities(
      request.sums,
      undone.filter(entry => entry.lineId === request.id),
    )
    return new Decimal(after.ordered).isZero()
  })

const cancelMail = (order: OrderFacts, reason: string, by: string): Message => ({
  template: 'order.cancelled',
  to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
  key: `order-cancelled:${order.id}`,
  details: { number: order.number, title: order.title, reason, by, path: `/supplier/orders/${order.id}` },
  attach: { orderId: order.id, revision: order.revision, cancelled: reason },
})
