import { create } from 'xmlbuilder2'
import { isCredit, type OutgoingInvoice, type OutgoingParty } from '#core/bill/outgoing.ts'
import { UBL_CREDIT_NOTE, UBL_INVOICE } from '#core/formats/ublInvoice.ts'
import { CAC, CBC, when } from '#server/formats/ublOrder.ts'

type Xml = Record<string, unknown>

/** Writes an invoice or credit note as UBL 2.1 by the syntax binding of EN 16931 (CEN/TS 16931-3-2). */
export function writeUblInvoice(invoice: OutgoingInvoice): string {
  const credit = isCredit(invoice)
  const money = (amount: string): Xml => ({ '@currencyID': invoice.currency, '#': amount })
  const tax = (category: string, rate: string, exemption?: { code: string; text: string } | null): Xml => ({
    'cbc:ID': category,
    ...when(category !== 'O', { 'cbc:Percent': rate }),
    ...when(exemption?.code, { 'cbc:TaxExemptionReasonCode': exemption?.code }),
    ...when(exemption?.text, { 'cbc:TaxExemptionReason': exemption?.text }),
    'cac:TaxScheme': { 'cbc:ID': 'VAT' },
  })
  const { totals, account } = invoice
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      [credit ? 'CreditNote' : 'Invoice']: {
        '@xmlns': credit ? UBL_CREDIT_NOTE : UBL_INVOICE,
        '@xmlns:cac': CAC,
        '@xmlns:cbc': CBC,
        'cbc:CustomizationID': 'urn:cen.eu:en16931:2017',
        'cbc:ID': invoice.number,
        'cbc:IssueDate': invoice.issueDate,
        ...when(!credit && invoice.dueDate, { 'cbc:DueDate': invoice.dueDate }),
        [`cbc:${credit ? 'CreditNote' : 'Invoice'}TypeCode`]: invoice.typeCode,
        ...when(invoice.note, { 'cbc:Note': invoice.note }),
        'cbc:DocumentCurrencyCode': invoice.currency,
        ...when(invoice.orderReference, { 'cac:OrderReference': { 'cbc:ID': invoice.orderReference } }),
        ...when(invoice.preceding, { 'cac:BillingReference': { 'cac:InvoiceDocumentReference': { 'cbc:ID': invoice.preceding?.number, ...when(invoice.preceding?.date, { 'cbc:IssueDate': invoice.preceding?.date }) } } }), // prettier-ignore
        'cac:AccountingSupplierParty': { 'cac:Party': party(invoice.seller) },
        'cac:AccountingCustomerParty': { 'cac:Party': party(invoice.buyer) },
        ...when(account, { 'cac:PaymentMeans': { 'cbc:PaymentMeansCode': '30', 'cac:PayeeFinancialAccount': { 'cbc:ID': account?.iban, ...when(account?.holder, { 'cbc:Name': account?.holder }), ...when(account?.bic, { 'cac:FinancialInstitutionBranch': { 'cbc:ID': account?.bic } }) } } }), // prettier-ignore
        ...when(invoice.paymentTerms, { 'cac:PaymentTerms': { 'cbc:Note': invoice.paymentTerms } }),
        'cac:AllowanceCharge': invoice.charges.map(one => ({
          'cbc:ChargeIndicator': 'true',
          'cbc:AllowanceChargeReasonCode': one.code,
          'cbc:AllowanceChargeReason': one.reason,
          'cbc:Amount': money(one.amount),
          'cac:TaxCategory': tax(one.category, one.rate),
        })),
        'cac:TaxTotal': {
          'cbc:TaxAmount': money(totals.tax),
          'cac:TaxSubtotal': invoice.taxes.map(one => ({ 'cbc:TaxableAmount': money(one.taxable), 'cbc:TaxAmount': money(one.tax), 'cac:TaxCategory': tax(one.category, one.rate, one.exemption) })), // prettier-ignore
        },
        'cac:LegalMonetaryTotal': {
          'cbc:LineExtensionAmount': money(totals.lines),
          'cbc:TaxExclusiveAmount': money(totals.net),
          'cbc:TaxInclusiveAmount': money(totals.gross),
          ...when(Number(totals.charges) !== 0, { 'cbc:ChargeTotalAmount': money(totals.charges) }),
          'cbc:PayableAmount': money(totals.payable),
        },
        [`cac:${credit ? 'CreditNote' : 'Invoice'}Line`]: invoice.lines.map(line => ({
          'cbc:ID': line.id,
          [`cbc:${credit ? 'Credited' : 'Invoiced'}Quantity`]: { '@unitCode': line.unit, '#': line.quantity },
          'cbc:LineExtensionAmount': money(line.net),
          ...when(line.orderLine, { 'cac:OrderLineReference': { 'cbc:LineID': line.orderLine } }),
          'cac:Item': { 'cbc:Name': line.name, 'cac:ClassifiedTaxCategory': tax(line.category, line.rate) },
          'cac:Price': { 'cbc:PriceAmount': money(line.price), ...when(line.priceBase !== '1', { 'cbc:BaseQuantity': { '@unitCode': line.unit, '#': line.priceBase } }) }, // prettier-ignore
        })),
      },
    },
  ).end({ prettyPrint: true })
}

const party = ({ name, vat, street, city, postalCode, country }: OutgoingParty): Xml => ({
  'cac:PostalAddress': {
    ...when(street, { 'cbc:StreetName': street }),
    ...when(city, { 'cbc:CityName': city }),
    ...when(postalCode, { 'cbc:PostalZone': postalCode }),
    ...when(country, { 'cac:Country': { 'cbc:IdentificationCode': country } }),
  },
  ...when(vat, { 'cac:PartyTaxScheme': { 'cbc:CompanyID': vat, 'cac:TaxScheme': { 'cbc:ID': 'VAT' } } }),
  'cac:PartyLegalEntity': { 'cbc:RegistrationName': name },
})
