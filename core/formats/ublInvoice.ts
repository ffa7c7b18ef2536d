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

export const UBL_INVOICE = 'urn:oasis:names:specification:ubl:schema:xsd:Invoice-2'
export const UBL_CREDIT_NOTE = 'urn:oasis:names:specification:ubl:schema:xsd:CreditNote-2'
const COMPONENTS = 'urn:oasis:names:specification:ubl:schema:xsd:Common'
/** Vocabularies that a UBL document is written in; what stands in an extension is anybody's. */
const OWN = new Set([`${COMPONENTS}BasicComponents-2`, `${COMPONENTS}AggregateComponents-2`])
const EXTENSIONS = `${COMPONENTS}ExtensionComponents-2`

/** Whether a document is a UBL invoice or credit note by its root. */
export const isUblInvoice = ({ name, namespace }: XmlElement): boolean =>
  (name === 'Invoice' && namespace === UBL_INVOICE) || (name === 'CreditNote' && namespace === UBL_CREDIT_NOTE)

/**
 * Reads a UBL 2.1 Invoice or CreditNote by the syntax binding of EN 16931 (CEN/TS 16931-3-2). Nothing is computed or corrected: what the
 * document says is returned as text, for core/bill/en16931 to check.
 *
 * @throws RuleBroken xml.* | bill.notAnInvoice where the root is another document or namespace
 */
export function readUblInvoice(document: string | XmlElement): InvoiceText {
  const whole = typeof document === 'string' ? parseXml(document) : document
  if (!isUblInvoice(whole))
    throw new RuleBroken(
      stop('bill.notAnInvoice', {
        root: whole.name.slice(0, 40),
        namespace: whole.namespace.slice(0, 80) || 'none',
      }),
    )
  const { element: root, foreign } = withoutForeign(whole, child => OWN.has(child.namespace), EXTENSIONS)
  const totals = find(root, 'LegalMonetaryTotal')
  const currency = textAt(root, 'DocumentCurrencyCode')
  const taxCurrency = textAt(root, 'TaxCurrencyCode')
  const taxTotals = childrenOf(root, 'TaxTotal')
  const taxTotal = taxTotals.find(total => find(total, 'TaxAmount')?.attributes.currencyID === currency) ?? taxTotals[0]
  const accountingTotal = taxTotals.find(total => total !== taxTotal && find(total, 'TaxAmount')?.attributes.currencyID === taxCurrency) // prettier-ignore
  const credit = root.name === 'CreditNote'
  const payments = childrenOf(root, 'PaymentMeans').map(readPayment)
  const references = childrenOf(root, 'AdditionalDocumentReference')
  const ofType = (code: string): XmlElement | undefined => references.find(one => textAt(one, 'DocumentTypeCode') === code) // prettier-ignore
  const seller = find(root, 'AccountingSupplierParty', 'Party')
  const payee = find(root, 'PayeeParty')
  const delivery = find(root, 'Delivery')
  return {
    syntax: 'ubl',
    customizationId: textAt(root, 'CustomizationID'),
    processId: textAt(root, 'ProfileID'),
    number: textAt(root, 'ID'),
    typeCode: textAt(root, credit ? 'CreditNoteTypeCode' : 'InvoiceTypeCode'),
    issueDate: textAt(root, 'IssueDate'),
    dueDate: credit ? textAt(root, 'PaymentMeans', 'PaymentDueDate') : textAt(root, 'DueDate'),
    taxPointDate: textAt(root, 'TaxPointDate'),
    taxPointCode: textAt(root, 'InvoicePeriod', 'DescriptionCode'),
    currency,
    taxCurrency,
    buyerReference: textAt(root, 'BuyerReference'),
    project: textAt(root, 'ProjectReference', 'ID') || textAt(ofType('50'), 'ID'),
    contract: textAt(root, 'ContractDocumentReference', 'ID'),
    orderReference: textAt(root, 'OrderReference', 'ID'),
    salesOrder: textAt(root, 'OrderReference', 'SalesOrderID'),
    receivingAdvice: textAt(root, 'ReceiptDocumentReference', 'ID'),
    despatchAdvice: textAt(root, 'DespatchDocumentReference', 'ID'),
    tender: textAt(root, 'OriginatorDocumentReference', 'ID'),
    object: schemed(find(ofType('130'), 'ID')),
    accounting: textAt(root, 'AccountingCost'),
    paymentTerms: textAt(root, 'PaymentTerms', 'Note'),
    notes: childrenOf(root, 'Note').map(readNote),
    preceding: childrenOf(root, 'BillingReference').map(one => ({ number: textAt(one, 'InvoiceDocumentReference', 'ID'), date: textAt(one, 'InvoiceDocumentReference', 'IssueDate') })), // prettier-ignore
    seller: readParty(seller),
    buyer: readParty(find(root, 'AccountingCustomerParty', 'Party')),
    payee: payee ? payeeOf(payee) : null,
    representative: find(root, 'TaxRepresentativeParty') ? readRepresentative(find(root, 'TaxRepresentativeParty')!) : null, // prettier-ignore
    creditorId: creditorOf(seller) || creditorOf(payee),
    delivery: delivery
      ? {
          name: textAt(delivery, 'DeliveryParty', 'PartyName', 'Name'),
          location: schemed(find(delivery, 'DeliveryLocation', 'ID')),
          date: textAt(delivery, 'ActualDeliveryDate'),
          address: readAddress(find(delivery, 'DeliveryLocation', 'Address')),
        }
      : null,
    period: readPeriod(find(root, 'InvoicePeriod')),
    payments,
    iban: payments.flatMap(payment => payment.accounts.map(account => account.id))[0] ?? '',
    lines: childrenOf(root, credit ? 'CreditNoteLine' : 'InvoiceLine').map(readLine),
    adjustments: childrenOf(root, 'AllowanceCharge').map(readAdjustment),
    taxes: childrenOf(taxTotal, 'TaxSubtotal').map(readTax),
    documents: references.filter(one => !['50', '130'].includes(textAt(one, 'DocumentTypeCode'))).map(readDocument),
    totals: {
      lines: textAt(totals, 'LineExtensionAmount'),
      allowances: textAt(totals, 'AllowanceTotalAmount'),
      charges: textAt(totals, 'ChargeTotalAmount'),
      net: textAt(totals, 'TaxExclusiveAmount'),
      tax: textAt(taxTotal, 'TaxAmount'),
      gross: textAt(totals, 'TaxInclusiveAmount'),
      prepaid: textAt(totals, 'PrepaidAmount'),
      rounding: textAt(totals, 'PayableRoundingAmount'),
      payable: textAt(totals, 'PayableAmount'),
    },
    taxAccounting: textAt(accountingTotal, 'TaxAmount'),
    dates: datesOf(root, ''),
    currencies: currenciesOf(root, ''),
    foreign,
    empty: emptyOf(root, ''),
  }
}

