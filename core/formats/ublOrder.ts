import { childrenOf, find, parseXml, textAt, type XmlElement } from '#core/formats/xml.ts'
import { chargeOfCode, type ExchangeFile } from '#core/order/orderExchange.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

const ORDER = 'urn:oasis:names:specification:ubl:schema:xsd:Order-2'

/** What an order says as a UBL file, as text; nothing is computed or corrected. */
export interface UblOrderText {
  readonly number: string
  readonly note: string
  readonly currency: string
  /** The party that buys: whose file it is. */
  readonly buyer: PartyOfOrder
  readonly seller: PartyOfOrder
  readonly accountingCost: string
  readonly charges: readonly {
    readonly adds: boolean
    readonly code: string
    readonly words: string
    readonly amount: string
  }[]
  readonly lines: readonly {
    readonly id: string
    readonly description: string
    readonly buyersItem: string
    readonly standardItem: string
    readonly quantity: string
    readonly unit: string
    readonly price: string
    readonly priceBase: string
    readonly needBy: string
    readonly place: string
    readonly accountingCost: string
  }[]
}
interface PartyOfOrder {
  readonly name: string
  readonly vat: string
}

/**
 * Reads a UBL 2.1 Order (OASIS UBL 2.1, 3.2.26). Of a line that comes in several deliveries the first day counts.
 *
 * @throws RuleBroken xml.* | exchange.notOne where the root is another document
 */
export function readUblOrder(text: string): UblOrderText {
  const root = parseXml(text)
  if (root.name !== 'Order' || root.namespace !== ORDER)
    throw new RuleBroken(stop('exchange.notOne', { root: root.name.slice(0, 40) }))
  return {
    number: textAt(root, 'ID').trim(),
    note: textAt(root, 'Note'),
    currency: textAt(root, 'DocumentCurrencyCode').trim().toUpperCase(),
    buyer: partyOf(find(root, 'BuyerCustomerParty', 'Party')),
    seller: partyOf(find(root, 'SellerSupplierParty', 'Party')),
    accountingCost: textAt(root, 'AccountingCost').trim(),
    charges: childrenOf(root, 'AllowanceCharge').map(one => ({
      adds: textAt(one, 'ChargeIndicator').trim() === 'true',
      code: textAt(one, 'AllowanceChargeReasonCode').trim(),
      words: textAt(one, 'AllowanceChargeReason').trim(),
      amount: textAt(one, 'Amount').trim(),
    })),
    lines: childrenOf(root, 'OrderLine').map(line => lineOf(find(line, 'LineItem'))),
  }
}

const partyOf = (party: XmlElement | undefined): PartyOfOrder => ({
  name: (textAt(party, 'PartyName', 'Name') || textAt(party, 'PartyLegalEntity', 'RegistrationName')).trim(),
  vat: textAt(party, 'PartyTaxScheme', 'CompanyID').trim(),
})

function lineOf(item: XmlElement | undefined): UblOrderText['lines'][number] {
  const price = find(item, 'Price')
  const goods = find(item, 'Item')
  const deliveries = childrenOf(item, 'Delivery')
  const day = (one: XmlElement): string => textAt(one, 'RequestedDeliveryPeriod', 'EndDate') || textAt(one, 'RequestedDeliveryPeriod', 'StartDate') // prettier-ignore
  const days = deliveries.map(day).filter(Boolean).sort()
  const base = find(price, 'BaseQuantity')
  return {
    id: textAt(item, 'ID').trim(),
    description: (textAt(goods, 'Name') || textAt(goods, 'Description')).trim(),
    buyersItem: textAt(goods, 'BuyersItemIdentification', 'ID').trim(),
    standardItem: textAt(goods, 'StandardItemIdentification', 'ID').trim(),
    quantity: textAt(item, 'Quantity').trim(),
    unit: (find(item, 'Quantity')?.attributes.unitCode ?? '').trim(),
    price: textAt(price, 'PriceAmount').trim(),
    priceBase: base ? base.text.trim() : '',
    needBy: days[0] ?? '',
    place: textAt(deliveries[0], 'DeliveryLocation', 'Description').trim(),
    accountingCost: textAt(item, 'AccountingCost').trim(),
  }
}

/** Such an order as one that is taken over: nothing of it has come or is billed, as far as it says. */
export const exchangeOfUbl = (order: UblOrderText): ExchangeFile => ({
  sender: order.buyer.name || order.buyer.vat,
  orders: [
    {
      number: order.number,
      title: order.note.slice(0, 200),
      currency: order.currency,
      supplier: order.seller,
      charges: order.charges.map(one => ({ kind: chargeOfCode(one.code, one.adds), words: one.words.slice(0, 200), amount: one.amount })), // prettier-ignore
      lines: order.lines.map((line, at) => ({
        position: at + 1,
        description: line.description,
        item: line.buyersItem,
        gtin: line.standardItem,
        quantity: line.quantity,
        unit: line.unit,
        price: line.price,
        priceBase: line.priceBase,
        needBy: line.needBy,
        place: line.place,
        account: line.accountingCost || order.accountingCost,
        received: '',
        billed: '',
        promised: '',
      })),
    },
  ],
})
