import type {
  AddressText,
  Adjustment,
  InvoiceLineText,
  InvoiceParty,
  InvoiceText,
  PaymentText,
  PeriodText,
  PlacedText,
  SchemedText,
  TaxSubtotal,
} from '#core/bill/invoiceText.ts'
import { childrenOf, find, parseXml, textAt, withoutForeign, type XmlElement } from '#core/formats/xml.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

const CII = 'urn:un:unece:uncefact:data:standard:'
export const CII_INVOICE = `${CII}CrossIndustryInvoice:100`
/** The document of the first ZUGFeRD, of the same vocabulary in an earlier issue. */
const FIRST = 'urn:ferd:CrossIndustryDocument:invoice:1p0'
const OWN = [CII, 'urn:ferd:']

/** Whether a document is a UN/CEFACT Cross Industry Invoice by its root: D16B, D22B (both :100), or the first ZUGFeRD. */
export const isCiiInvoice = ({ name, namespace }: XmlElement): boolean =>
  (name === 'CrossIndustryInvoice' && namespace === CII_INVOICE) ||
  (name === 'CrossIndustryDocument' && namespace === FIRST)

/** The first of several names that an element has had over the issues. */
const either = (element: XmlElement | undefined, ...names: string[]): XmlElement | undefined =>
  names.map(name => find(element, name)).find(one => one !== undefined)

/**
 * Reads a UN/CEFACT Cross Industry Invoice by the syntax binding of EN 16931 (CEN/TS 16931-3-3). Nothing is computed or corrected; a date in format
 * 102 is said as YYYY-MM-DD.
 *
 * @throws RuleBroken xml.* | bill.notAnInvoice where the root is another document or namespace
 */
