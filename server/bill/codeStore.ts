import { ORDER_GROUPS } from '#core/order/states.ts'
import { isIn } from '#core/states.ts'
import type { Read, Write } from '#server/call.ts'
import { consentsById, type KeptConsent, settleConsent, waitsFor } from '#server/consent/consentStore.ts'
import { endConsent } from '#core/consent/consent.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { pathOf } from '#server/documents/sheetParts.ts'

/** The order that was written afterwards for an invoice, the last one where there were several. */
export async function writtenFor(
  call: Read,
  invoiceId: string,
): Promise<{ id: string; number: string; state: string; path: string; waitsFor: string[]; refused: boolean } | null> {
  const order = await call.trx('orders').where({ forInvoiceId: invoiceId }).orderBy('createdAt', 'desc').first('id', 'number', 'state', 'excessId') // prettier-ignore
  if (!order) return null
  const asked: KeptConsent | undefined = order.excessId ? (await consentsById(call, [order.excessId])).get(order.excessId) : undefined // prettier-ignore
  return {
    id: order.id,
    number: order.number,
    state: order.state,
    path: pathOf('order', order.id),
    waitsFor: asked?.state === 'open' ? waitsFor(asked) : [],
    refused: asked?.state === 'refused',
  }
}

/** Orders in force that were written for invoices and are among these, by invoice. */
export async function inForceFor(call: Read, orderIds: readonly string[]): Promise<Map<string, string>> {
  const rows = await call.trx('orders').whereIn('id', [...orderIds]).whereNotNull('forInvoiceId').select('id', 'forInvoiceId', 'state') // prettier-ignore
  return new Map(rows.filter(row => isIn(ORDER_GROUPS.billable, row.state)).map(row => [row.forInvoiceId!, row.id]))
}

/** An order that was written for an invoice and is no more than a draft goes with it, and the question about it. */
export async function dropWritten(call: Write, invoiceId: string, reason: string): Promise<string[]> {
  const ids = await call.trx('orders').where({ forInvoiceId: invoiceId, state: 'draft' }).pluck<string[]>('id')
  for (const id of ids) {
    const row = await hold(call, 'order', id)
    const asked = row.excessId ? (await consentsById(call, [row.excessId])).get(row.excessId) : undefined
    if (asked?.state === 'open') await settleConsent(call, asked, endConsent(asked, 'dropped'))
    await move(call, 'order', row, { state: 'cancelled' }, { action: 'cancel', changes: {}, reason })
  }
  return ids
}
