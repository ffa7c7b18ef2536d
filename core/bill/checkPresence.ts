import type { Report } from '#core/bill/en16931.ts'
import type { Adjustment, InvoiceLineText, InvoiceParty, InvoiceText, PaymentText } from '#core/bill/invoiceText.ts'

/** What an invoice must say, and how often (BR-01 … BR-26, BR-31 … BR-67, BR-CO-03, -04, -18 … -26). */
export function checkPresence(invoice: InvoiceText, report: Report): void {
  const needed: [string, string, string][] = [
    ['BR-01', 'CustomizationID', invoice.customizationId],
    ['BR-02', 'ID', invoice.number],
    ['BR-03', 'IssueDate', invoice.issueDate],
    ['BR-04', 'InvoiceTypeCode', invoice.typeCode],
    ['BR-05', 'DocumentCurrencyCode', invoice.currency],
    ['BR-06', 'AccountingSupplierParty', invoice.seller.name],
    ['BR-07', 'AccountingCustomerParty', invoice.buyer.name],
    ['BR-08', 'AccountingSupplierParty/PostalAddress', invoice.seller.address ? 'there' : ''],
    ['BR-09', 'AccountingSupplierParty/Country', invoice.seller.country],
    ['BR-10', 'AccountingCustomerParty/PostalAddress', invoice.buyer.address ? 'there' : ''],
    ['BR-11', 'AccountingCustomerParty/Country', invoice.buyer.country],
    ['BR-12', 'LineExtensionAmount', invoice.totals.lines],
    ['BR-13', 'TaxExclusiveAmount', invoice.totals.net],
    ['BR-14', 'TaxInclusiveAmount', invoice.totals.gross],
    ['BR-15', 'PayableAmount', invoice.totals.payable],
  ]
  for (const [rule, place, text] of needed) if (text === '') report(rule, place)
  if (invoice.lines.length === 0) report('BR-16', 'InvoiceLine')
  checkParties(invoice, report)
  invoice.lines.forEach((line, index) => checkLine(line, `InvoiceLine[${index + 1}]`, report))
  checkAdjustments(invoice, report)
  checkSubtotals(invoice, report)
  checkPayments(invoice.payments, report)
  checkRest(invoice, report)
}

function checkParties({ seller, buyer, payee, representative }: InvoiceText, report: Report): void {
  if (payee?.name === '') report('BR-17', 'PayeeParty')
  if (representative) {
    const place = 'TaxRepresentativeParty'
    if (representative.name === '') report('BR-18', place)
    if (!representative.address) report('BR-19', `${place}/PostalAddress`)
    else if (representative.country === '') report('BR-20', `${place}/Country`)
    if (representative.vatId === '') report('BR-56', `${place}/PartyTaxScheme`)
  }
  const endpoint = (rule: string, place: string, party: InvoiceParty): void => {
    if (party.endpointId !== '' && party.endpointScheme === '') report(rule, `${place}/EndpointID`, party.endpointId, 'a scheme') // prettier-ignore
  }
  endpoint('BR-62', 'AccountingSupplierParty', seller)
  endpoint('BR-63', 'AccountingCustomerParty', buyer)
  if (seller.ids.length === 0 && seller.registrationId === '' && seller.vatId === '')
    report('BR-CO-26', 'AccountingSupplierParty', '', 'an identifier, a registration or a VAT number')
}

function checkLine(line: InvoiceLineText, place: string, report: Report): void {
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
  line.adjustments.forEach((part, index) => {
    const at = `${place}/AllowanceCharge[${index + 1}]`
    if (part.amount === '') report(part.charge ? 'BR-43' : 'BR-41', at)
    if (saysNoReason(part)) report(part.charge ? 'BR-44' : 'BR-42', at, '', 'a reason or its code')
  })
  for (const { name, value } of line.attributes)
    if (name === '' || value === '') report('BR-54', `${place}/Item`, name || value, 'a name and a value')
  if (line.standardItemId.id !== '' && line.standardItemId.scheme === '') report('BR-64', `${place}/Item`, line.standardItemId.id, 'a scheme') // prettier-ignore
  for (const { code, list } of line.classifications)
    if (code !== '' && list === '') report('BR-65', `${place}/Item`, code, 'a scheme')
  if (line.period?.from === '' && line.period.to === '') report('BR-CO-20', `${place}/InvoicePeriod`, '', 'a first or a last day') // prettier-ignore
}

