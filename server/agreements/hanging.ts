import type { ResponseOf } from '#contract/endpoint.ts'
import type { PreviewWindDown } from '#contract/agreements/agreements.ts'
import { type HangingDocument, orderDeed, requestDeed } from '#core/agreements/windDown.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'
import type { Read } from '#server/call.ts'
import { pathOf, reasonsJson } from '#server/documents/sheetParts.ts'
import { needVisible } from '#server/documents/visible.ts'
import { knownOrders } from '#server/order/orderStore.ts'

interface Found {
  id: string
  number: string
  title: string
  state: string
}

/** Ids of the orders under an agreement, by number. */
export async function ordersUnder(call: Read, agreementId: string): Promise<string[]> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select o.id from orders o where exists (select 1 from order_lines l join agreement_lines al on al.id = l.agreement_line_id where l.order_id = o.id and al.agreement_id = ?) order by o.number, o.id`,
    [agreementId],
  )
  return rows.map(row => row.id)
}

/** Everything that hangs on an agreement, with what a wind-down does with it. */
export async function hangingOn(call: Read, agreementId: string): Promise<HangingDocument[]> {
  const orders = await knownOrders(call, await ordersUnder(call, agreementId))
  const requests = await call.trx.raw<{ rows: (Found & { reserved: boolean })[] }>(
    `select r.id, r.number, r.title, r.state, bool_or(coalesce((select sum(e.amount) from agreement_entries e where e.line_id = l.id and e.kind = 'reserved'), 0) > 0) as reserved
     from requisition_lines l join requisitions r on r.id = l.requisition_id join agreement_lines al on al.id = l.agreement_line_id
     where al.agreement_id = :id and r.state = any(:open) group by r.id order by r.number`,
    { id: agreementId, open: [...REQUISITION_GROUPS.open] },
  )
  const invoices = await call.trx.raw<{ rows: Found[] }>(
    `select distinct i.id, i.number, i.supplier_number as title, i.state from invoices i join invoice_lines il on il.invoice_id = i.id join order_lines l on l.id = il.order_line_id
     join agreement_lines al on al.id = l.agreement_line_id where al.agreement_id = :id and i.state = any(:open) order by i.number`,
    { id: agreementId, open: [...INVOICE_GROUPS.open] },
  )
  return [
    ...[...orders.values()].map(order => ({
      kind: 'order' as const,
      id: order.id,
      number: order.number,
      title: order.title,
      state: order.state,
      ...orderDeed(order, call.actor),
    })),
    ...requests.rows
      .filter(row => row.reserved || isIn(REQUISITION_GROUPS.drafts, row.state))
      .map(({ reserved, ...row }) => ({
        kind: 'requisition' as const,
        ...row,
        ...requestDeed(reserved),
      })),
    ...invoices.rows.map(row => ({
      kind: 'invoice' as const,
      ...row,
      deed: 'person' as const,
      reasons: [stop('agreement.invoiceOpen', { number: row.number }, { clearedBy: ['invoiceClerk', 'treasurer'] })],
    })),
  ]
}

/** What would become of everything that hangs on it. */
export async function previewWindDown(call: Read, id: string): Promise<ResponseOf<typeof PreviewWindDown>> {
  await needVisible(call, 'agreement', id)
  return {
    hanging: (await hangingOn(call, id)).map(one => ({
      ...one,
      path: pathOf(one.kind, one.id),
      reasons: reasonsJson(one.reasons),
    })),
  }
}
