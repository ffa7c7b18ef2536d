import type {
  Adjustment,
  InvoiceLineText,
  InvoiceText,
  PartyText,
  PlacedText,
  TaxSubtotal,
} from '#core/bill/invoiceText.ts'
import { childrenOf, find, parseXml, textAt, withoutForeign, type XmlElement } from '#core/formats/xml.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

export const UBL_INVOICE = 'urn:oasis:names:specification:ubl:schema:xsd:Invoice-2'
const COMPONENTS = 'urn:oasis:names:specification:ubl:schema:xsd:Common'
/** Vocabularies that a UBL document is written in; what stands in an extension is anybody's. */
const OWN = new Set([`${COMPONENTS}BasicComponents-2`, `${COMPONENTS}AggregateComponents-2`])
const EXTENSIONS = `${COMPONENTS}ExtensionComponents-2`

/**
 * Reads a UBL 2.1 Invoice by the syntax binding of EN 16931 (CEN/TS 16931-3-2). Nothing is computed or corrected: what the
 * document says is returned as text, for core/bill/en16931 to check.
 *
 * @throws RuleBroken xml.* | bill.notAnInvoice where the root is another document or namespace
 */
export function readUblInvoice(text: string): InvoiceText {
  const whole = parseXml(text)
  if (whole.name !== 'Invoice' || whole.namespace !== UBL_INVOICE)
    throw new RuleBroken(
      stop('bill.notAnInvoice', {
        root: whole.name.slice(0, 40),
        namespace: whole.namespace.slice(0, 80) || 'none',
      }),
    )
  const { element: root, foreign } = withoutForeign(whole, child => OWN.has(child.namespace), EXTENSIONS)
  const totals = find(root, 'LegalMonetaryTotal')
  const currency = textAt(root, 'DocumentCurrencyCode')
  const taxTotals = childrenOf(root, 'TaxTotal')
  const taxTotal = taxTotals.find(total => find(total, 'TaxAmount')?.attributes.currencyID === currency) ?? taxTotals[0]
  return {
    customizationId: textAt(root, 'CustomizationID'),
    number: textAt(root, 'ID'),
    typeCode: textAt(root, 'InvoiceTypeCode'),
    issueDate: textAt(root, 'IssueDate'),
    dueDate: textAt(root, 'DueDate'),
    currency,
    taxCurrency: textAt(root, 'TaxCurrencyCode'),
    orderReference: textAt(root, 'OrderReference', 'ID'),
    paymentTerms: textAt(root, 'PaymentTerms', 'Note'),
    seller: readParty(find(root, 'AccountingSupplierParty', 'Party')),
    buyer: readParty(find(root, 'AccountingCustomerParty', 'Party')),
    iban: textAt(root, 'PaymentMeans', 'PayeeFinancialAccount', 'ID'),
    lines: childrenOf(root, 'InvoiceLine').map(readLine),
    adjustments: childrenOf(root, 'AllowanceCharge').map(readAdjustment),
    taxes: childrenOf(taxTotal, 'TaxSubtotal').map(readTax),
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
    dates: datesOf(root, ''),
    currencies: currenciesOf(root, ''),
    foreign,
  }
}

/** A place in the document as its rules name it: repeated elements are counted from one. */
const placesOf = (element: XmlElement, place: string): { child: XmlElement; place: string }[] => {
  const many = (name: string): boolean => childrenOf(element, name).length > 1
  const seen = new Map<string, number>()
  return element.children.map(child => {
    const count = (seen.get(child.name) ?? 0) + 1
    seen.set(child.name, count)
    const name = many(child.name) || REPEATED.has(child.name) ? `${child.name}[${count}]` : child.name
    return { child, place: place === '' ? name : `${place}/${name}` }
  })
}
const REPEATED = new Set(['InvoiceLine', 'AllowanceCharge', 'TaxSubtotal'])

/** Every date field: in UBL their names end so and nothing else's do (UBL 2.1, 7.5: UDT Date). */
const datesOf = (element: XmlElement, place: string): PlacedText[] =>
  placesOf(element, place).flatMap(one =>
    one.child.name.endsWith('Date') && one.child.children.length === 0
      ? [{ place: one.place, text: one.child.text.trim() }]
      : datesOf(one.child, one.place),
  )

/** The currency of every amount. A second tax total, in the accounting currency (BT-111), has its own. */
function currenciesOf(element: XmlElement, place: string): PlacedText[] {
  const accounting = textAt(element, 'TaxCurrencyCode')
  return placesOf(element, place).flatMap(one => {
    const inAccounting =
      one.child.name === 'TaxTotal' &&
      accounting !== '' &&
      accounting !== textAt(element, 'DocumentCurrencyCode') &&
      find(one.child, 'TaxAmount')?.attributes.currencyID === accounting
    if (inAccounting) return []
    const own = one.child.attributes.currencyID
    return [...(own === undefined ? [] : [{ place: one.place, text: own }]), ...currenciesOf(one.child, one.place)]
  })
}

function readParty(party: XmlElement | undefined): PartyText {
  return {
    name: textAt(party, 'PartyLegalEntity', 'RegistrationName') || textAt(party, 'PartyName', 'Name'),
    country: textAt(party, 'PostalAddress', 'Country', 'IdentificationCode'),
    vatId: textAt(
      childrenOf(party, 'PartyTaxScheme').find(scheme => textAt(scheme, 'TaxScheme', 'ID') === 'VAT'),
      'CompanyID',
    ),
    registrationId: textAt(party, 'PartyLegalEntity', 'CompanyID'),
    endpointId: textAt(party, 'EndpointID'),
  }
}

function readLine(line: XmlElement): InvoiceLineText {
  const item = find(line, 'Item')
  const price = find(line, 'Price')
  return {
    id: textAt(line, 'ID'),
    name: textAt(item, 'Name'),
    description: textAt(item, 'Description'),
    quantity: textAt(line, 'InvoicedQuantity'),
    unit: find(line, 'InvoicedQuantity')?.attributes.unitCode ?? '',
    price: textAt(price, 'PriceAmount'),
    priceBase: textAt(price, 'BaseQuantity') || '1',
    net: textAt(line, 'LineExtensionAmount'),
    category: textAt(item, 'ClassifiedTaxCategory', 'ID'),
    rate: textAt(item, 'ClassifiedTaxCategory', 'Percent'),
    orderLineReference: textAt(line, 'OrderLineReference', 'LineID'),
    sellerItemId: textAt(item, 'SellersItemIdentification', 'ID'),
    buyerItemId: textAt(item, 'BuyersItemIdentification', 'ID'),
    adjustments: childrenOf(line, 'AllowanceCharge').map(readAdjustment),
  }
}

function readAdjustment(element: XmlElement): Adjustment {
  return {
    charge: ['true', '1'].includes(textAt(element, 'ChargeIndicator')),
    amount: textAt(element, 'Amount'),
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
  }
}
