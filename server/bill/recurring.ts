import type { ReadRecurring } from '#contract/bill/recurring.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { formatAmount } from '#core/money/amount.ts'
import { comesAgain, expectedBills } from '#core/order/recurring.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { may, type Read } from '#server/call.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { knownOrders } from '#server/order/orderStore.ts'

/** Plans with their expected bills: those of which one is missing first, then by supplier. */
export async function readRecurring(call: Read): Promise<ResponseOf<typeof ReadRecurring>> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select distinct o.id from orders o join order_lines l on l.order_id = o.id where o.state = any(?) and jsonb_array_length(l.schedule) > 1`,
    [[...ORDER_GROUPS.live]],
  )
  const orders = [...(await knownOrders(call, rows.map(row => row.id))).values()] // prettier-ignore
  const waiting = await waitingOn(
    call,
    orders.flatMap(order => order.lines.filter(comesAgain).map(line => line.id)),
  )
  const plans = orders.flatMap(order =>
    order.lines.filter(comesAgain).map(line => {
      const expected = expectedBills(line, order.currency, call.today, waiting.get(line.id))
      return {
        id: line.id,
        order: order.number,
        path: may(call, 'order.read') ? pathOf('order', order.id) : null,
        supplier: order.supplier,
        description: line.description,
        unit: line.unit,
        currency: order.currency,
        missing: expected.filter(one => one.state === 'missing').length,
        expected: expected.map(one => ({ ...one, amount: formatAmount(one.amount, order.currency) })),
      }
    }),
  )
  const byName = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0)
  return {
    plans: plans.sort((a, b) => Number(b.missing > 0) - Number(a.missing > 0) || byName(a.supplier, b.supplier)),
  }
}

/** What bills that are here and wait have of these lines. */
async function waitingOn(call: Read, lineIds: readonly string[]): Promise<Map<string, string>> {
  const { rows } = await call.trx.raw<{ rows: { id: string; quantity: string }[] }>(
    `select il.order_line_id as id, sum(il.quantity)::text as quantity from invoice_lines il join invoices i on i.id = il.invoice_id where il.order_line_id = any(:lineIds) and i.state = any(:waiting) group by 1`,
    { lineIds: [...lineIds], waiting: [...INVOICE_GROUPS.waiting] },
  )
  return new Map(rows.map(row => [row.id, row.quantity]))
}
