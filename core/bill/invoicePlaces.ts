import type { InvoiceText } from '#core/bill/invoiceText.ts'
import { table } from '#core/text/table.ts'

/** What the elements of UBL are called in a Cross Industry Invoice, as far as rules name them. */
const IN_CII: Readonly<Record<string, string>> = table({
  CustomizationID: 'GuidelineSpecifiedDocumentContextParameter/ID',
  ProfileID: 'BusinessProcessSpecifiedDocumentContextParameter/ID',
  ID: 'ExchangedDocument/ID',
  IssueDate: 'IssueDateTime',
  InvoiceTypeCode: 'ExchangedDocument/TypeCode',
  DocumentCurrencyCode: 'InvoiceCurrencyCode',
  TaxCurrencyCode: 'TaxCurrencyCode',
  DueDate: 'SpecifiedTradePaymentTerms/DueDateDateTime',
  AccountingSupplierParty: 'SellerTradeParty',
  AccountingCustomerParty: 'BuyerTradeParty',
  PayeeParty: 'PayeeTradeParty',
  TaxRepresentativeParty: 'SellerTaxRepresentativeTradeParty',
  PostalAddress: 'PostalTradeAddress',
  Country: 'CountryID',
  CityName: 'CityName',
  PostalZone: 'PostcodeCode',
  PartyTaxScheme: 'SpecifiedTaxRegistration',
  PartyLegalEntity: 'SpecifiedLegalOrganization',
  EndpointID: 'URIUniversalCommunication/URIID',
  Contact: 'DefinedTradeContact',
  Delivery: 'ShipToTradeParty',
  InvoicePeriod: 'BillingSpecifiedPeriod',
  PaymentMeans: 'SpecifiedTradeSettlementPaymentMeans',
  PayeeFinancialAccount: 'PayeePartyCreditorFinancialAccount',
  CardAccount: 'ApplicableTradeSettlementFinancialCard',
  PaymentMandate: 'DirectDebitMandateID',
  PaymentTerms: 'SpecifiedTradePaymentTerms',
  AllowanceCharge: 'SpecifiedTradeAllowanceCharge',
  Amount: 'ActualAmount',
  BaseAmount: 'BasisAmount',
  MultiplierFactorNumeric: 'CalculationPercent',
  TaxTotal: 'TaxTotalAmount',
  TaxSubtotal: 'ApplicableTradeTax',
  TaxableAmount: 'BasisAmount',
  TaxAmount: 'CalculatedAmount',
  Percent: 'RateApplicablePercent',
  LineExtensionAmount: 'LineTotalAmount',
  TaxExclusiveAmount: 'TaxBasisTotalAmount',
  TaxInclusiveAmount: 'GrandTotalAmount',
  PayableAmount: 'DuePayableAmount',
  PayableRoundingAmount: 'RoundingAmount',
  PrepaidAmount: 'TotalPrepaidAmount',
  InvoiceLine: 'IncludedSupplyChainTradeLineItem',
  InvoicedQuantity: 'BilledQuantity',
  BaseQuantity: 'BasisQuantity',
  PriceAmount: 'NetPriceProductTradePrice/ChargeAmount',
  Item: 'SpecifiedTradeProduct',
  AdditionalDocumentReference: 'AdditionalReferencedDocument',
  BillingReference: 'InvoiceReferencedDocument',
  Note: 'IncludedNote',
})

/** A place that was read out of a Cross Industry Invoice is called as it stands there. */
const OWN_ROOTS = /^(?:ExchangedDocument|SupplyChainTrade|HeaderExchanged|Specified(?:Exchanged|SupplyChain))/

/** A place as the document's own syntax calls it. placeIn('cii', 'InvoiceLine[2]/PriceAmount') //=> 'IncludedSupplyChainTradeLineItem[2]/NetPriceProductTradePrice/ChargeAmount' */
export function placeIn(syntax: InvoiceText['syntax'], place: string): string {
  if (syntax === 'ubl' || OWN_ROOTS.test(place)) return place
  return place
    .split('/')
    .map(part => {
      const [name, index] = part.split('[')
      const known = IN_CII[name!]
      return known === undefined ? part : index === undefined ? known : `${known}[${index}`
    })
    .join('/')
}
