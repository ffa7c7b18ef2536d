import { isValidIBAN } from 'ibantools'
import { CREDIT_TRANSFER } from '#core/bill/checkPresence.ts'
import type { Report } from '#core/bill/en16931.ts'
import type { InvoiceText, PaymentText } from '#core/bill/invoiceText.ts'

/** Types that may be sent to German authorities without a second look (UNTDID 1001). */
const TYPES: ReadonlySet<string> = new Set(['326', '380', '384', '389', '381', '875', '876', '877'])
const CORRECTED = '384'
const CARDS: ReadonlySet<string> = new Set(['48', '54', '55'])
const DIRECT_DEBIT = '59'
const TAXED: ReadonlySet<string> = new Set(['S', 'Z', 'E', 'AE', 'K', 'G', 'L', 'M'])
const IDENTIFIER = /urn:xeinkauf\.de:kosit:xrechnung_|urn:xoev-de:kosit:standard:xrechnung_/
/** A discount as a line of the terms: days, per cent and, where it is not the whole, the base. */
const DISCOUNT = /^#SKONTO#TAGE=\d+#PROZENT=\d+\.\d{2}#(?:BASISBETRAG=-?\d+\.\d{2}#)?$/

/** Rules of the German core invoice usage specification XRechnung 3.0 (BR-DE-1 … BR-DE-31) that say more than the standard. */
export function checkGerman(invoice: InvoiceText, report: Report): void {
  checkContacts(invoice, report)
  checkPayment(invoice, report)
  invoice.taxes.forEach((tax, i) => {
    if (tax.rate === '') report('BR-DE-14', `TaxSubtotal[${i + 1}]/Percent`)
  })
  if (invoice.buyerReference === '') report('BR-DE-15', 'BuyerReference')
  const { seller, representative } = invoice
  const taxed = [...invoice.lines, ...invoice.adjustments].some(part => TAXED.has(part.category))
  if (taxed && seller.vatId === '' && seller.taxId === '' && !representative) report('BR-DE-16', 'AccountingSupplierParty/PartyTaxScheme', '', 'a VAT or tax number') // prettier-ignore
  if (!TYPES.has(invoice.typeCode)) report('BR-DE-17', 'InvoiceTypeCode', invoice.typeCode, [...TYPES].join(', '), 'check') // prettier-ignore
  for (const line of invoice.paymentTerms.split(/\r?\n/).map(one => one.trim()))
    if (line.startsWith('#') && !DISCOUNT.test(line)) report('BR-DE-18', 'PaymentTerms', line, '#SKONTO#TAGE=14#PROZENT=2.00#') // prettier-ignore
  if (!IDENTIFIER.test(invoice.customizationId)) report('BR-DE-21', 'CustomizationID', invoice.customizationId, 'that of XRechnung', 'check') // prettier-ignore
  const names = invoice.documents.map(one => one.fileName.toLowerCase()).filter(Boolean)
  if (new Set(names).size < names.length) report('BR-DE-22', 'AdditionalDocumentReference', names.join(', '), 'file names that differ') // prettier-ignore
  if (invoice.typeCode === CORRECTED && invoice.preceding.length === 0) report('BR-DE-26', 'BillingReference', '', 'the invoice that is corrected', 'check') // prettier-ignore
}

function checkContacts({ seller, buyer, delivery }: InvoiceText, report: Report): void {
  const place = 'AccountingSupplierParty'
  const { contact } = seller
  if (!contact) report('BR-DE-2', `${place}/Contact`)
  else {
    if (contact.name === '') report('BR-DE-5', `${place}/Contact`, '', 'a name')
    if (contact.phone === '') report('BR-DE-6', `${place}/Contact`, '', 'a telephone number')
    else if (contact.phone.replace(/\D/g, '').length < 3) report('BR-DE-27', `${place}/Contact`, contact.phone, 'three digits or more', 'check') // prettier-ignore
    if (contact.email === '') report('BR-DE-7', `${place}/Contact`, '', 'a mail address')
    else if (!/^[^@\s.][^@\s]*[^@\s.]@[^@\s.][^@\s]*[^@\s.]$/.test(contact.email)) report('BR-DE-28', `${place}/Contact`, contact.email, 'a mail address', 'check') // prettier-ignore
  }
  if (!seller.address?.city) report('BR-DE-3', `${place}/CityName`)
  if (!seller.address?.post) report('BR-DE-4', `${place}/PostalZone`)
  if (!buyer.address?.city) report('BR-DE-8', 'AccountingCustomerParty/CityName')
  if (!buyer.address?.post) report('BR-DE-9', 'AccountingCustomerParty/PostalZone')
  if (delivery?.address) {
    if (delivery.address.city === '') report('BR-DE-10', 'Delivery/CityName')
    if (delivery.address.post === '') report('BR-DE-11', 'Delivery/PostalZone')
  }
}

function checkPayment({ payments, creditorId }: InvoiceText, report: Report): void {
  if (payments.length === 0) report('BR-DE-1', 'PaymentMeans')
  for (const payment of payments) {
    checkGroups(payment, report)
    for (const { id } of payment.accounts)
      if (payment.code === '58' && !isValidIBAN(id.replace(/\s/g, '').toUpperCase())) report('BR-DE-19', 'PaymentMeans/PayeeFinancialAccount', id, 'an IBAN', 'check') // prettier-ignore
    for (const { account } of payment.mandates) {
      if (account === '') report('BR-DE-31', 'PaymentMeans/PaymentMandate', '', 'the account that is debited')
      else if (payment.code === DIRECT_DEBIT && !isValidIBAN(account.replace(/\s/g, '').toUpperCase())) report('BR-DE-20', 'PaymentMeans/PaymentMandate', account, 'an IBAN', 'check') // prettier-ignore
    }
    if (payment.mandates.length > 0 && creditorId === '') report('BR-DE-30', 'PaymentMeans/PaymentMandate', '', 'the creditor’s identifier') // prettier-ignore
  }
}

/** Of account, card and mandate there is the one that the code of the payment means, and no other. */
function checkGroups({ code, accounts, cards, mandates }: PaymentText, report: Report): void {
  const only = (
    rule: string,
    isMeant: boolean,
    own: readonly unknown[],
    others: readonly unknown[],
    name: string,
  ): void => {
    if (!isMeant) return
    if (own.length === 0) report(`${rule}-a`, 'PaymentMeans', '', name)
    if (others.length > 0) report(`${rule}-b`, 'PaymentMeans', '', `nothing but ${name}`)
  }
  only('BR-DE-23', CREDIT_TRANSFER.has(code), accounts, [...cards, ...mandates], 'an account')
  only('BR-DE-24', CARDS.has(code), cards, [...accounts, ...mandates], 'a card')
  only('BR-DE-25', code === DIRECT_DEBIT, mandates, [...accounts, ...cards], 'a mandate')
}
