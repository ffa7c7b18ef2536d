import { vatOf } from '#demo/world.ts'

/** A small correct UBL invoice to break in tests: two lines, freight, two tax categories, a price base quantity. */
export interface InvoiceParts {
  number: string
  order: string
  vat: string
  lines: string
  extra: string
  totals: string
  doctype: string
  root: string
  declaration: string
  issueDate: string
  currency: string
}

const PARTS: InvoiceParts = {
  number: 'B-0010',
  order: 'O-1',
  vat: vatOf('nordhavn'),
  extra: '',
  doctype: '',
  root: 'urn:oasis:names:specification:ubl:schema:xsd:Invoice-2',
  declaration: '<?xml version="1.0" encoding="UTF-8"?>',
  issueDate: '2026-11-20',
  currency: 'EUR',
  lines: '',
  totals: '',
}

export const invoiceLine = (
  id: string,
  quantity: string,
  unit: string,
  price: string,
  base: string,
  net: string,
  category: string,
  rate: string,
  name: string,
  orderLine = '',
): string =>
  `<cac:InvoiceLine><cbc:ID>${id}</cbc:ID><cbc:InvoicedQuantity unitCode="${unit}">${quantity}</cbc:InvoicedQuantity><cbc:LineExtensionAmount currencyID="EUR">${net}</cbc:LineExtensionAmount>${orderLine ? `<cac:OrderLineReference><cbc:LineID>${orderLine}</cbc:LineID></cac:OrderLineReference>` : ''}<cac:Item><cbc:Name>${name}</cbc:Name><cac:ClassifiedTaxCategory><cbc:ID>${category}</cbc:ID><cbc:Percent>${rate}</cbc:Percent><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:ClassifiedTaxCategory></cac:Item><cac:Price><cbc:PriceAmount currencyID="EUR">${price}</cbc:PriceAmount><cbc:BaseQuantity unitCode="${unit}">${base}</cbc:BaseQuantity></cac:Price></cac:InvoiceLine>`

const TOTALS = `<cac:TaxTotal><cbc:TaxAmount currencyID="EUR">74.45</cbc:TaxAmount><cac:TaxSubtotal><cbc:TaxableAmount currencyID="EUR">354.50</cbc:TaxableAmount><cbc:TaxAmount currencyID="EUR">74.45</cbc:TaxAmount><cac:TaxCategory><cbc:ID>S</cbc:ID><cbc:Percent>21</cbc:Percent></cac:TaxCategory></cac:TaxSubtotal><cac:TaxSubtotal><cbc:TaxableAmount currencyID="EUR">100.00</cbc:TaxableAmount><cbc:TaxAmount currencyID="EUR">0.00</cbc:TaxAmount><cac:TaxCategory><cbc:ID>E</cbc:ID><cbc:Percent>0</cbc:Percent><cbc:TaxExemptionReason>exempt</cbc:TaxExemptionReason></cac:TaxCategory></cac:TaxSubtotal></cac:TaxTotal>
<cac:LegalMonetaryTotal><cbc:LineExtensionAmount currencyID="EUR">419.00</cbc:LineExtensionAmount><cbc:TaxExclusiveAmount currencyID="EUR">454.50</cbc:TaxExclusiveAmount><cbc:TaxInclusiveAmount currencyID="EUR">528.95</cbc:TaxInclusiveAmount><cbc:AllowanceTotalAmount currencyID="EUR">4.50</cbc:AllowanceTotalAmount><cbc:ChargeTotalAmount currencyID="EUR">40.00</cbc:ChargeTotalAmount><cbc:PayableAmount currencyID="EUR">528.95</cbc:PayableAmount></cac:LegalMonetaryTotal>`

const LINES =
  invoiceLine('1', '1000', 'C62', '31.90', '100', '319.00', 'S', '21', 'Hex bolt', '1') +
  invoiceLine('2', '1', 'C62', '100.00', '1', '100.00', 'E', '0', 'Inspection', '2')

const ADJUSTMENTS = `<cac:AllowanceCharge><cbc:ChargeIndicator>true</cbc:ChargeIndicator><cbc:AllowanceChargeReasonCode>FC</cbc:AllowanceChargeReasonCode><cbc:AllowanceChargeReason>Freight</cbc:AllowanceChargeReason><cbc:Amount currencyID="EUR">40.00</cbc:Amount><cac:TaxCategory><cbc:ID>S</cbc:ID><cbc:Percent>21</cbc:Percent></cac:TaxCategory></cac:AllowanceCharge><cac:AllowanceCharge><cbc:ChargeIndicator>false</cbc:ChargeIndicator><cbc:AllowanceChargeReason>Bonus</cbc:AllowanceChargeReason><cbc:Amount currencyID="EUR">4.50</cbc:Amount><cac:TaxCategory><cbc:ID>S</cbc:ID><cbc:Percent>21</cbc:Percent></cac:TaxCategory></cac:AllowanceCharge>`

