import { childrenOf, find, parseXml, textAt, type XmlElement } from '#core/formats/xml.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

const QUOTATION = 'urn:oasis:names:specification:ubl:schema:xsd:Quotation-2'

/** What a UBL 2.1 Quotation says, as text; nothing is computed or corrected. */
export interface QuotationText {
  readonly number: string
  /** The request that it answers. */
  readonly requestNumber: string
  readonly currency: string
  readonly validUntil: string
  readonly note: string
  readonly lines: readonly {
    /** The line of the request (RequestLineReference/LineID), else its own id. */
    readonly requestLine: string
    readonly quantity: string
    readonly unit: string
    readonly price: string
    readonly priceCurrency: string
    readonly priceBase: string
    readonly note: string
  }[]
}

/**
 * Reads a UBL 2.1 Quotation (OASIS UBL 2.1, 8.2.3.16).
 *
 * @throws RuleBroken xml.* | quotation.notOne where the root is another document
 */
export function readUblQuotation(text: string): QuotationText {
  const root = parseXml(text)
  if (root.name !== 'Quotation' || root.namespace !== QUOTATION)
    throw new RuleBroken(stop('quotation.notOne', { root: root.name.slice(0, 40) }))
  return {
    number: textAt(root, 'ID'),
    requestNumber: textAt(root, 'RequestForQuotationDocumentReference', 'ID'),
    currency: textAt(root, 'PricingCurrencyCode') || textAt(root, 'DocumentCurrencyCode'),
    validUntil: textAt(root, 'ValidityPeriod', 'EndDate'),
    note: textAt(root, 'Note'),
    lines: childrenOf(root, 'QuotationLine').map(readLine),
  }
}

function readLine(line: XmlElement): QuotationText['lines'][number] {
  const item = find(line, 'LineItem')
  const price = find(item, 'Price')
  return {
    requestLine: textAt(line, 'RequestLineReference', 'LineID') || textAt(line, 'ID'),
    quantity: textAt(item, 'Quantity'),
    unit: find(item, 'Quantity')?.attributes.unitCode ?? '',
    price: textAt(price, 'PriceAmount'),
    priceCurrency: find(price, 'PriceAmount')?.attributes.currencyID ?? '',
    priceBase: textAt(price, 'BaseQuantity'),
    note: textAt(line, 'Note'),
  }
}
