import { plainWords } from '#core/request/personalFee.ts'
import { type ActorFacts, mayDo } from '#core/acts/actor.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isWork } from '#core/request/kinds.ts'
import { isIn } from '#core/states.ts'

/**
 * Whether this person is the one who proves a line: goods are counted in by receivers, work is accepted by whoever asked for it, and a
 * line that is not proven wants nobody.
 */
export function whyNotProve(
  line: Pick<OrderLine, 'kind' | 'proof' | 'description' | 'requesterId'>,
  actor: ActorFacts,
): Reason[] {
  if (line.proof === 'none') return [stop('receive.notProven', { line: plainWords(line) })]
  if (isWork(line.kind))
    return line.requesterId === actor.id ? [] : [stop('receive.workByRequester', {}, { clearedBy: ['requester'] })]
  return mayDo(actor, 'delivery.receive') ? [] : [stop('receive.goodsByReceiver', {}, { clearedBy: ['receiver'] })]
}

/** Only an order that the supplier owes takes anything in. */
export const whyNotOpen = (order: Pick<OrderFacts, 'number' | 'state'>): Reason[] =>
  isIn(ORDER_GROUPS.live, order.state)
    ? []
    : [stop('receive.notOpen', { number: order.number, state: order.state }, { clearedBy: ['buyer'] })]
