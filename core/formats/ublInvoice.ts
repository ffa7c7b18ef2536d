import type { Adjustment, InvoiceLineText, InvoiceText, PartyText, TaxSubtotal } from '#core/bill/en16931.ts'
import { childrenOf, find, parseXml, textAt, type XmlElement } from '#core/formats/xml.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

export const UBL_INVOICE = 'urn:oasis:names:specification:ubl:schema:xsd:Invoice-2'

/**
 * Reads a UBL 2.1 Invoice by the syntax binding of EN 16931 (CEN/TS 16931-3-2). Nothing is computed or corrected: what the
 * document says is returned as text, for core/bill/en16931 to check.
 *
 * @throws RuleBroken xml.* | bill.notAnInvoice where the root is another document or namespace
 */
export function readUblInvoice(text: string): InvoiceText {
  const root = parseXml(text)
  if (root.name !== 'Invoice' || root.namespace !== UBL_INVOICE)
    throw new RuleBroken(stop('bill.notAnInvoice', { root: root.name.slice(0, 40), namespace: root.namespace.slice(0, 80) || 'none' }))
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
  }
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