export function readCiiInvoice(document: string | XmlElement): InvoiceText {
  const whole = typeof document === 'string' ? parseXml(document) : document
  if (!isCiiInvoice(whole)) throw new RuleBroken(stop('bill.notAnInvoice', { root: whole.name.slice(0, 40), namespace: whole.namespace.slice(0, 80) || 'none' })) // prettier-ignore
  const { element: root, foreign } = withoutForeign(whole, child => OWN.some(own => child.namespace.startsWith(own)))
  const context = either(root, 'ExchangedDocumentContext', 'SpecifiedExchangedDocumentContext')
  const head = either(root, 'ExchangedDocument', 'HeaderExchangedDocument')
  const trade = either(root, 'SupplyChainTradeTransaction', 'SpecifiedSupplyChainTradeTransaction')
  const agreement = either(trade, 'ApplicableHeaderTradeAgreement', 'ApplicableSupplyChainTradeAgreement')
  const delivery = either(trade, 'ApplicableHeaderTradeDelivery', 'ApplicableSupplyChainTradeDelivery')
  const settlement = either(trade, 'ApplicableHeaderTradeSettlement', 'ApplicableSupplyChainTradeSettlement')
  const sums = either(settlement, 'SpecifiedTradeSettlementHeaderMonetarySummation', 'SpecifiedTradeSettlementMonetarySummation') // prettier-ignore
  const currency = textAt(settlement, 'InvoiceCurrencyCode')
  const taxCurrency = textAt(settlement, 'TaxCurrencyCode')
  const taxes = childrenOf(settlement, 'ApplicableTradeTax')
  const taxTotals = childrenOf(sums, 'TaxTotalAmount')
  const ofCurrency = (wanted: string): XmlElement | undefined => taxTotals.find(total => total.attributes.currencyID === wanted) // prettier-ignore
  const taxTotal = ofCurrency(currency) ?? taxTotals.find(total => total.attributes.currencyID === undefined)
  const references = childrenOf(agreement, 'AdditionalReferencedDocument')
  const ofType = (code: string): XmlElement | undefined => references.find(one => textAt(one, 'TypeCode') === code)
  const terms = childrenOf(settlement, 'SpecifiedTradePaymentTerms')
  const payments = paymentsOf(settlement, terms)
  const shipTo = find(delivery, 'ShipToTradeParty')
  const deliveredOn = find(delivery, 'ActualDeliverySupplyChainEvent', 'OccurrenceDateTime')
  return {
    syntax: 'cii',
    customizationId: textAt(context, 'GuidelineSpecifiedDocumentContextParameter', 'ID'),
    processId: textAt(context, 'BusinessProcessSpecifiedDocumentContextParameter', 'ID'),
    number: textAt(head, 'ID'),
    typeCode: textAt(head, 'TypeCode'),
    issueDate: dateOf(find(head, 'IssueDateTime')),
    dueDate: terms.map(one => dateOf(find(one, 'DueDateDateTime'))).find(Boolean) ?? '',
    taxPointDate: taxes.map(one => dateOf(find(one, 'TaxPointDate'))).find(Boolean) ?? '',
    taxPointCode: taxes.map(one => textAt(one, 'DueDateTypeCode')).find(Boolean) ?? '',
    currency,
    taxCurrency,
    buyerReference: textAt(agreement, 'BuyerReference'),
    project: textAt(agreement, 'SpecifiedProcuringProject', 'ID'),
    contract: referenced(agreement, 'ContractReferencedDocument'),
    orderReference: referenced(agreement, 'BuyerOrderReferencedDocument'),
    salesOrder: referenced(agreement, 'SellerOrderReferencedDocument'),
    receivingAdvice: referenced(delivery, 'ReceivingAdviceReferencedDocument'),
    despatchAdvice: referenced(delivery, 'DespatchAdviceReferencedDocument'),
    tender: numberOf(ofType('50')),
    object: { id: numberOf(ofType('130')), scheme: textAt(ofType('130'), 'ReferenceTypeCode') },
    accounting: textAt(settlement, 'ReceivableSpecifiedTradeAccountingAccount', 'ID'),
    paymentTerms: terms.map(one => textAt(one, 'Description')).filter(Boolean).join('\n'), // prettier-ignore
    notes: childrenOf(head, 'IncludedNote').map(one => ({ subject: textAt(one, 'SubjectCode'), text: textAt(one, 'Content') })), // prettier-ignore
    preceding: childrenOf(settlement, 'InvoiceReferencedDocument').map(one => ({ number: numberOf(one), date: dateOf(find(one, 'FormattedIssueDateTime')) })), // prettier-ignore
    seller: readParty(find(agreement, 'SellerTradeParty')),
    buyer: readParty(find(agreement, 'BuyerTradeParty')),
    payee: optional(find(settlement, 'PayeeTradeParty'), readParty),
    representative: optional(find(agreement, 'SellerTaxRepresentativeTradeParty'), readParty),
    creditorId: textAt(settlement, 'CreditorReferenceID'),
    delivery:
      shipTo || deliveredOn
        ? {
            name: textAt(shipTo, 'Name'),
            location: idsOf(shipTo)[0] ?? { id: '', scheme: '' },
            date: dateOf(deliveredOn),
            address: optional(find(shipTo, 'PostalTradeAddress'), readAddress),
          }
        : null,
    period: optional(find(settlement, 'BillingSpecifiedPeriod'), readPeriod),
    payments,
    iban: payments.flatMap(payment => payment.accounts.map(account => account.id))[0] ?? '',
    lines: childrenOf(trade, 'IncludedSupplyChainTradeLineItem').map(readLine),
    adjustments: childrenOf(settlement, 'SpecifiedTradeAllowanceCharge').map(readAdjustment),
    taxes: taxes.map(readTax),
    documents: references.filter(one => !['50', '130'].includes(textAt(one, 'TypeCode'))).map(readDocument),
    totals: {
      lines: textAt(sums, 'LineTotalAmount'),
      allowances: textAt(sums, 'AllowanceTotalAmount'),
      charges: textAt(sums, 'ChargeTotalAmount'),
      net: textAt(sums, 'TaxBasisTotalAmount'),
      tax: taxTotal?.text.trim() ?? '',
      gross: textAt(sums, 'GrandTotalAmount'),
      prepaid: textAt(sums, 'TotalPrepaidAmount'),
      rounding: textAt(sums, 'RoundingAmount'),
      payable: textAt(sums, 'DuePayableAmount'),
    },
    taxAccounting: taxCurrency === '' || taxCurrency === currency ? '' : (ofCurrency(taxCurrency)?.text.trim() ?? ''),
    dates: datesOf(root, ''),
    currencies: currenciesOf(root, '', taxCurrency),
    foreign,
    empty: emptyOf(root, ''),
  }
}

