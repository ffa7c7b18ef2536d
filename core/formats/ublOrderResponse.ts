import { childrenOf, find, parseXml, textAt, type XmlElement } from '#core/formats/xml.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

const RESPONSE = 'urn:oasis:names:specification:ubl:schema:xsd:OrderResponse-2'
const SIMPLE = 'urn:oasis:names:specification:ubl:schema:xsd:OrderResponseSimple-2'

/** What a supplier's answer to an order says, as text; nothing is computed or corrected. */
export interface OrderResponseText {
  readonly number: string
  /** The order that it answers, as the supplier writes it. */
  readonly orderNumber: string
  /** What it says of the whole: UNCL 4343, of which AP, RE, CA and AB are used; empty where it says nothing. */
  readonly code: string
  readonly currency: string
  readonly note: string
  readonly lines: readonly {
    /** The line of the order that it answers. */
    readonly orderLine: string
    /** UNCL 1229: 5 accepted, 3 changed, 7 not accepted; empty where it says nothing. */
    readonly code: string
    readonly quantity: string
    readonly unit: string
    readonly price: string
    readonly priceBase: string
    readonly priceCurrency: string
    /** The last day of the period that is promised, as it is written. */
    readonly date: string
    /** What comes on which day, where it comes on several. */
    readonly deliveries: readonly { readonly quantity: string; readonly date: string }[]
    readonly note: string
  }[]
}

/**
 * Reads a UBL 2.1 OrderResponse or OrderResponseSimple (OASIS UBL 2.1, 3.2.30 and 3.2.31). A simple one accepts or refuses the whole.
 *
 * @throws RuleBroken xml.* | orderResponse.notOne where the root is another document
 */
export function readUblOrderResponse(text: string): OrderResponseText {
  const root = parseXml(text)
  if (root.name === 'OrderResponseSimple' && root.namespace === SIMPLE)
    return {
      ...head(root),
      code: textAt(root, 'AcceptedIndicator').trim() === 'true' ? 'AP' : 'RE',
      note: textAt(root, 'RejectionNote') || textAt(root, 'Note'),
      lines: [],
    }
  if (root.name !== 'OrderResponse' || root.namespace !== RESPONSE)
    throw new RuleBroken(stop('orderResponse.notOne', { root: root.name.slice(0, 40) }))
  return {
    ...head(root),
    code: textAt(root, 'OrderResponseCode'),
    note: textAt(root, 'Note'),
    lines: childrenOf(root, 'OrderLine').map(readLine),
  }
}

const head = (root: XmlElement) => ({
  number: textAt(root, 'ID'),
  orderNumber: textAt(root, 'OrderReference', 'ID'),
  currency: textAt(root, 'PricingCurrencyCode') || textAt(root, 'DocumentCurrencyCode'),
})

function readLine(line: XmlElement): OrderResponseText['lines'][number] {
  const item = find(line, 'LineItem')
  const price = find(item, 'Price')
  const deliveries = childrenOf(item, 'Delivery').map(one => ({
    quantity: textAt(one, 'Quantity'),
    date: textAt(one, 'PromisedDeliveryPeriod', 'EndDate') || textAt(one, 'PromisedDeliveryPeriod', 'StartDate'),
  }))
  return {
    orderLine: textAt(line, 'OrderLineReference', 'LineID') || textAt(item, 'ID'),
    code: textAt(item, 'LineStatusCode'),
    quantity: textAt(item, 'Quantity'),
    unit: find(item, 'Quantity')?.attributes.unitCode ?? '',
    price: textAt(price, 'PriceAmount'),
    priceBase: textAt(price, 'BaseQuantity'),
    priceCurrency: find(price, 'PriceAmount')?.attributes.currencyID ?? '',
    date: deliveries[0]?.date ?? '',
    deliveries: deliveries.length > 1 ? deliveries : [],
    note: textAt(item, 'Note') || textAt(line, 'Note'),
  }
}
