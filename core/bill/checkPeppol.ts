import type { Report } from '#core/bill/en16931.ts'
import { number, signedSum } from '#core/bill/figures.ts'
import type { Adjustment, InvoiceText, PeriodText } from '#core/bill/invoiceText.ts'

const SPECIFICATION = 'urn:cen.eu:en16931:2017#compliant#urn:fdc:peppol.eu:2017:poacc:billing:3.0'
const PROCESS = /^urn:fdc:peppol\.eu:2017:poacc:billing:\d{2}:1\.0$/
const TYPES: ReadonlySet<string> = new Set(['71', '80', '82', '84', '102', '218', '219', '326', '331', '380', '381', '382', '383', '384', '386', '388', '389', '393', '395', '396', '532', '553', '575', '623', '780', '817', '83', '870', '875', '876', '877']) // prettier-ignore
/** Payment means by which the seller draws (UNTDID 4461). */
const DIRECT_DEBIT: ReadonlySet<string> = new Set(['49', '59'])
/** How far a product that is computed may be off, in the document's currency. */
const SLACK = '0.02'

/** Rules of Peppol BIS Billing 3.0 (PEPPOL-EN16931-…) that say more than the standard; R008 is said of UBL and CII alike. */
export function checkPeppol(invoice: InvoiceText, report: Report): void {
  const rule = (number: string): string => `PEPPOL-EN16931-${number}`
  if (invoice.processId === '') report(rule('R001'), 'ProfileID')
  else if (!PROCESS.test(invoice.processId)) report(rule('R007'), 'ProfileID', invoice.processId, 'urn:fdc:peppol.eu:2017:poacc:billing:NN:1.0') // prettier-ignore
  if (invoice.notes.length > 1) report(rule('R002'), 'Note', String(invoice.notes.length), 'one at most')
  if (invoice.buyerReference === '' && invoice.orderReference === '') report(rule('R003'), 'BuyerReference', '', 'a reference of the buyer or an order') // prettier-ignore
  if (!invoice.customizationId.startsWith(SPECIFICATION)) report(rule('R004'), 'CustomizationID', invoice.customizationId, SPECIFICATION) // prettier-ignore
  if (invoice.taxCurrency !== '' && invoice.taxCurrency === invoice.currency) report(rule('R005'), 'TaxCurrencyCode', invoice.taxCurrency, 'another currency') // prettier-ignore
  for (const place of invoice.empty) report(rule('R008'), place, '', 'something, or that it is left out')
  if (invoice.buyer.endpointId === '') report(rule('R010'), 'AccountingCustomerParty/EndpointID')
  if (invoice.seller.endpointId === '') report(rule('R020'), 'AccountingSupplierParty/EndpointID')
  invoice.adjustments.forEach((part, i) => checkAdjusted(part, `AllowanceCharge[${i + 1}]`, rule, report))
  for (const payment of invoice.payments)
    if (DIRECT_DEBIT.has(payment.code) && !payment.mandates.some(one => one.id !== '')) report(rule('R061'), 'PaymentMeans/PaymentMandate', '', 'a reference of the mandate') // prettier-ignore
  if (!TYPES.has(invoice.typeCode)) report(rule('P0100'), 'InvoiceTypeCode', invoice.typeCode, 'a type that the network takes') // prettier-ignore
  checkLines(invoice, rule, report)
}

/** An amount that is computed shows how: base times per cent (R040 … R042). */
function checkAdjusted(part: Adjustment, place: string, rule: (number: string) => string, report: Report): void {
  if (part.percent !== '' && part.base === '') report(rule('R041'), `${place}/BaseAmount`)
  if (part.base !== '' && part.percent === '') report(rule('R042'), `${place}/MultiplierFactorNumeric`)
  if (part.percent === '' || part.base === '') return
  const amount = number(part.base).times(number(part.percent)).dividedBy(100)
  if (amount.minus(number(part.amount)).abs().gt(SLACK)) report(rule('R040'), `${place}/Amount`, part.amount, amount.toFixed(2)) // prettier-ignore
}

function checkLines(invoice: InvoiceText, rule: (number: string) => string, report: Report): void {
  invoice.lines.forEach((line, i) => {
    const place = `InvoiceLine[${i + 1}]`
    line.adjustments.forEach((part, j) => checkAdjusted(part, `${place}/AllowanceCharge[${j + 1}]`, rule, report))
    if (line.grossPrice !== '' && !number(line.price).equals(number(line.grossPrice).minus(number(line.priceDiscount))))
      report(rule('R046'), `${place}/PriceAmount`, line.price, number(line.grossPrice).minus(number(line.priceDiscount)).toString()) // prettier-ignore
    if (line.priceBaseUnit !== '' && line.priceBaseUnit !== line.unit) report(rule('R130'), `${place}/BaseQuantity`, line.priceBaseUnit, line.unit) // prettier-ignore
    const net = number(line.quantity).times(number(line.price)).dividedBy(number(line.priceBase)).plus(signedSum(line.adjustments)) // prettier-ignore
    if (net.minus(number(line.net)).abs().gt(SLACK)) report(rule('R120'), `${place}/LineExtensionAmount`, line.net, net.toFixed(2)) // prettier-ignore
    if (!line.period || !invoice.period) return
    if (isBefore(line.period.from, invoice.period.from)) report(rule('R110'), `${place}/InvoicePeriod`, line.period.from, `${invoice.period.from} or later`) // prettier-ignore
    if (isAfter(line.period, invoice.period)) report(rule('R111'), `${place}/InvoicePeriod`, line.period.to, `${invoice.period.to} or earlier`) // prettier-ignore
  })
}
const isBefore = (day: string, first: string): boolean => day !== '' && first !== '' && day < first
const isAfter = (own: PeriodText, whole: PeriodText): boolean => own.to !== '' && whole.to !== '' && own.to > whole.to
