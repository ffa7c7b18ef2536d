import type { CodeInvoice, ReadCoding } from '#contract/bill/coding.ts'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { likelyPayers, looseLines, orderFor } from '#core/bill/coding.ts'
import { formatAmount } from '#core/money/amount.ts'
import { dropWritten, writtenFor } from '#server/bill/codeStore.ts'
import { heldInvoice, knownInvoice } from '#server/bill/invoiceStore.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { splitsOf } from '#server/ledger/splitStore.ts'
import { insertDraft } from '#server/order/newOrderStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** The lines of an invoice that nobody ordered, with who likely pays for each. */
export async function readCoding(call: Read, id: string): Promise<ResponseOf<typeof ReadCoding>> {
  const invoice = await knownInvoice(call, id)
  const before = await paidBefore(call, invoice.supplierId)
  return {
    lines: looseLines(invoice).map(line => ({
      lineId: line.id,
      position: line.position,
      description: line.description,
      quantity: line.quantity,
      net: formatAmount(line.net, invoice.currency),
      ...likelyPayers(line, before),
      splits: likelyPayers(line, before).splits.map(({ accountId, share }) => ({ accountId, share })),
    })),
  }
}

/** Lines of the supplier that were billed before and are looked at. */
const MOST_BEFORE = 60

/** Who paid for what this supplier billed last, by accounts that are still open. */
async function paidBefore(call: Read, supplierId: string) {
  const { rows } = await call.trx.raw<{ rows: { id: string; description: string }[] }>(
    `select ol.id, il.description from invoice_lines il join invoices i on i.id = il.invoice_id join order_lines ol on ol.id = il.order_line_id
     where i.supplier_id = :supplierId and not exists (select 1 from line_splits s join budget_accounts a on a.id = s.account_id where s.line_id = ol.id and not a.open) order by i.received_at desc, il.position limit :most`,
    { supplierId, most: MOST_BEFORE },
  )
  const splits = await splitsOf(call, rows.map(row => row.id)) // prettier-ignore
  return rows.map(row => ({ description: row.description, splits: splits.get(row.id) ?? [] }))
}

/** Writes the order that the invoice never had, and asks those who pay for it; once they said yes its lines are linked. */
export async function codeInvoice(
  call: Write,
  id: string,
  { version, reason, lines }: BodyOf<typeof CodeInvoice>,
): Promise<Done & { order: string }> {
  const invoice = await heldInvoice(call, id, version)
  const coded = new Map(lines.map(line => [line.lineId, line.splits]))
  const { next, did } = obey(orderFor(invoice, await writtenFor(call, id), coded, call.actor))
  const accounts = [...new Set(next.lines.flatMap(line => line.splits.map(split => split.accountId)))]
  const open = await call.trx('budgetAccounts').whereIn('id', accounts).where({ open: true }).pluck<string[]>('id')
  found(open.length === accounts.length ? open : undefined, 'budgetAccount')
  // what was refused makes room
  const dropped = await dropWritten(call, id, reason)
  const order = await insertDraft(call, { ...next, message: reason, forInvoiceId: id })
  await move(call, 'invoice', invoice.row, {}, { ...did, changes: { ...did.changes, order: order.number }, reason: reason || null }) // prettier-ignore
  await refreshThread(call, { orderIds: [...dropped, order.id], invoiceIds: [id] })
  return { id, version: (await knownInvoice(call, id)).row.version, order: order.number }
}