export function invoiceXml(changed: Partial<InvoiceParts> = {}): string {
  const part = { ...PARTS, ...changed }
  const plain = changed.lines !== undefined
  return `${part.declaration}${part.doctype}<Invoice xmlns="${part.root}" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
<cbc:CustomizationID>urn:cen.eu:en16931:2017</cbc:CustomizationID><cbc:ID>${part.number}</cbc:ID><cbc:IssueDate>${part.issueDate}</cbc:IssueDate><cbc:DueDate>2027-01-20</cbc:DueDate><cbc:InvoiceTypeCode>380</cbc:InvoiceTypeCode><cbc:DocumentCurrencyCode>${part.currency}</cbc:DocumentCurrencyCode><cac:OrderReference><cbc:ID>${part.order}</cbc:ID></cac:OrderReference>
<cac:AccountingSupplierParty><cac:Party><cac:PostalAddress><cac:Country><cbc:IdentificationCode>NO</cbc:IdentificationCode></cac:Country></cac:PostalAddress><cac:PartyTaxScheme><cbc:CompanyID>${part.vat}</cbc:CompanyID><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:PartyTaxScheme><cac:PartyLegalEntity><cbc:RegistrationName>Nordhavn Pumpeverk Ærø</cbc:RegistrationName></cac:PartyLegalEntity></cac:Party></cac:AccountingSupplierParty>
<cac:AccountingCustomerParty><cac:Party><cac:PostalAddress><cac:Country><cbc:IdentificationCode>NL</cbc:IdentificationCode></cac:Country></cac:PostalAddress><cac:PartyLegalEntity><cbc:RegistrationName>Saltmere Aquarium Trust</cbc:RegistrationName><cbc:CompanyID>71717171</cbc:CompanyID></cac:PartyLegalEntity></cac:Party></cac:AccountingCustomerParty>
${plain ? part.extra : ADJUSTMENTS}${plain ? part.totals : TOTALS}${plain ? part.lines : LINES}</Invoice>`
}

/** One line at a plain price, reverse charge, no freight: what most suppliers of the demo would send. */
export function plainInvoice(parts: {
  number: string
  order: string
  vat: string
  quantity: string
  price: string
  net: string
  unit?: string
  name?: string
  orderLine?: string
  issueDate: string
}): string {
  return invoiceXml({
    number: parts.number,
    order: parts.order,
    vat: parts.vat,
    issueDate: parts.issueDate,
    lines: invoiceLine(
      '1',
      parts.quantity,
      parts.unit ?? 'C62',
      parts.price,
      '1',
      parts.net,
      'AE',
      '0',
      parts.name ?? 'What was ordered',
      parts.orderLine ?? '',
    ),
    totals: `<cac:TaxTotal><cbc:TaxAmount currencyID="EUR">0.00</cbc:TaxAmount><cac:TaxSubtotal><cbc:TaxableAmount currencyID="EUR">${parts.net}</cbc:TaxableAmount><cbc:TaxAmount currencyID="EUR">0.00</cbc:TaxAmount><cac:TaxCategory><cbc:ID>AE</cbc:ID><cbc:Percent>0</cbc:Percent><cbc:TaxExemptionReason>Reverse charge</cbc:TaxExemptionReason></cac:TaxCategory></cac:TaxSubtotal></cac:TaxTotal><cac:LegalMonetaryTotal><cbc:LineExtensionAmount currencyID="EUR">${parts.net}</cbc:LineExtensionAmount><cbc:TaxExclusiveAmount currencyID="EUR">${parts.net}</cbc:TaxExclusiveAmount><cbc:TaxInclusiveAmount currencyID="EUR">${parts.net}</cbc:TaxInclusiveAmount><cbc:PayableAmount currencyID="EUR">${parts.net}</cbc:PayableAmount></cac:LegalMonetaryTotal>`,
  })
}

