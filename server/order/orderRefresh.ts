import { orderDesk } from '#core/order/desk.ts'
import type { Write } from '#server/call.ts'
import { keepDesks } from '#server/desk/deskStore.ts'
import { tellChanged } from '#server/news/tell.ts'
import { knownOrders } from '#server/order/orderStore.ts'
import { keepFigures } from '#server/order/figureStore.ts'
import type { Touched } from '#server/thread/refresh.ts'

/** Keeps beside orders what the core says of them, and what waits because of them; their requests come along. */
export async function refreshOrders(call: Write, { orderIds }: Touched): Promise<Partial<Touched> | undefined> {
  if (orderIds.length === 0) return undefined
  const orders = [...(await knownOrders(call, [...orderIds].sort())).values()]
  for (const order of orders) await keepFigures(call, order)
  await keepDesks(
    call,
    orders.map(order => ({ document: { kind: 'order' as const, id: order.id }, entries: orderDesk(order) })),
  )
  await tellChanged(
    call,
    orders.map(order => ({
      kind: 'order' as const,
      id: order.id,
      company: order.state === 'draft' ? null : order.supplierId,
    })),
  )
  return {
    requisitionIds: [...new Set(orders.flatMap(order => order.requests.map(request => request.requisitionId)))],
  }
}
