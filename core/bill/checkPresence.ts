import type { Report } from '#core/bill/en16931.ts'
import type { InvoiceText } from '#core/bill/invoiceText.ts'

/** What an invoice must say at all (BR-01 … BR-16, BR-21 … BR-26, BR-CO-04). */
export function checkPresence(invoice: InvoiceText, report: Report): void {
  const needed: [string, string, string][] = [
    ['BR-01', 'CustomizationID', invoice.customizationId],
    ['BR-02', 'ID', invoice.number],
    ['BR-03', 'IssueDate', invoice.issueDate],
    ['BR-04', 'InvoiceTypeCode', invoice.typeCode],
    ['BR-05', 'DocumentCurrencyCode', invoice.currency],
    ['BR-06', 'AccountingSupplierParty', invoice.seller.name],
    ['BR-07', 'AccountingCustomerParty', invoice.buyer.name],
    ['BR-09', 'AccountingSupplierParty/Country', invoice.seller.country],
    ['BR-11', 'AccountingCustomerParty/Country', invoice.buyer.country],
    ['BR-12', 'LineExtensionAmount', invoice.totals.lines],
    ['BR-13', 'TaxExclusiveAmount', invoice.totals.net],
    ['BR-14', 'TaxInclusiveAmount', invoice.totals.gross],
    ['BR-15', 'PayableAmount', invoice.totals.payable],
  ]
  for (const [rule, place, text] of needed) if (text === '') report(rule, place)
  if (invoice.lines.length === 0) report('BR-16', 'InvoiceLine')
  invoice.lines.forEach((line, index) => {
    const place = `InvoiceLine[${index + 1}]`
    const parts: [string, string][] = [
      ['BR-21', line.id],
      ['BR-22', line.quantity],
      ['BR-23', line.unit],
      ['BR-24', line.net],
      ['BR-25', line.name],
      ['BR-26', line.price],
      ['BR-CO-04', line.category],
    ]
    for (const [rule, text] of parts) if (text === '') report(rule, place)
  })
  if (invoice.taxes.length === 0) report('BR-CO-18', 'TaxTotal')
}