const optional = <T>(element: XmlElement | undefined, read: (element: XmlElement) => T): T | null =>
  element ? read(element) : null

const numberOf = (document: XmlElement | undefined): string =>
  textAt(document, 'IssuerAssignedID') || textAt(document, 'ID')
const referenced = (element: XmlElement | undefined, name: string): string => numberOf(find(element, name))

/** A date in format 102 (UNTDID 2379: CCYYMMDD) as YYYY-MM-DD; whatever else it says as it stands. */
function dateOf(element: XmlElement | undefined): string {
  const inside = either(element, 'DateTimeString', 'DateString')
  const text = (inside ?? element)?.text.trim() ?? ''
  const [, year, month, day] = /^(\d{4})(\d{2})(\d{2})$/.exec(text) ?? []
  return year && (inside?.attributes.format ?? '102') === '102' ? `${year}-${month}-${day}` : text
}

interface Placed {
  readonly child: XmlElement
  readonly place: string
}
const REPEATED = new Set(['IncludedSupplyChainTradeLineItem', 'SpecifiedTradeAllowanceCharge', 'ApplicableTradeTax'])
/** A place in the document as its rules name it: repeated elements are counted from one. */
function placesOf(element: XmlElement, place: string): Placed[] {
  const seen = new Map<string, number>()
  return element.children.map(child => {
    const count = (seen.get(child.name) ?? 0) + 1
    seen.set(child.name, count)
    const name = REPEATED.has(child.name) ? `${child.name}[${count}]` : child.name
    return { child, place: place === '' ? name : `${place}/${name}` }
  })
}
const datesOf = (element: XmlElement, place: string): PlacedText[] =>
  placesOf(element, place).flatMap(
    one =>
    /(DateTimeString|DateString)$/.test(one.child.name) ? [{ place, text: dateOf({ ...element, children: [one.child] }) }] : datesOf(one.child, one.place), // prettier-ignore
  )
/** The currency of every amount; the VAT in the accounting currency has its own (BT-111). */
const currenciesOf = (element: XmlElement, place: string, accounting: string): PlacedText[] =>
  placesOf(element, place).flatMap(one => {
    const own = one.child.attributes.currencyID
    if (own !== undefined && one.child.name === 'TaxTotalAmount' && own === accounting) return []
    return [...(own === undefined ? [] : [{ place: one.place, text: own }]), ...currenciesOf(one.child, one.place, accounting)] // prettier-ignore
  })
const emptyOf = (element: XmlElement, place: string): string[] =>
  placesOf(element, place).flatMap(one =>
    one.child.children.length === 0 ? (one.child.text.trim() === '' ? [one.place] : []) : emptyOf(one.child, one.place),
  )

const schemed = (element: XmlElement): SchemedText => ({
  id: element.text.trim(),
  scheme: element.attributes.schemeID ?? '',
})
const idsOf = (party: XmlElement | undefined): SchemedText[] => [
  ...childrenOf(party, 'GlobalID').map(schemed),
  ...childrenOf(party, 'ID').map(schemed),
]

