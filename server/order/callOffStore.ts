import { addQuantities } from '#core/ledger/quantity.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import type { Reason } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'
import { callingRows, callOffReasons } from '#server/ledger/callingStore.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'

import { supplierReasons } from '#server/order/conditionStore.ts'
import type { KnownOrder } from '#server/order/orderStore.ts'

/** What stands against calling off what an order calls off, if it were issued as it is here: what its requests have reserved is free then. */
export async function orderCallOffs(call: Read, order: OrderFacts): Promise<Reason[]> {
  const rows = await callingRows(call, {
    requisitionIds: [...new Set(order.requests.map(request => request.requisitionId))],
    orderIds: [order.id],
  })
  if (!rows.some(row => row.side === 'order')) return []
  const lines = new Map(order.lines.map(line => [line.id, line]))
  const sums = await quantitySums(
    call,
    rows.map(row => row.lineId),
  )
  const more = new Map(
    order.lines.flatMap(line =>
      line.requestLineId === null
        ? []
        : [[line.requestLineId, new Decimal(line.quantity).minus(line.sums.ordered).toString()] as const],
    ),
  )
  return await callOffReasons(
    call,
    rows.map(row => {
      const line = lines.get(row.lineId)
      return row.side === 'request' || !line
        ? row
        : { ...row, state: 'issued', quantity: line.quantity, amount: line.amount, baseAmount: line.baseAmount }
    }),
    id => addQuantities(sums(id), more.has(id) ? [{ kind: 'ordered', quantity: more.get(id)! }] : []),
  )
}

/** An order with what stands against ordering from its supplier and against calling off what it calls off. */
export async function withObstacles(call: Read, order: KnownOrder): Promise<KnownOrder> {
  const items = order.rows.map(row => row.itemId)
  return {
    ...order,
    supplierReasons: await supplierReasons(call, order.supplierId, items),
    agreementReasons: await orderCallOffs(call, order),
  }
}
