import { create } from 'xmlbuilder2'
import type { OutgoingInvoice, OutgoingParty } from '#core/bill/outgoing.ts'
import { when } from '#server/formats/ublOrder.ts'

type Xml = Record<string, unknown>
const NAMESPACE = 'urn:un:unece:uncefact:data:standard'

/** A day in format 102 (UNTDID 2379). */
const day = (text: string, kind: 'udt' | 'qdt' = 'udt'): Xml => ({ [`${kind}:DateTimeString`]: { '@format': '102', '#': text.replaceAll('-', '') } }) // prettier-ignore

/** Writes an invoice or credit note as UN/CEFACT Cross Industry Invoice D16B by the syntax binding of EN 16931 (CEN/TS 16931-3-3). */
export function writeCiiInvoice(invoice: OutgoingInvoice): string {
  const { totals, account } = invoice
  const tax = (category: string, rate: string): Xml => ({
    'ram:TypeCode': 'VAT',
    'ram:CategoryCode': category,
    ...when(category !== 'O', { 'ram:RateApplicablePercent': rate }),
  })
  const lines = invoice.lines.map(line => ({
    'ram:AssociatedDocumentLineDocument': { 'ram:LineID': line.id },
    'ram:SpecifiedTradeProduct': { 'ram:Name': line.name },
    'ram:SpecifiedLineTradeAgreement': {
      ...when(line.orderLine, { 'ram:BuyerOrderReferencedDocument': { 'ram:LineID': line.orderLine } }),
      'ram:NetPriceProductTradePrice': { 'ram:ChargeAmount': line.price, ...when(line.priceBase !== '1', { 'ram:BasisQuantity': { '@unitCode': line.unit, '#': line.priceBase } }) }, // prettier-ignore
    },
    'ram:SpecifiedLineTradeDelivery': { 'ram:BilledQuantity': { '@unitCode': line.unit, '#': line.quantity } },
    'ram:SpecifiedLineTradeSettlement': {
      'ram:ApplicableTradeTax': tax(line.category, line.rate),
      'ram:SpecifiedTradeSettlementLineMonetarySummation': { 'ram:LineTotalAmount': line.net },
    },
  }))
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      'rsm:CrossIndustryInvoice': {
        '@xmlns:rsm': `${NAMESPACE}:CrossIndustryInvoice:100`,
        '@xmlns:ram': `${NAMESPACE}:ReusableAggregateBusinessInformationEntity:100`,
        '@xmlns:udt': `${NAMESPACE}:UnqualifiedDataType:100`,
        '@xmlns:qdt': `${NAMESPACE}:QualifiedDataType:100`,
        'rsm:ExchangedDocumentContext': { 'ram:GuidelineSpecifiedDocumentContextParameter': { 'ram:ID': 'urn:cen.eu:en16931:2017' } }, // prettier-ignore
        'rsm:ExchangedDocument': {
          'ram:ID': invoice.number,
          'ram:TypeCode': invoice.typeCode,
          'ram:IssueDateTime': day(invoice.issueDate),
          ...when(invoice.note, { 'ram:IncludedNote': { 'ram:Content': invoice.note } }),
        },
        'rsm:SupplyChainTradeTransaction': {
          'ram:IncludedSupplyChainTradeLineItem': lines,
          'ram:ApplicableHeaderTradeAgreement': {
            'ram:SellerTradeParty': party(invoice.seller),
            'ram:BuyerTradeParty': party(invoice.buyer),
            ...when(invoice.orderReference, { 'ram:BuyerOrderReferencedDocument': { 'ram:IssuerAssignedID': invoice.orderReference } }), // prettier-ignore
          },
          'ram:ApplicableHeaderTradeDelivery': {},
          'ram:ApplicableHeaderTradeSettlement': {
            'ram:InvoiceCurrencyCode': invoice.currency,
            ...when(account, { 'ram:SpecifiedTradeSettlementPaymentMeans': { 'ram:TypeCode': '30', 'ram:PayeePartyCreditorFinancialAccount': { 'ram:IBANID': account?.iban, ...when(account?.holder, { 'ram:AccountName': account?.holder }) }, ...when(account?.bic, { 'ram:PayeeSpecifiedCreditorFinancialInstitution': { 'ram:BICID': account?.bic } }) } }), // prettier-ignore
            'ram:ApplicableTradeTax': invoice.taxes.map(one => ({
              'ram:CalculatedAmount': one.tax,
              'ram:TypeCode': 'VAT',
              ...when(one.exemption?.text, { 'ram:ExemptionReason': one.exemption?.text }),
              'ram:BasisAmount': one.taxable,
              'ram:CategoryCode': one.category,
              ...when(one.exemption?.code, { 'ram:ExemptionReasonCode': one.exemption?.code }),
              ...when(one.category !== 'O', { 'ram:RateApplicablePercent': one.rate }),
            })),
            'ram:SpecifiedTradeAllowanceCharge': invoice.charges.map(one => ({
              'ram:ChargeIndicator': { 'udt:Indicator': 'true' },
              'ram:ActualAmount': one.amount,
              'ram:ReasonCode': one.code,
              'ram:Reason': one.reason,
              'ram:CategoryTradeTax': tax(one.category, one.rate),
            })),
            ...when(invoice.paymentTerms || invoice.dueDate, { 'ram:SpecifiedTradePaymentTerms': { ...when(invoice.paymentTerms, { 'ram:Description': invoice.paymentTerms }), ...when(invoice.dueDate, { 'ram:DueDateDateTime': day(invoice.dueDate) }) } }), // prettier-ignore
            'ram:SpecifiedTradeSettlementHeaderMonetarySummation': {
              'ram:LineTotalAmount': totals.lines,
              ...when(Number(totals.charges) !== 0, { 'ram:ChargeTotalAmount': totals.charges }),
              'ram:TaxBasisTotalAmount': totals.net,
              'ram:TaxTotalAmount': { '@currencyID': invoice.currency, '#': totals.tax },
              'ram:GrandTotalAmount': totals.gross,
              'ram:DuePayableAmount': totals.payable,
            },
            ...when(invoice.preceding, { 'ram:InvoiceReferencedDocument': { 'ram:IssuerAssignedID': invoice.preceding?.number, ...when(invoice.preceding?.date, { 'ram:FormattedIssueDateTime': day(invoice.preceding?.date ?? '', 'qdt') }) } }), // prettier-ignore
          },
        },
      },
    },
  ).end({ prettyPrint: true })
}

const party = ({ name, vat, street, city, postalCode, country }: OutgoingParty): Xml => ({
  'ram:Name': name,
  'ram:PostalTradeAddress': {
    ...when(postalCode, { 'ram:PostcodeCode': postalCode }),
    ...when(street, { 'ram:LineOne': street }),
    ...when(city, { 'ram:CityName': city }),
    ...when(country, { 'ram:CountryID': country }),
  },
  ...when(vat, { 'ram:SpecifiedTaxRegistration': { 'ram:ID': { '@schemeID': 'VA', '#': vat } } }),
})
