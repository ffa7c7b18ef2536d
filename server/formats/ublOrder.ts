import type { Language } from '#contract/messages/languages.ts'
import { create } from 'xmlbuilder2'
import type { PartyDocument } from '#server/house/house.ts'

export interface OrderDocument {
  readonly number: string
  readonly revision: number
  readonly issuedOn: string
  readonly currency: string
  readonly note: string
  readonly buyer: PartyDocument
  /** The buyer's sign on printed documents, as a `data:` address. */
  readonly logo: string | null
  readonly seller: PartyDocument
  readonly contact: string
  /** The language of the printed order. */
  readonly language: Language
  readonly charges: string
  readonly total: string
  readonly linesTotal: string
  readonly paymentTerms: string
  /** The framework agreement that is called off. */
  readonly agreement?: string | undefined
  readonly lines: readonly {
    position: number
    description: string
    quantity: string
    unit: string
    price: string
    priceBase: string
    amount: string
    needBy: string | null
    terms?: string | undefined
    address: string
    buyerItem: string
    sellerItem: string
  }[]
}

const ORDER = 'urn:oasis:names:specification:ubl:schema:xsd:Order-2'
export const CAC = 'urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2'
export const CBC = 'urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2'

export const when = <T>(condition: unknown, part: T): T | Record<string, never> => (condition ? part : {})

/** Writes an order as UBL 2.1 Order; the revision is the order's sequence (cbc:SalesOrderID stays the supplier's). */
export function writeUblOrder(order: OrderDocument): string {
  const money = (amount: string) => ({ '@currencyID': order.currency, '#': amount })
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      Order: {
        '@xmlns': ORDER,
        '@xmlns:cac': CAC,
        '@xmlns:cbc': CBC,
        'cbc:UBLVersionID': '2.1',
        'cbc:ID': order.number,
        'cbc:IssueDate': order.issuedOn,
        'cbc:OrderTypeCode': '220',
        ...when(order.note, { 'cbc:Note': order.note }),
        'cbc:DocumentCurrencyCode': order.currency,
        'cbc:LineCountNumeric': String(order.lines.length),
        ...when(order.revision > 0, {
          'cac:OrderDocumentReference': {
            'cbc:ID': `${order.number}/${order.revision - 1}`,
            'cbc:DocumentType': 'superseded revision',
          },
        }),
        ...when(order.agreement ?? '', { 'cac:Contract': { 'cbc:ID': order.agreement } }),
        'cac:BuyerCustomerParty': { 'cac:Party': party(order.buyer, order.contact) },
        'cac:SellerSupplierParty': { 'cac:Party': party(order.seller, '') },
        ...when(order.paymentTerms, { 'cac:PaymentTerms': { 'cbc:Note': order.paymentTerms } }),
        ...when(Number(order.charges) > 0, {
          'cac:AllowanceCharge': {
            'cbc:ChargeIndicator': 'true',
            'cbc:AllowanceChargeReasonCode': 'FC',
            'cbc:AllowanceChargeReason': 'Freight',
            'cbc:Amount': money(order.charges),
          },
        }),
        'cac:AnticipatedMonetaryTotal': {
          'cbc:LineExtensionAmount': money(order.linesTotal),
          ...when(Number(order.charges) > 0, { 'cbc:ChargeTotalAmount': money(order.charges) }),
          'cbc:PayableAmount': money(order.total),
        },
        'cac:OrderLine': order.lines.map(line => ({
          'cac:LineItem': {
            'cbc:ID': String(line.position),
            ...when(line.terms ?? '', { 'cbc:Note': line.terms }),
            'cbc:Quantity': { '@unitCode': line.unit, '#': line.quantity },
            'cbc:LineExtensionAmount': money(line.amount),
            ...when(line.needBy, {
              'cac:Delivery': {
                ...when(line.address, { 'cac:DeliveryLocation': { 'cbc:Description': line.address } }),
                'cac:RequestedDeliveryPeriod': { 'cbc:EndDate': line.needBy ?? '' },
              },
            }),
            'cac:Price': {
              'cbc:PriceAmount': money(line.price),
              'cbc:BaseQuantity': { '@unitCode': line.unit, '#': line.priceBase },
            },
            'cac:Item': {
              'cbc:Name': line.description,
              ...when(line.buyerItem, { 'cac:BuyersItemIdentification': { 'cbc:ID': line.buyerItem } }),
              ...when(line.sellerItem, { 'cac:SellersItemIdentification': { 'cbc:ID': line.sellerItem } }),
            },
          },
        })),
      },
    },
  ).end({ prettyPrint: true })
}

export const party = (one: PartyDocument, contact: string) => ({
  'cac:PartyName': { 'cbc:Name': one.name },
  'cac:PostalAddress': {
    ...when(one.street, { 'cbc:StreetName': one.street }),
    ...when(one.city, { 'cbc:CityName': one.city }),
    ...when(one.postalCode, { 'cbc:PostalZone': one.postalCode }),
    ...when(one.country, { 'cac:Country': { 'cbc:IdentificationCode': one.country } }),
  },
  ...when(one.vat, { 'cac:PartyTaxScheme': { 'cbc:CompanyID': one.vat, 'cac:TaxScheme': { 'cbc:ID': 'VAT' } } }),
  ...when(contact, { 'cac:Contact': { 'cbc:Name': contact } }),
})