/** A place in the document as its rules name it: repeated elements are counted from one. */
const placesOf = (element: XmlElement, place: string): { child: XmlElement; place: string }[] => {
  const counts = new Map<string, number>()
  for (const { name } of element.children) counts.set(name, (counts.get(name) ?? 0) + 1)
  const seen = new Map<string, number>()
  return element.children.map(child => {
    const count = (seen.get(child.name) ?? 0) + 1
    seen.set(child.name, count)
    const name = counts.get(child.name)! > 1 || REPEATED.has(child.name) ? `${child.name}[${count}]` : child.name
    return { child, place: place === '' ? name : `${place}/${name}` }
  })
}
const REPEATED = new Set(['InvoiceLine', 'CreditNoteLine', 'AllowanceCharge', 'TaxSubtotal'])

/** Every date field: in UBL their names end so and nothing else's do (UBL 2.1, 7.5: UDT Date). */
const datesOf = (element: XmlElement, place: string): PlacedText[] =>
  placesOf(element, place).flatMap(one =>
    one.child.name.endsWith('Date') && one.child.children.length === 0
      ? [{ place: one.place, text: one.child.text.trim() }]
      : datesOf(one.child, one.place),
  )

/** The currency of every amount. A second tax total, in the accounting currency (BT-111), has its own. */
function currenciesOf(element: XmlElement, place: string): PlacedText[] {
  const inAccounting = (child: XmlElement): boolean => {
    if (child.name !== 'TaxTotal') return false
    const accounting = textAt(element, 'TaxCurrencyCode')
    return accounting !== '' && accounting !== textAt(element, 'DocumentCurrencyCode') && find(child, 'TaxAmount')?.attributes.currencyID === accounting // prettier-ignore
  }
  return placesOf(element, place).flatMap(one => {
    if (inAccounting(one.child)) return []
    const own = one.child.attributes.currencyID
    return [...(own === undefined ? [] : [{ place: one.place, text: own }]), ...currenciesOf(one.child, one.place)]
  })
}

