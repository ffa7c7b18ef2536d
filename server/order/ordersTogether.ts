import { TOGETHER, type TogetherAct } from '#contract/documents/together.ts'
import type { Sentence } from '#contract/fields.ts'
import { formatAmount, moneyText } from '#core/money/amount.ts'
import { missing, whyNotChase } from '#core/order/chaseOrder.ts'
import { whyNotCancel } from '#core/order/cancelOrder.ts'
import { whyNotClose } from '#core/order/closeOrder.ts'
import { whyNotIssue } from '#core/order/issueOrder.ts'
import { releasedIn } from '#core/order/released.ts'
import { whyNotReopen } from '#core/order/reopenOrder.ts'
import { whyNotSeal } from '#core/order/sealOrder.ts'
import { obstacles } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { need, type Read } from '#server/call.ts'
import type { Looked, Together } from '#server/documents/together.ts'
import { withObstacles } from '#server/order/callOffStore.ts'
import { chase, end, type EndAction, issue } from '#server/order/orderActs.ts'
import { type KnownOrder, knownOrders } from '#server/order/orderStore.ts'

/** Several orders chased, issued, closed, opened again, sealed or cancelled at once, each by its own rules. */
export const ordersTogether: Together = {
  kind: 'order',
  acts: TOGETHER.order,
  look: async (call, act, ids, reason) => {
    need(call, 'order.read')
    const orders = await knownOrders(call, ids)
    const known = ids.flatMap(id => orders.get(id) ?? [])
    const looked: Looked[] = []
    for (const order of known) looked.push(await look(call, act, order, reason))
    return looked
  },
  run: async (call, act, id, reason) => {
    if (act === 'chase') await chase(call, id, undefined, reason)
    else if (act === 'issue') await issue(call, id, undefined, reason)
    else await end(call, id, act as EndAction, undefined, reason, true)
  },
}

async function look(call: Read, act: TogetherAct, order: KnownOrder, reason: string): Promise<Looked> {
  const { id, number, supplier: title } = order
  return { id, number, title, reasons: await against(call, act, order, reason), says: saysOf(call, act, order) }
}

async function against(call: Read, act: TogetherAct, order: KnownOrder, reason: string): Promise<readonly Reason[]> {
  if (act === 'chase') return whyNotChase(order, call.actor, call)
  if (act === 'close') return whyNotClose(order, call.actor)
  if (act === 'reopen') return whyNotReopen(order, call.actor)
  if (act === 'seal') return whyNotSeal(order, call.actor)
  if (act === 'cancel') return whyNotCancel(order, call.actor)
  const facts = await withObstacles(call, order)
  return obstacles(whyNotIssue(facts, call.actor), reason, stop('order.checkReason', {}, { place: 'reason' }))
}

/** What is free again by it. */
function released(call: Read, act: TogetherAct, order: KnownOrder): string {
  if (act !== 'close' && act !== 'cancel') return ''
  return moneyText(releasedIn(order, act === 'close' ? 'closed' : 'cancelled'), call.base)
}

function saysOf(call: Read, act: TogetherAct, order: KnownOrder): Sentence {
  const amount = formatAmount(order.row.total, order.currency)
  return {
    code: `together.order.${act}${act === 'chase' ? `.${missing(order, call.today) ?? 'answer'}` : ''}`,
    details: {
      who: order.supplier,
      needBy: order.needBy ?? '',
      amount,
      currency: order.currency,
      released: released(call, act, order),
    },
  }
}
