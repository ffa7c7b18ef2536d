import { draftOrders as decideDrafts } from '#core/order/draftOrders.ts'
import { type Done, type Write } from '#server/call.ts'
import { obey } from '#server/documents/obey.ts'
import { insertDraft } from '#server/order/newOrderStore.ts'
import { heldToBuy } from '#server/order/poolStore.ts'
import { baseRates } from '#server/house/rates.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Groups approved lines by supplier and currency into draft orders; what was ordered of a line already stays out. */
export async function draftOrders(
  call: Write,
  lineIds: readonly string[],
  route: 'orderNow' | 'callOff' = 'orderNow',
): Promise<(Done & { number: string })[]> {
  const lines = await heldToBuy(call, lineIds)
  const rates = await baseRates(
    call,
    lines.map(line => line.currency),
  )
  const { next } = obey(decideDrafts(lines, route, rates, call.base))
  const made = []
  for (const order of next.orders) made.push(await insertDraft(call, order))
  await refreshThread(call, {
    orderIds: made.map(order => order.id),
    requisitionIds: [...new Set(lines.map(line => line.requisitionId))],
  })
  return made
}