const saysNoReason = (part: Adjustment): boolean => part.reason === '' && part.reasonCode === ''

function checkAdjustments({ adjustments }: InvoiceText, report: Report): void {
  adjustments.forEach((part, index) => {
    const place = `AllowanceCharge[${index + 1}]`
    if (part.amount === '') report(part.charge ? 'BR-36' : 'BR-31', place)
    if (part.category === '') report(part.charge ? 'BR-37' : 'BR-32', place)
    if (saysNoReason(part)) report(part.charge ? 'BR-38' : 'BR-33', place, '', 'a reason or its code')
  })
}

function checkSubtotals({ taxes }: InvoiceText, report: Report): void {
  if (taxes.length === 0) report('BR-CO-18', 'TaxTotal')
  taxes.forEach((tax, index) => {
    const place = `TaxSubtotal[${index + 1}]`
    if (tax.taxable === '') report('BR-45', place)
    if (tax.tax === '') report('BR-46', place)
    if (tax.category === '') report('BR-47', place)
    if (tax.rate === '' && tax.category !== 'O') report('BR-48', place)
  })
}

/** Payment means that are a credit transfer (UNTDID 4461). */
export const CREDIT_TRANSFER: ReadonlySet<string> = new Set(['30', '58'])
/** A card is told by the digits that may stand on paper: six in front and four behind. */
const MOST_CARD_DIGITS = 10

function checkPayments(payments: readonly PaymentText[], report: Report): void {
  for (const payment of payments) {
    if (payment.code === '') report('BR-49', 'PaymentMeans')
    if (payment.accounts.some(account => account.id === '')) report('BR-50', 'PaymentMeans/PayeeFinancialAccount')
    if (CREDIT_TRANSFER.has(payment.code) && !payment.accounts.some(account => account.id !== ''))
      report('BR-61', 'PaymentMeans/PayeeFinancialAccount', '', 'an account')
    for (const { number } of payment.cards)
      if (number.replace(/\D/g, '').length > MOST_CARD_DIGITS)
        report('BR-51', 'PaymentMeans/CardAccount', '', 'at most ten digits of the card', 'check')
  }
  const count = (of: (payment: PaymentText) => number): number => payments.reduce((sum, one) => sum + of(one), 0)
  const cards = count(payment => payment.cards.length)
  const mandates = count(payment => payment.mandates.length)
  if (cards > 1) report('BR-66', 'PaymentMeans/CardAccount', String(cards), 'one at most')
  if (mandates > 1) report('BR-67', 'PaymentMeans/PaymentMandate', String(mandates), 'one at most')
}

function checkRest(invoice: InvoiceText, report: Report): void {
  invoice.documents.forEach(({ id }) => {
    if (id === '') report('BR-52', 'AdditionalDocumentReference')
  })
  if (invoice.taxCurrency !== '' && invoice.taxAccounting === '')
    report('BR-53', 'TaxTotal', '', `the VAT in ${invoice.taxCurrency}`)
  for (const { number } of invoice.preceding) if (number === '') report('BR-55', 'BillingReference')
  if (invoice.delivery?.address?.country === '') report('BR-57', 'Delivery/Country')
  if (invoice.taxPointDate !== '' && invoice.taxPointCode !== '')
    report('BR-CO-03', 'TaxPointDate', invoice.taxPointDate, 'a date or a code, not both')
  if (invoice.period?.from === '' && invoice.period.to === '') report('BR-CO-19', 'InvoicePeriod', '', 'a first or a last day') // prettier-ignore
}
