import { formatAmount } from '#core/money/amount.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { checks, refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Call, type Done, found, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { checkAgainstRequest } from '#server/order/againstRequest.ts'
import { orderConditions, supplierReasons } from '#server/order/conditions.ts'
import { commit } from '#server/order/commitment.ts'
import { lockOrder, type OrderLineRow, orderLines, type OrderRow, revisionContent } from '#server/order/orderStore.ts'
import { mailSupplier } from '#server/source/messages.ts'
import { refreshRequisitions } from '#server/request/requisitionStore.ts'

/** Issues a draft: commits the budget in place of the reservation, freezes revision 0 and mails it. */
export async function issueOrder(call: Call, id: string, version: number, checkReason = ''): Promise<Done> {
  const order = await lockOrder(call, id)
  await guardVersion(call, order, version)
  const next = transition(ORDER_STATES, 'order', order.state, 'issue')
  if (!next.ok) throw new RuleBroken(next.reasons)
  const supplier = found((await call.trx('suppliers').where({ id: order.supplierId }).first('name')) as { name: string } | undefined, 'supplier')
  const lines = await orderLines(call, id)
  const reasons = await supplierReasons(
    call,
    order,
    lines.map(line => line.itemId),
  )
  refuseStops([...reasons, ...(await checkAgainstRequest(call, lines))])
  if (checks(reasons).length > 0 && checkReason.trim().length < 3) throw new RuleBroken([...checks(reasons), stop('order.checkReason', {}, { place: 'checkReason' })])
  await commit(call, order, lines)
  await call
    .trx('orders')
    .where({ id })
    .update({ state: next.state, issuedAt: call.now, version: version + 1, changedAt: call.now, agreed: JSON.stringify(await orderConditions(call, order)) })
  await call.trx('suppliers').where({ id: order.supplierId }).update({ lastOrderOn: call.today })
  await freeze(call, { ...order, revision: 0 }, lines, '', supplier.name)
  await record(call, { kind: 'order', id, action: 'issued', changes: { revision: 0, total: formatAmount(order.total, order.currency) }, reason: checkReason || null })
  await refreshRequisitions(
    call,
    lines.map(line => line.requisitionLineId).filter(one => one !== null),
  )
  return { id, version: version + 1 }
}

export async function freeze(call: Call, order: OrderRow, lines: readonly OrderLineRow[], reason: string, supplier: string): Promise<void> {
  const content = revisionContent(order, lines)
  await call.trx('orderRevisions').insert({ orderId: order.id, revision: order.revision, content: JSON.stringify(content), issuedAt: call.now, issuedBy: call.actor.id, reason })
  const what = order.revision === 0 ? `order ${order.number}` : `revision ${order.revision} of order ${order.number}, which replaces the earlier one`
  await mailSupplier(
    call,
    order.supplierId,
    'orders',
    `order:${order.id}:${order.revision}`,
    { kind: 'order', id: order.id },
    {
      subject: `Order ${order.number}, revision ${order.revision}: ${order.title}`,
      attach: { orderId: order.id, revision: order.revision },
      text: name =>
        `Dear ${name || supplier},\n\nplease find ${what}: ${order.currency} ${content.total}.${reason ? `\nWhat changed: ${reason}` : ''}\n\nYou can confirm it, propose a change and make your invoice on your pages: /supplier/orders/${order.id}\n\n${call.actor.name}\nSaltmere Aquarium Trust\n`,
    },
  )
}