function readParty(party: XmlElement | undefined): InvoiceParty {
  const organization = find(party, 'SpecifiedLegalOrganization')
  const registrations = childrenOf(party, 'SpecifiedTaxRegistration').map(one => find(one, 'ID'))
  const ofScheme = (scheme: string): string => registrations.find(one => one?.attributes.schemeID === scheme)?.text.trim() ?? '' // prettier-ignore
  const contact = find(party, 'DefinedTradeContact')
  const endpoint = find(party, 'URIUniversalCommunication', 'URIID')
  const address = optional(find(party, 'PostalTradeAddress'), readAddress)
  return {
    name: textAt(party, 'Name'),
    tradingName: textAt(organization, 'TradingBusinessName'),
    country: address?.country ?? '',
    vatId: ofScheme('VA'),
    taxId: ofScheme('FC'),
    registrationId: textAt(organization, 'ID'),
    registrationScheme: find(organization, 'ID')?.attributes.schemeID ?? '',
    legal: textAt(party, 'Description'),
    endpointId: endpoint?.text.trim() ?? '',
    endpointScheme: endpoint?.attributes.schemeID ?? '',
    ids: idsOf(party),
    address,
    contact: contact
      ? {
          name: textAt(contact, 'PersonName') || textAt(contact, 'DepartmentName'),
          phone: textAt(contact, 'TelephoneUniversalCommunication', 'CompleteNumber'),
          email: textAt(contact, 'EmailURIUniversalCommunication', 'URIID'),
        }
      : null,
  }
}

const readAddress = (address: XmlElement): AddressText => ({
  lines: ['LineOne', 'LineTwo', 'LineThree'].map(name => textAt(address, name)).filter(Boolean),
  city: textAt(address, 'CityName'),
  post: textAt(address, 'PostcodeCode'),
  region: textAt(address, 'CountrySubDivisionName'),
  country: textAt(address, 'CountryID'),
})
const readPeriod = (period: XmlElement): PeriodText => ({
  from: dateOf(find(period, 'StartDateTime')),
  to: dateOf(find(period, 'EndDateTime')),
})

function paymentsOf(settlement: XmlElement | undefined, terms: readonly XmlElement[]): PaymentText[] {
  const mandate = terms.map(one => textAt(one, 'DirectDebitMandateID')).find(Boolean) ?? ''
  const remittance = textAt(settlement, 'PaymentReference')
  return childrenOf(settlement, 'SpecifiedTradeSettlementPaymentMeans').map(means => {
    const debited = textAt(means, 'PayerPartyDebtorFinancialAccount', 'IBANID')
    return {
      code: textAt(means, 'TypeCode'),
      text: textAt(means, 'Information'),
      remittance,
      accounts: childrenOf(means, 'PayeePartyCreditorFinancialAccount').map(one => ({ id: textAt(one, 'IBANID') || textAt(one, 'ProprietaryID'), name: textAt(one, 'AccountName'), bic: textAt(means, 'PayeeSpecifiedCreditorFinancialInstitution', 'BICID') })), // prettier-ignore
      cards: childrenOf(means, 'ApplicableTradeSettlementFinancialCard').map(one => ({ number: textAt(one, 'ID'), holder: textAt(one, 'CardholderName') })), // prettier-ignore
      mandates: debited !== '' || (mandate !== '' && DIRECT_DEBIT.has(textAt(means, 'TypeCode'))) ? [{ id: mandate, account: debited }] : [], // prettier-ignore
    }
  })
}
/** Payment means by which the seller draws (UNTDID 4461). */
const DIRECT_DEBIT = new Set(['49', '59'])

function readDocument(document: XmlElement) {
  const object = find(document, 'AttachmentBinaryObject')
  return {
    id: numberOf(document),
    description: textAt(document, 'Name'),
    address: textAt(document, 'URIID'),
    mediaType: object?.attributes.mimeCode ?? '',
    fileName: object?.attributes.filename ?? '',
  }
}