/** Elements that hold neither text nor others. */
const emptyOf = (element: XmlElement, place: string): string[] =>
  placesOf(element, place).flatMap(one =>
    one.child.children.length === 0 ? (one.child.text.trim() === '' ? [one.place] : []) : emptyOf(one.child, one.place),
  )

const schemed = (element: XmlElement | undefined): SchemedText => ({
  id: element?.text.trim() ?? '',
  scheme: element?.attributes.schemeID ?? '',
})

/** A note begins with its subject between number signs, where it has one (BT-21). */
function readNote(note: XmlElement): { subject: string; text: string } {
  const text = note.text.trim()
  const [, subject = '', rest = text] = /^#([A-Z]{3})#([^]*)$/.exec(text) ?? []
  return { subject, text: rest }
}

const VAT_SCHEME = 'VAT'
/** What banks call a creditor stands among the identifiers of its party (BT-90). */
const CREDITOR_SCHEME = 'SEPA'
const creditorOf = (party: XmlElement | undefined): string =>
  idsOf(party).find(one => one.scheme === CREDITOR_SCHEME)?.id ?? ''
const idsOf = (party: XmlElement | undefined): SchemedText[] =>
  childrenOf(party, 'PartyIdentification').map(one => schemed(find(one, 'ID')))

function readParty(party: XmlElement | undefined): InvoiceParty {
  const schemes = childrenOf(party, 'PartyTaxScheme')
  const isVat = (one: XmlElement): boolean => textAt(one, 'TaxScheme', 'ID') === VAT_SCHEME
  const contact = find(party, 'Contact')
  const address = readAddress(find(party, 'PostalAddress'))
  return {
    name: textAt(party, 'PartyLegalEntity', 'RegistrationName'),
    tradingName: textAt(party, 'PartyName', 'Name'),
    country: address?.country ?? '',
    vatId: textAt(schemes.find(isVat), 'CompanyID'),
    taxId: textAt(schemes.find(one => !isVat(one)), 'CompanyID'), // prettier-ignore
    registrationId: textAt(party, 'PartyLegalEntity', 'CompanyID'),
    registrationScheme: find(party, 'PartyLegalEntity', 'CompanyID')?.attributes.schemeID ?? '',
    legal: textAt(party, 'PartyLegalEntity', 'CompanyLegalForm'),
    endpointId: textAt(party, 'EndpointID'),
    endpointScheme: find(party, 'EndpointID')?.attributes.schemeID ?? '',
    ids: idsOf(party).filter(one => one.scheme !== CREDITOR_SCHEME),
    address,
    contact: contact ? { name: textAt(contact, 'Name'), phone: textAt(contact, 'Telephone'), email: textAt(contact, 'ElectronicMail') } : null, // prettier-ignore
  }
}
/** A payee has no legal name of its own (BT-59), nor has a representative (BT-62). */
const payeeOf = (party: XmlElement): InvoiceParty => ({ ...readParty(party), name: textAt(party, 'PartyName', 'Name') })
const readRepresentative = payeeOf

function readAddress(address: XmlElement | undefined): AddressText | null {
  if (!address) return null
  return {
    lines: [textAt(address, 'StreetName'), textAt(address, 'AdditionalStreetName'), textAt(address, 'AddressLine', 'Line')].filter(Boolean), // prettier-ignore
    city: textAt(address, 'CityName'),
    post: textAt(address, 'PostalZone'),
    region: textAt(address, 'CountrySubentity'),
    country: textAt(address, 'Country', 'IdentificationCode'),
  }
}

/** A period that only says by which date VAT is due has no days (BT-8). */
function readPeriod(period: XmlElement | undefined): PeriodText | null {
  if (!period || (textAt(period, 'DescriptionCode') !== '' && !find(period, 'StartDate') && !find(period, 'EndDate')))
    return null
  return { from: textAt(period, 'StartDate'), to: textAt(period, 'EndDate') }
}

