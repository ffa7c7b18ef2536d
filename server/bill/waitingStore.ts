import { INVOICE_GROUPS } from '#core/bill/states.ts'
import type { Read } from '#server/call.ts'

/** What bills that are here and not posted have of each line. */
export async function waitingOf(call: Read, orderId: string): Promise<Map<string, string>> {
  const { rows } = await call.trx.raw<{ rows: { id: string; quantity: string }[] }>(
    `select il.order_line_id as id, sum(il.quantity)::text as quantity from invoice_lines il join invoices i on i.id = il.invoice_id join order_lines ol on ol.id = il.order_line_id
     where ol.order_id = :orderId and i.state = any(:waiting) group by 1`,
    { orderId, waiting: [...INVOICE_GROUPS.waiting] },
  )
  return new Map(rows.map(row => [row.id, row.quantity]))
}
