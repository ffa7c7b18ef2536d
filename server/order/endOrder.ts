import { releaseAll } from '#core/ledger/commitments.ts'
import { Decimal } from '#core/money/decimal.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Call, type Done, guardVersion } from '#server/call.ts'
import { outstanding, postBudget } from '#server/ledger/budgetStore.ts'
import { record } from '#server/ledger/history.ts'
import { postQuantities, quantitySums } from '#server/ledger/quantityStore.ts'
import { orderedEntries, recommitOpen, reserveAgain } from '#server/order/commitment.ts'
import { lockOrder, type OrderLineRow, orderLines, type OrderRow } from '#server/order/orderStore.ts'
import { mailSupplier } from '#server/source/messages.ts'
import { refreshRequisitions, type RequisitionLineRow } from '#server/request/requisitionStore.ts'

/** Cancels, closes, reopens or seals. Cancelling releases the budget; closing releases what is left of it. */
export async function actOnOrder(call: Call, id: string, action: 'cancel' | 'close' | 'reopen' | 'seal', version: number, reason: string, needRemains: boolean): Promise<Done> {
  const order = await lockOrder(call, id)
  await guardVersion(call, order, version)
  const next = transition(ORDER_STATES, 'order', order.state, action)
  if (!next.ok) throw new RuleBroken(next.reasons)
  const lines = await orderLines(call, id)
  if (action === 'cancel') await cancel(call, order, lines, reason, needRemains)
  if (action === 'close')
    await postBudget(
      call,
      { kind: 'order', id },
      releaseAll(
        await outstanding(
          call,
          lines.map(line => line.id),
        ),
        ['committed'],
      ),
    )
  if (action === 'reopen') await recommitOpen(call, order, lines)
  if (action === 'seal') await refuseOpenInvoices(call, lines)
  await call
    .trx('orders')
    .where({ id })
    .update({ state: next.state, version: version + 1, changedAt: call.now })
  await record(call, { kind: 'order', id, action, reason, changes: action === 'cancel' ? { needRemains } : {} })
  await refreshRequisitions(
    call,
    lines.map(line => line.requisitionLineId).filter(one => one !== null),
  )
  return { id, version: version + 1 }
}

async function cancel(call: Call, order: OrderRow, lines: readonly OrderLineRow[], reason: string, needRemains: boolean): Promise<void> {
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const started = lines.some(line => [sums(line.id).received, sums(line.id).accepted, sums(line.id).billed].some(quantity => !new Decimal(quantity).isZero()))
  if (started) throw new RuleBroken(stop('order.startedAlready', {}, { clearedBy: ['buyer'] }))
  const requestIds = lines.map(line => line.requisitionLineId).filter(id => id !== null)
  const source = { kind: 'order', id: order.id }
  if (order.state !== 'draft') {
    await postBudget(
      call,
      source,
      releaseAll(
        await outstanding(
          call,
          lines.map(line => line.id),
        ),
        ['committed'],
      ),
    )
    await postQuantities(call, source, [
      ...orderedEntries(lines, line => `-${line.quantity}`),
      ...lines.map(line => ({ lineId: line.id, kind: 'confirmed' as const, quantity: new Decimal(0).minus(sums(line.id).confirmed).toString() })),
    ])
    await mailSupplier(call, order.supplierId, 'orders', `order-cancelled:${order.id}`, source, {
      subject: `Order ${order.number} is cancelled`,
      text: name => `Dear ${name},\n\nwe cancel order ${order.number}, ${order.title}. ${reason}\n\n${call.actor.name}\nSaltmere Aquarium Trust\n`,
    })
  }
  const requested = (await call.trx('requisitionLines').whereIn('id', requestIds).orderBy('id').forNoKeyUpdate()) as RequisitionLineRow[]
  if (needRemains) return order.state === 'draft' ? undefined : await reserveAgain(call, order, lines, requested)
  const left = await quantitySums(call, requestIds)
  const ended = requested.filter(line => new Decimal(left(line.id).ordered).isZero())
  await postBudget(
    call,
    source,
    releaseAll(
      await outstanding(
        call,
        ended.map(line => line.id),
      ),
      ['reserved'],
    ),
  )
  await postQuantities(
    call,
    source,
    ended.map(line => ({ lineId: line.id, kind: 'requested' as const, quantity: new Decimal(0).minus(left(line.id).requested).toString() })),
  )
  await call
    .trx('requisitionLines')
    .whereIn(
      'id',
      ended.map(line => line.id),
    )
    .update({ state: 'cancelled' })
}

async function refuseOpenInvoices(call: Call, lines: readonly OrderLineRow[]): Promise<void> {
  const open = (await call
    .trx('invoices')
    .whereIn(
      'id',
      call
        .trx('invoiceLines')
        .whereIn(
          'orderLineId',
          lines.map(line => line.id),
        )
        .select('invoiceId'),
    )
    .whereNotIn('state', ['paid', 'rejected', 'voided'])
    .pluck('number')) as string[]
  if (open.length > 0) throw new RuleBroken(stop('order.openInvoices', { invoices: open.join(', ') }, { clearedBy: ['invoiceClerk', 'treasurer'] }))
}
