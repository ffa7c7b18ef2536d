import { type ActorFacts, type needsRight } from '#core/acts/actor.ts'
import { type Action, action } from '#core/acts/decision.ts'
import { Decimal } from '#core/money/decimal.ts'
import { whyNotRecord } from '#core/order/answerOrder.ts'
import { whyNotCancel } from '#core/order/cancelOrder.ts'
import { type Clock, missing, whyNotChase } from '#core/order/chaseOrder.ts'
import { whyNotClose } from '#core/order/closeOrder.ts'
import { whyNotEdit } from '#core/order/editDraft.ts'
import { excessActions } from '#core/order/excess.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { whyNotIssue } from '#core/order/issueOrder.ts'
import { toReceive } from '#core/order/measures.ts'
import { whyNotProve } from '#core/order/proving.ts'
import { whyNotReopen } from '#core/order/reopenOrder.ts'
import { whyNotRevise } from '#core/order/reviseOrder.ts'
import { whyNotSeal } from '#core/order/sealOrder.ts'
import { whyNotSettle } from '#core/order/settleAnswer.ts'
import { isUntold, whyNotTell } from '#core/order/tellSupplier.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { isIn } from '#core/states.ts'

/**
 * What can be done with an order now, and for the rest why not. Acts that belong to another time of its life are left out: a draft is not
 * closed, a closed order not issued.
 */
export function orderActions(order: OrderFacts, actor: ActorFacts, clock: Clock): Action[] {
  const answer = order.answer
  const settle = answer
    ? [
        action('acceptAnswer', whyNotSettle(order, answer.id, actor), true),
        action('refuseAnswer', whyNotSettle(order, answer.id, actor)),
      ]
    : []
  const above = excessActions(order, actor)
  if (order.state === 'draft')
    return [
      ...above,
      action('issue', whyNotIssue(order, actor), true),
      action('edit', whyNotEdit(order, actor)),
      action('cancel', whyNotCancel(order, actor)),
    ]
  if (isIn(ORDER_GROUPS.live, order.state))
    return [
      ...above,
      ...settle,
      ...(isUntold(order) ? [action('tellSupplier', whyNotTell(order, actor))] : []),
      ...(order.state === 'issued' && !answer ? [action('recordAnswer', whyNotRecord(order, actor))] : []),
      ...(missing(order, clock.today) === null ? [] : [action('chase', whyNotChase(order, actor, clock))]),
      action('revise', whyNotRevise(order, actor)),
      action('close', whyNotClose(order, actor)),
      action('cancel', whyNotCancel(order, actor)),
      action('receive', receiveReasons(order, actor)),
    ]
  if (order.state === 'closed')
    return [
      action('reopen', whyNotReopen(order, actor)),
      action('seal', whyNotSeal(order, actor)),
      action('revise', whyNotRevise(order, actor)),
    ]
  return []
}

/** Whether this person could take anything in: one line is enough. */
function receiveReasons(order: OrderFacts, actor: ActorFacts): ReturnType<typeof needsRight> {
  const open = order.lines.filter(line => new Decimal(toReceive(line)).gt(0))
  const each = open.map(line => whyNotProve(line, actor))
  if (each.some(reasons => reasons.length === 0)) return []
  return each[0] ?? whyNotProve(order.lines[0]!, actor)
}
