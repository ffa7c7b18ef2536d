import type { INVOICE_FORMS } from '#contract/bill/credits.ts'
import { checkInvoice } from '#core/bill/en16931.ts'
import type { OutgoingInvoice, OutgoingParty } from '#core/bill/outgoing.ts'
import { readEInvoice } from '#core/formats/eInvoice.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'
import { found } from '#server/call.ts'
import { writeInvoicePdf } from '#server/formats/invoicePdf.ts'
import { writeCiiInvoice } from '#server/formats/writeCiiInvoice.ts'
import { writeUblInvoice } from '#server/formats/writeUblInvoice.ts'
import { readSettings } from '#server/house/house.ts'
import type { FileAnswer } from '#server/http/route.ts'
import { documentLanguage } from '#server/mail/recipients.ts'
import { supplierPlaces } from '#server/order/placeStore.ts'

export type InvoiceForm = (typeof INVOICE_FORMS)[number]

/** The two companies of a document: the supplier as its record has it, and ours. */
export async function partiesOf(
  call: Read,
  supplierId: string,
): Promise<{ seller: OutgoingParty; buyer: OutgoingParty }> {
  // prettier-ignore
  const supplier = found(await call.trx('suppliers').where({ id: supplierId }).first('name'), 'supplier')
  const vat = await call.trx('supplierIdentifiers').where({ supplierId, scheme: 'vat' }).first('value')
  const [place] = await supplierPlaces(call, supplierId)
  const { company } = await readSettings(call, ['company'])
  const { street = '', postalCode = '', city = '', country = '' } = place ?? {}
  const { name, country: ours, vat: ourVat } = call.house
  return {
    seller: { name: supplier.name, street, postalCode, city, country, vat: vat?.value ?? '' },
    buyer: company ?? { name, street: '', postalCode: '', city: '', country: ours, vat: ourVat },
  }
}

/**
 * A document in the wanted form. What we write is read again and held against the same rules as what comes in: data that break one are not given out, and
 * the rules are said; a PDF is then printed without them.
 */
export async function documentFile(
  call: Read,
  invoice: OutgoingInvoice,
  supplierId: string,
  form: InvoiceForm,
): Promise<FileAnswer> {
  // prettier-ignore
  const name = `${invoice.number.replace(/[^\p{L}\p{N}_-]+/gu, '-') || 'document'}`
  const xml = form === 'ubl' ? writeUblInvoice(invoice) : writeCiiInvoice(invoice)
  const broken = checkInvoice(readEInvoice(xml), call.today).filter(one => one.severity === 'stop')
  if (form === 'pdf') {
    const { logo = null } = await readSettings(call, ['logo'])
    const language = await documentLanguage(call, supplierId)
    const bytes = await writeInvoicePdf(invoice, { language, logo, data: broken.length === 0 ? xml : null })
    return { name: `${name}.pdf`, mediaType: 'application/pdf', bytes, inline: true }
  }
  if (broken.length > 0)
    throw new RuleBroken(broken.map(({ rule, place, found: was, expected }) => stop('bill.rule', { rule, place, found: was, expected }))) // prettier-ignore
  return { name: `${name}.${form}.xml`, mediaType: 'application/xml', bytes: Buffer.from(xml) }
}
