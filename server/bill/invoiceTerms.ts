import type { ReadInvoiceTerms } from '#contract/bill/terms.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { checkInvoice } from '#core/bill/en16931.ts'
import { normalNumber } from '#core/bill/invoiceNumber.ts'
import { termGroups } from '#core/bill/invoiceTerms.ts'
import { billingSettings } from '#server/bill/settingStore.ts'
import { found, type Read } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { contentOf } from '#server/files/fileStore.ts'

/** What the file of an invoice says, read again from the file itself: nothing of it is lost, whatever was kept of it. */
export async function readInvoiceTerms(call: Read, id: string): Promise<ResponseOf<typeof ReadInvoiceTerms>> {
  const invoice = found(await call.trx('invoices').where({ id, source: 'file' }).first('fileId', 'normalNumber', 'issueDate'), 'invoice') // prettier-ignore
  const file = found(
    await call
      .trx('files')
      .where({ id: invoice.fileId ?? '' })
      .first('id', 'name'),
    'file',
  )
  const read = await compute('invoicesOf', { name: file.name, bytes: await contentOf(call, file.id) })
  const text = found(read.map(one => one.invoice).find(one => one !== null && normalNumber(one.number) === invoice.normalNumber), 'file')! // prettier-ignore
  const { ruleSets } = await billingSettings(call)
  return {
    syntax: text.syntax,
    groups: termGroups(text).map(({ terms, ...group }) => ({ ...group, terms: [...terms] })),
    checks: checkInvoice(text, call.today, ruleSets).filter(one => one.severity === 'check').map(({ rule, place, found, expected }) => ({ rule, place, found, expected })), // prettier-ignore
  }
}
