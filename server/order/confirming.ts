import { confirmOrder } from '#core/order/issueOrder.ts'
import { accountsOf } from '#core/order/after.ts'
import type { Write } from '#server/call.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { askAbout } from '#server/order/excessActs.ts'
import { carryOut } from '#server/order/orderActs.ts'
import { heldOrder } from '#server/order/orderStore.ts'
import type { Touched } from '#server/thread/refresh.ts'

/**
 * Orders that were written for bills without one go their way by themselves: those who pay are asked as soon as it is written, and after their yes
 * it is in force.
 */
export async function refreshConfirming(call: Write, { orderIds }: Touched): Promise<undefined> {
  if (orderIds.length === 0) return
  const drafts = await call.trx('orders').whereIn('id', [...orderIds]).where({ state: 'draft' }).whereNotNull('forInvoiceId').orderBy('id').pluck<string[]>('id') // prettier-ignore
  for (const id of drafts) {
    const order = await heldOrder(call, id)
    if (order.excess === null) await askAbout(call, order, order, null, order.message || order.title)
    else if (order.excess.consent.state === 'given')
      await carryOut(call, order, confirmOrder(order, await holdAccounts(call, accountsOf(order))))
  }
}
