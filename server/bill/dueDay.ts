import { agreedDueDate, dueDate } from '#core/pay/terms.ts'
import { RECEIPT_STATES } from '#core/receive/states.ts'
import type { Read } from '#server/call.ts'
import type { InvoiceLineRow, InvoiceRow } from '#server/bill/invoiceStore.ts'
import { someIds } from '#server/database/rows.ts'
import { termsOf } from '#server/order/conditionStore.ts'

/** The day by the terms that the order was issued with, else by the supplier's. */
export async function dueDay(
  call: Read,
  invoice: Pick<InvoiceRow, 'supplierId' | 'issueDate' | 'printedDueDate'>,
  lines: readonly Pick<InvoiceLineRow, 'orderLineId'>[],
): Promise<string> {
  const ids = someIds(lines.map(line => line.orderLineId))
  const order = await call
    .trx('orders')
    .whereIn('id', call.trx('orderLines').whereIn('id', ids).select('orderId'))
    .whereNotNull('agreed')
    .orderBy('number')
    .first('agreed')
  const supplier = await call.trx('suppliers').where({ id: invoice.supplierId }).first('terms')
  const terms = order?.agreed ? termsOf(order.agreed) : supplier!.terms
  const received = terms.from === 'receipt' ? await lastReceipt(call, ids) : null
  return agreedDueDate(dueDate(terms, invoice.issueDate, received), invoice.printedDueDate ?? '')
}

async function lastReceipt(call: Read, orderLineIds: readonly string[]): Promise<string | null> {
  const standing = Object.keys(RECEIPT_STATES).filter(state => state !== 'reversed')
  const { rows } = await call.trx.raw<{ rows: { day: string | null }[] }>(
    'select max(r.received_on) as day from receipts r join receipt_lines l on l.receipt_id = r.id where l.order_line_id = any(?) and r.state = any(?)',
    [[...orderLineIds], standing],
  )
  return rows[0]?.day ?? null
}
