import { invoiceDocument, isWrittenHere } from '#core/bill/outgoing.ts'
import { parseAmount } from '#core/money/amount.ts'
import { documentFile, type InvoiceForm, partiesOf } from '#server/bill/documentFile.ts'
import { knownInvoice } from '#server/bill/invoiceStore.ts'
import { found, type Read } from '#server/call.ts'
import type { FileAnswer } from '#server/http/route.ts'

/** An invoice that was made here, by the supplier or in its name: to print, or as data by EN 16931. */
export async function invoiceFile(call: Read, id: string, form: InvoiceForm): Promise<FileAnswer> {
  const invoice = await knownInvoice(call, id)
  found(isWrittenHere(invoice.row.source) ? invoice : undefined, 'file')
  const orderLines = new Map(invoice.orders.flatMap(order => order.lines.map(line => [line.id, String(line.position)] as const))) // prettier-ignore
  const account = await call.trx('supplierBankAccounts').where({ supplierId: invoice.supplierId }).whereNot({ state: 'closed' }).first('iban', 'bic', 'holder') // prettier-ignore
  const around = { ...(await partiesOf(call, invoice.supplierId)), account: account ?? null, selfBilled: invoice.row.source === 'selfBilled', orderReference: invoice.row.orderReference, orderLines } // prettier-ignore
  const document = invoiceDocument(invoice, around, amount => parseAmount(amount || '0', invoice.currency))
  return await documentFile(call, document, invoice.supplierId, form)
}

/** A supplier's own. */
export async function ownInvoiceFile(call: Read, id: string, form: InvoiceForm): Promise<FileAnswer> {
  const supplierId = call.actor.supplierId ?? ''
  found(await call.trx('invoices').where({ id, supplierId }).first('id'), 'invoice')
  return await invoiceFile(call, id, form)
}
