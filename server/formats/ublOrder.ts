import type { Language } from '#contract/messages/languages.ts'
import { create } from 'xmlbuilder2'
import { minorDigits } from '#core/money/currency.ts'
import { sumDecimals } from '#core/money/decimal.ts'
import { CHARGE_KINDS, type ChargeKind } from '#core/order/charges.ts'
import type { RevisionCharge, RevisionLine } from '#core/order/revision.ts'
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
  readonly charges: readonly RevisionCharge[]
  readonly total: string
  readonly linesTotal: string
  readonly paymentTerms: string
  /** The framework agreement that is called off. */
  readonly agreement?: string | undefined
  /** What the house wants on every order of its kind, by name and version. */
  readonly clauses: readonly { readonly name: string; readonly version: number; readonly text: string }[]
  /** Why this revision was made; nothing on the first. */
  readonly reason: string
  readonly lines: readonly DocumentLine[]
  /** Lines that were on the revision before and are on this one no more. */
  readonly gone: readonly DocumentLine[]
}
export interface DocumentLine extends Omit<RevisionLine, 'lineId'> {
  readonly address: string
  readonly buyerItem: string
  readonly sellerItem: string
  /** What became of it since the revision before. */
  readonly change: 'none' | 'added' | 'changed'
}

/** The reason of a charge where nobody put it in words. */
const CHARGE_WORDS: Readonly<Record<ChargeKind, string>> = {
  freight: 'Freight',
  packing: 'Packing',
  insurance: 'Insurance',
  handling: 'Handling',
  other: 'Charge',
  discount: 'Discount',
}

const ORDER = 'urn:oasis:names:specification:ubl:schema:xsd:Order-2'
export const CAC = 'urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2'
export const CBC = 'urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2'

export const when = <T>(condition: unknown, part: T): T | Record<string, never> => (condition ? part : {})

/** The namespaces of an order document. */
export const namespaces = (root: string) => ({ '@xmlns': root, '@xmlns:cac': CAC, '@xmlns:cbc': CBC })

/** Writes revision 0 of an order as UBL 2.1 Order; what changes it later is an OrderChange. */
export function writeUblOrder(order: OrderDocument): string {
  return create(
    { version: '1.0', encoding: 'UTF-8' },
    {
      Order: {
        ...namespaces(ORDER),
        'cbc:UBLVersionID': '2.1',
        'cbc:ID': order.number,
        'cbc:IssueDate': order.issuedOn,
        'cbc:OrderTypeCode': '220',
        ...notes([order.note, ...clauseNotes(order)]),
        'cbc:DocumentCurrencyCode': order.currency,
        'cbc:LineCountNumeric': String(order.lines.length),
        ...agreementAndParties(order),
        ...sums(order),
        'cac:OrderLine': order.lines.map(line => ({ 'cac:LineItem': lineItem(order, line) })),
      },
    },
  ).end({ prettyPrint: true })
}

/** Notes of the whole document, one by one. */
export const notes = (texts: readonly string[]) => {
  const said = texts.filter(Boolean)
  return when(said.length > 0, { 'cbc:Note': said })
}

/** Clauses as notes, each with its name and version. */
export const clauseNotes = ({ clauses }: OrderDocument): string[] =>
  clauses.map(one => `${one.name} (version ${one.version}): ${one.text}`)

export const agreementAndParties = (order: OrderDocument) => ({
  ...when(order.agreement ?? '', { 'cac:Contract': { 'cbc:ID': order.agreement } }),
  ...parties(order),
})

export const parties = (order: OrderDocument) => ({
  'cac:BuyerCustomerParty': { 'cac:Party': party(order.buyer, order.contact) },
  'cac:SellerSupplierParty': { 'cac:Party': party(order.seller, '') },
})

const moneyIn = (order: OrderDocument) => (amount: string) => ({ '@currencyID': order.currency, '#': amount })

/** When it is paid, what comes on top of the lines, and what it comes to. */
export function sums(order: OrderDocument) {
  const money = moneyIn(order)
  const total = (adds: boolean): string =>
    sumDecimals(order.charges.filter(one => CHARGE_KINDS[one.kind].adds === adds).map(one => one.amount)).toFixed(
      minorDigits(order.currency),
    )
  const has = (adds: boolean): boolean => order.charges.some(one => CHARGE_KINDS[one.kind].adds === adds)
  return {
    ...when(order.paymentTerms, { 'cac:PaymentTerms': { 'cbc:Note': order.paymentTerms } }),
    ...when(order.charges.length > 0, { 'cac:AllowanceCharge': order.charges.map(one => charge(order, one)) }),
    'cac:AnticipatedMonetaryTotal': {
      'cbc:LineExtensionAmount': money(order.linesTotal),
      ...when(has(false), { 'cbc:AllowanceTotalAmount': money(total(false)) }),
      ...when(has(true), { 'cbc:ChargeTotalAmount': money(total(true)) }),
      'cbc:PayableAmount': money(order.total),
    },
  }
}

/** A charge or allowance with its code, and of what it is a per cent. */
function charge(order: OrderDocument, { kind, words, percent, amount }: RevisionCharge) {
  const money = moneyIn(order)
  return {
    'cbc:ChargeIndicator': String(CHARGE_KINDS[kind].adds),
    'cbc:AllowanceChargeReasonCode': CHARGE_KINDS[kind].code,
    'cbc:AllowanceChargeReason': words || CHARGE_WORDS[kind],
    ...when(percent ?? '', { 'cbc:MultiplierFactorNumeric': percent }),
    'cbc:Amount': money(amount),
    ...when(percent ?? '', { 'cbc:BaseAmount': money(order.linesTotal) }),
  }
}

/** When and where to; a line that comes in several deliveries says what comes when. */
function deliveries(line: DocumentLine) {
  const delivery = (place: string, date: string) => ({
    ...when(place, { 'cac:DeliveryLocation': { 'cbc:Description': place } }),
    'cac:RequestedDeliveryPeriod': { 'cbc:EndDate': date },
  })
  if (line.schedule && line.schedule.length > 0)
    return {
      'cac:Delivery': line.schedule.map(one => ({
        'cbc:Quantity': { '@unitCode': line.unit, '#': one.quantity },
        ...delivery(one.place || line.address, one.date),
      })),
    }
  return line.needBy === null ? {} : { 'cac:Delivery': delivery(line.address, line.needBy) }
}

/** A line as one of the order; `status` (UNCL 1229) where it is part of a change. */
export function lineItem(order: OrderDocument, line: OrderDocument['lines'][number], status = '') {
  const money = moneyIn(order)
  return {
    'cbc:ID': String(line.position),
    ...when(line.terms ?? '', { 'cbc:Note': line.terms }),
    ...when(status, { 'cbc:LineStatusCode': status }),
    'cbc:Quantity': { '@unitCode': line.unit, '#': line.quantity },
    'cbc:LineExtensionAmount': money(line.amount),
    ...deliveries(line),
    'cac:Price': {
      'cbc:PriceAmount': money(line.price),
      'cbc:BaseQuantity': { '@unitCode': line.unit, '#': line.priceBase },
    },
    'cac:Item': {
      'cbc:Name': line.description,
      ...when(line.buyerItem, { 'cac:BuyersItemIdentification': { 'cbc:ID': line.buyerItem } }),
      ...when(line.sellerItem, { 'cac:SellersItemIdentification': { 'cbc:ID': line.sellerItem } }),
    },
  }
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