function readLine(line: XmlElement): InvoiceLineText {
  const product = find(line, 'SpecifiedTradeProduct')
  const agreement = either(line, 'SpecifiedLineTradeAgreement', 'SpecifiedSupplyChainTradeAgreement')
  const delivery = either(line, 'SpecifiedLineTradeDelivery', 'SpecifiedSupplyChainTradeDelivery')
  const settlement = either(line, 'SpecifiedLineTradeSettlement', 'SpecifiedSupplyChainTradeSettlement')
  const sums = either(settlement, 'SpecifiedTradeSettlementLineMonetarySummation', 'SpecifiedTradeSettlementMonetarySummation') // prettier-ignore
  const net = find(agreement, 'NetPriceProductTradePrice')
  const gross = find(agreement, 'GrossPriceProductTradePrice')
  const base = find(net, 'BasisQuantity') ?? find(gross, 'BasisQuantity')
  const tax = find(settlement, 'ApplicableTradeTax')
  const standard = find(product, 'GlobalID')
  return {
    id: textAt(line, 'AssociatedDocumentLineDocument', 'LineID'),
    note: textAt(line, 'AssociatedDocumentLineDocument', 'IncludedNote', 'Content'),
    objectId: referenced(settlement, 'AdditionalReferencedDocument'),
    name: textAt(product, 'Name'),
    description: textAt(product, 'Description'),
    quantity: textAt(delivery, 'BilledQuantity'),
    unit: find(delivery, 'BilledQuantity')?.attributes.unitCode ?? '',
    price: textAt(net, 'ChargeAmount'),
    grossPrice: textAt(gross, 'ChargeAmount'),
    priceDiscount: textAt(gross, 'AppliedTradeAllowanceCharge', 'ActualAmount'),
    priceBase: base?.text.trim() || '1',
    priceBaseUnit: base?.attributes.unitCode ?? '',
    net: textAt(sums, 'LineTotalAmount'),
    category: textAt(tax, 'CategoryCode'),
    rate: rateOf(tax),
    accounting: textAt(settlement, 'ReceivableSpecifiedTradeAccountingAccount', 'ID'),
    period: optional(find(settlement, 'BillingSpecifiedPeriod'), readPeriod),
    orderLineReference: textAt(agreement, 'BuyerOrderReferencedDocument', 'LineID'),
    sellerItemId: textAt(product, 'SellerAssignedID'),
    buyerItemId: textAt(product, 'BuyerAssignedID'),
    standardItemId: standard ? schemed(standard) : { id: '', scheme: '' },
    classifications: childrenOf(product, 'DesignatedProductClassification').map(one => ({ code: textAt(one, 'ClassCode'), list: find(one, 'ClassCode')?.attributes.listID ?? '', version: find(one, 'ClassCode')?.attributes.listVersionID ?? '' })), // prettier-ignore
    country: textAt(product, 'OriginTradeCountry', 'ID'),
    attributes: childrenOf(product, 'ApplicableProductCharacteristic').map(one => ({ name: textAt(one, 'Description'), value: textAt(one, 'Value') })), // prettier-ignore
    adjustments: childrenOf(settlement, 'SpecifiedTradeAllowanceCharge').map(readAdjustment),
  }
}

const rateOf = (tax: XmlElement | undefined): string =>
  textAt(tax, 'RateApplicablePercent') || textAt(tax, 'ApplicablePercent')

function readAdjustment(element: XmlElement): Adjustment {
  const tax = find(element, 'CategoryTradeTax')
  return {
    charge: ['true', '1'].includes(textAt(element, 'ChargeIndicator', 'Indicator') || textAt(element, 'ChargeIndicator')), // prettier-ignore
    amount: textAt(element, 'ActualAmount'),
    base: textAt(element, 'BasisAmount'),
    percent: textAt(element, 'CalculationPercent'),
    reason: textAt(element, 'Reason'),
    reasonCode: textAt(element, 'ReasonCode'),
    category: textAt(tax, 'CategoryCode'),
    rate: rateOf(tax),
  }
}

const readTax = (tax: XmlElement): TaxSubtotal => ({
  taxable: textAt(tax, 'BasisAmount'),
  tax: textAt(tax, 'CalculatedAmount'),
  category: textAt(tax, 'CategoryCode'),
  rate: rateOf(tax),
  exemptionReason: textAt(tax, 'ExemptionReason') || textAt(tax, 'ExemptionReasonCode'),
  exemptionCode: textAt(tax, 'ExemptionReasonCode'),
})
