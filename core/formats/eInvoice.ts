import type { InvoiceText } from '#core/bill/invoiceText.ts'
import { isCiiInvoice, readCiiInvoice } from '#core/formats/ciiInvoice.ts'
import { readUblInvoice } from '#core/formats/ublInvoice.ts'
import { parseXml } from '#core/formats/xml.ts'

/** Reads an e-invoice in either syntax of EN 16931, told by its root. @throws RuleBroken xml.* | bill.notAnInvoice */
export function readEInvoice(text: string): InvoiceText {
  const root = parseXml(text)
  return isCiiInvoice(root) ? readCiiInvoice(root) : readUblInvoice(root)
}
