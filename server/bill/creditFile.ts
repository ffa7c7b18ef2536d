import { creditDocument } from '#core/bill/outgoing.ts'
import { parseAmount } from '#core/money/amount.ts'
import { documentFile, type InvoiceForm, partiesOf } from '#server/bill/documentFile.ts'
import { knownCredit } from '#server/bill/knownCreditStore.ts'
import { found, type Read } from '#server/call.ts'
import type { FileAnswer } from '#server/http/route.ts'

/** A credit or debit note to print, or as data by EN 16931. */
export async function creditFile(call: Read, id: string, form: InvoiceForm): Promise<FileAnswer> {
  const credit = await knownCredit(call, id)
  const orderLines = new Map(credit.orders.flatMap(order => order.lines.map(line => [line.id, String(line.position)] as const))) // prettier-ignore
  const around = { ...(await partiesOf(call, credit.supplierId)), orderReference: credit.orders[0]?.number ?? '', orderLines } // prettier-ignore
  const document = creditDocument(credit, around, amount => parseAmount(amount || '0', credit.invoice.currency))
  return await documentFile(call, document, credit.supplierId, form)
}

/** A supplier's own credit note, or a debit note of ours that it was sent. */
export async function ownCreditFile(call: Read, id: string, form: InvoiceForm): Promise<FileAnswer> {
  found(
    await call
      .trx('creditNotes')
      .where({ id, supplierId: call.actor.supplierId ?? '' })
      .first('id'),
    'creditNote',
  )
  return await creditFile(call, id, form)
}