function readPayment(means: XmlElement): PaymentText {
  return {
    code: textAt(means, 'PaymentMeansCode'),
    text: find(means, 'PaymentMeansCode')?.attributes.name ?? '',
    remittance: textAt(means, 'PaymentID'),
    accounts: childrenOf(means, 'PayeeFinancialAccount').map(one => ({ id: textAt(one, 'ID'), name: textAt(one, 'Name'), bic: textAt(one, 'FinancialInstitutionBranch', 'ID') })), // prettier-ignore
    cards: childrenOf(means, 'CardAccount').map(one => ({ number: textAt(one, 'PrimaryAccountNumberID'), holder: textAt(one, 'HolderName') })), // prettier-ignore
    mandates: childrenOf(means, 'PaymentMandate').map(one => ({ id: textAt(one, 'ID'), account: textAt(one, 'PayerFinancialAccount', 'ID') })), // prettier-ignore
  }
}

function readDocument(reference: XmlElement) {
  const object = find(reference, 'Attachment', 'EmbeddedDocumentBinaryObject')
  return {
    id: textAt(reference, 'ID'),
    description: textAt(reference, 'DocumentDescription'),
    address: textAt(reference, 'Attachment', 'ExternalReference', 'URI'),
    mediaType: object?.attributes.mimeCode ?? '',
    fileName: object?.attributes.filename ?? '',
  }
}

function readLine(line: XmlElement): InvoiceLineText {
  const item = find(line, 'Item')
  const price = find(line, 'Price')
  const quantity = find(line, 'InvoicedQuantity') ?? find(line, 'CreditedQuantity')
  return {
    id: textAt(line, 'ID'),
    note: textAt(line, 'Note'),
    objectId: textAt(line, 'DocumentReference', 'ID'),
    name: textAt(item, 'Name'),
    description: textAt(item, 'Description'),
    quantity: quantity?.text.trim() ?? '',
    unit: quantity?.attributes.unitCode ?? '',
    price: textAt(price, 'PriceAmount'),
    grossPrice: textAt(price, 'AllowanceCharge', 'BaseAmount'),
    priceDiscount: textAt(price, 'AllowanceCharge', 'Amount'),
    priceBase: textAt(price, 'BaseQuantity') || '1',
    priceBaseUnit: find(price, 'BaseQuantity')?.attributes.unitCode ?? '',
    net: textAt(line, 'LineExtensionAmount'),
    category: textAt(item, 'ClassifiedTaxCategory', 'ID'),
    rate: textAt(item, 'ClassifiedTaxCategory', 'Percent'),
    accounting: textAt(line, 'AccountingCost'),
    period: readPeriod(find(line, 'InvoicePeriod')),
    orderLineReference: textAt(line, 'OrderLineReference', 'LineID'),
    sellerItemId: textAt(item, 'SellersItemIdentification', 'ID'),
    buyerItemId: textAt(item, 'BuyersItemIdentification', 'ID'),
    standardItemId: schemed(find(item, 'StandardItemIdentification', 'ID')),
    classifications: childrenOf(item, 'CommodityClassification').map(one => ({ code: textAt(one, 'ItemClassificationCode'), list: find(one, 'ItemClassificationCode')?.attributes.listID ?? '', version: find(one, 'ItemClassificationCode')?.attributes.listVersionID ?? '' })), // prettier-ignore
    country: textAt(item, 'OriginCountry', 'IdentificationCode'),
    attributes: childrenOf(item, 'AdditionalItemProperty').map(one => ({ name: textAt(one, 'Name'), value: textAt(one, 'Value') })), // prettier-ignore
    adjustments: childrenOf(line, 'AllowanceCharge').map(readAdjustment),
  }
}

function readAdjustment(element: XmlElement): Adjustment {
  return {
    charge: ['true', '1'].includes(textAt(element, 'ChargeIndicator')),
    amount: textAt(element, 'Amount'),
    base: textAt(element, 'BaseAmount'),
    percent: textAt(element, 'MultiplierFactorNumeric'),
    reason: textAt(element, 'AllowanceChargeReason'),
    reasonCode: textAt(element, 'AllowanceChargeReasonCode'),
    category: textAt(element, 'TaxCategory', 'ID'),
    rate: textAt(element, 'TaxCategory', 'Percent'),
  }
}

function readTax(subtotal: XmlElement): TaxSubtotal {
  const category = find(subtotal, 'TaxCategory')
  return {
    taxable: textAt(subtotal, 'TaxableAmount'),
    tax: textAt(subtotal, 'TaxAmount'),
    category: textAt(category, 'ID'),
    rate: textAt(category, 'Percent'),
    exemptionReason: textAt(category, 'TaxExemptionReason') || textAt(category, 'TaxExemptionReasonCode'),
    exemptionCode: textAt(category, 'TaxExemptionReasonCode'),
  }
}