/** The same as a Cross Industry Invoice. */
export function plainCii(parts: Parameters<typeof plainInvoice>[0]): string {
  const { number, order, vat, quantity, price, net, unit = 'C62', name = 'Pump', orderLine = '1', issueDate } = parts
  const standard = 'urn:un:unece:uncefact:data:standard'
  const day = issueDate.replaceAll('-', '')
  const party = (tag: string, called: string, country: string, vatId: string): string => `<ram:${tag}><ram:Name>${called}</ram:Name><ram:SpecifiedLegalOrganization><ram:ID>71717171</ram:ID></ram:SpecifiedLegalOrganization><ram:PostalTradeAddress><ram:CountryID>${country}</ram:CountryID></ram:PostalTradeAddress>${vatId ? `<ram:SpecifiedTaxRegistration><ram:ID schemeID="VA">${vatId}</ram:ID></ram:SpecifiedTaxRegistration>` : ''}</ram:${tag}>` // prettier-ignore
  const tax = (amounts: string): string => `<ram:ApplicableTradeTax>${amounts}<ram:TypeCode>VAT</ram:TypeCode>${amounts ? '<ram:ExemptionReason>Reverse charge</ram:ExemptionReason>' : ''}<ram:CategoryCode>AE</ram:CategoryCode><ram:RateApplicablePercent>0</ram:RateApplicablePercent></ram:ApplicableTradeTax>` // prettier-ignore
  return `<rsm:CrossIndustryInvoice xmlns:rsm="${standard}:CrossIndustryInvoice:100" xmlns:ram="${standard}:ReusableAggregateBusinessInformationEntity:100" xmlns:udt="${standard}:UnqualifiedDataType:100"><rsm:ExchangedDocumentContext><ram:GuidelineSpecifiedDocumentContextParameter><ram:ID>urn:cen.eu:en16931:2017</ram:ID></ram:GuidelineSpecifiedDocumentContextParameter></rsm:ExchangedDocumentContext><rsm:ExchangedDocument><ram:ID>${number}</ram:ID><ram:TypeCode>380</ram:TypeCode><ram:IssueDateTime><udt:DateTimeString format="102">${day}</udt:DateTimeString></ram:IssueDateTime></rsm:ExchangedDocument><rsm:SupplyChainTradeTransaction><ram:IncludedSupplyChainTradeLineItem><ram:AssociatedDocumentLineDocument><ram:LineID>1</ram:LineID></ram:AssociatedDocumentLineDocument><ram:SpecifiedTradeProduct><ram:Name>${name}</ram:Name></ram:SpecifiedTradeProduct><ram:SpecifiedLineTradeAgreement><ram:BuyerOrderReferencedDocument><ram:LineID>${orderLine}</ram:LineID></ram:BuyerOrderReferencedDocument><ram:NetPriceProductTradePrice><ram:ChargeAmount>${price}</ram:ChargeAmount></ram:NetPriceProductTradePrice></ram:SpecifiedLineTradeAgreement><ram:SpecifiedLineTradeDelivery><ram:BilledQuantity unitCode="${unit}">${quantity}</ram:BilledQuantity></ram:SpecifiedLineTradeDelivery><ram:SpecifiedLineTradeSettlement>${tax('')}<ram:SpecifiedTradeSettlementLineMonetarySummation><ram:LineTotalAmount>${net}</ram:LineTotalAmount></ram:SpecifiedTradeSettlementLineMonetarySummation></ram:SpecifiedLineTradeSettlement></ram:IncludedSupplyChainTradeLineItem><ram:ApplicableHeaderTradeAgreement>${party('SellerTradeParty', 'Nordhavn Pumpeverk', 'NO', vat)}${party('BuyerTradeParty', 'Saltmere Aquarium Trust', 'NL', '')}<ram:BuyerOrderReferencedDocument><ram:IssuerAssignedID>${order}</ram:IssuerAssignedID></ram:BuyerOrderReferencedDocument></ram:ApplicableHeaderTradeAgreement><ram:ApplicableHeaderTradeDelivery/><ram:ApplicableHeaderTradeSettlement><ram:InvoiceCurrencyCode>EUR</ram:InvoiceCurrencyCode>${tax(`<ram:CalculatedAmount>0.00</ram:CalculatedAmount>`).replace('<ram:CategoryCode>', `<ram:BasisAmount>${net}</ram:BasisAmount><ram:CategoryCode>`)}<ram:SpecifiedTradePaymentTerms><ram:Description>30 days</ram:Description></ram:SpecifiedTradePaymentTerms><ram:SpecifiedTradeSettlementHeaderMonetarySummation><ram:LineTotalAmount>${net}</ram:LineTotalAmount><ram:TaxBasisTotalAmount>${net}</ram:TaxBasisTotalAmount><ram:TaxTotalAmount currencyID="EUR">0.00</ram:TaxTotalAmount><ram:GrandTotalAmount>${net}</ram:GrandTotalAmount><ram:DuePayableAmount>${net}</ram:DuePayableAmount></ram:SpecifiedTradeSettlementHeaderMonetarySummation></ram:ApplicableHeaderTradeSettlement></rsm:SupplyChainTradeTransaction></rsm:CrossIndustryInvoice>` // prettier-ignore
}
