/** An identifier with the scheme that it is of, where it says one. */
export interface SchemedText {
  readonly id: string
  readonly scheme: string
}
/** A company as an invoice names it. */
export interface PartyText {
  readonly name: string
  readonly country: string
  readonly vatId: string
  readonly registrationId: string
  readonly endpointId: string
}
/** What of a party is kept with an invoice. A company that has no legal name is called by the one that it trades under. */
export const partyText = (party: InvoiceParty): PartyText => ({ name: party.name || party.tradingName, country: party.country, vatId: party.vatId, registrationId: party.registrationId, endpointId: party.endpointId }) // prettier-ignore
/** A postal address (BG-5, BG-8, BG-12, BG-15). */
export interface AddressText {
  readonly lines: readonly string[]
  readonly city: string
  readonly post: string
  readonly region: string
  readonly country: string
}
/** Seller, buyer, payee or tax representative (BG-4, BG-7, BG-10, BG-11), with all that the standard has of them. */
export interface InvoiceParty extends PartyText {
  readonly tradingName: string
  readonly ids: readonly SchemedText[]
  readonly registrationScheme: string
  readonly taxId: string
  readonly legal: string
  readonly endpointScheme: string
  readonly address: AddressText | null
  readonly contact: { readonly name: string; readonly phone: string; readonly email: string } | null
}

/** An allowance or charge of the document (BG-20, BG-21) or of a line (BG-27, BG-28). */
export interface Adjustment {
  readonly charge: boolean
  readonly amount: string
  readonly base: string
  readonly percent: string
  readonly reason: string
  readonly reasonCode: string
  readonly category: string
  readonly rate: string
}

/** A period (BG-14, BG-26). */
export interface PeriodText {
  readonly from: string
  readonly to: string
}

export interface InvoiceLineText {
  readonly id: string
  readonly note: string
  readonly objectId: string
  readonly name: string
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  /** Price before its discount (BT-148), and the discount (BT-147). */
  readonly grossPrice: string
  readonly priceDiscount: string
  readonly priceBase: string
  readonly priceBaseUnit: string
  readonly net: string
  readonly category: string
  readonly rate: string
  readonly accounting: string
  readonly period: PeriodText | null
  readonly orderLineReference: string
  readonly sellerItemId: string
  readonly buyerItemId: string
  readonly standardItemId: SchemedText
  readonly classifications: readonly { readonly code: string; readonly list: string; readonly version: string }[]
  readonly country: string
  readonly attributes: readonly { readonly name: string; readonly value: string }[]
  readonly adjustments: readonly Adjustment[]
}

export interface TaxSubtotal {
  readonly taxable: string
  readonly tax: string
  readonly category: string
  readonly rate: string
  /** Why no VAT is charged, in words (BT-120) or else as a code. */
  readonly exemptionReason: string
  readonly exemptionCode: string
}

/** How it asks to be paid (BG-16 … BG-19). */
export interface PaymentText {
  readonly code: string
  readonly text: string
  readonly remittance: string
  readonly accounts: readonly { readonly id: string; readonly name: string; readonly bic: string }[]
  readonly cards: readonly { readonly number: string; readonly holder: string }[]
  readonly mandates: readonly { readonly id: string; readonly account: string }[]
}

/** A document that goes with it (BG-24). */
export interface AttachedText {
  readonly id: string
  readonly description: string
  readonly address: string
  readonly mediaType: string
  readonly fileName: string
}

/** Something that stands at a place of the document. */
export interface PlacedText {
  readonly place: string
  readonly text: string
}

/** What an invoice says, as text exactly as written (EN 16931-1 semantic model; numbers are checked, never re-formatted). Dates are YYYY-MM-DD where they can be read. */
export interface InvoiceText {
  readonly syntax: 'ubl' | 'cii'
  readonly customizationId: string
  readonly processId: string
  readonly number: string
  readonly typeCode: string
  readonly issueDate: string
  readonly dueDate: string
  readonly taxPointDate: string
  readonly taxPointCode: string
  readonly currency: string
  readonly taxCurrency: string
  readonly buyerReference: string
  readonly project: string
  readonly contract: string
  readonly orderReference: string
  readonly salesOrder: string
  readonly receivingAdvice: string
  readonly despatchAdvice: string
  readonly tender: string
  readonly object: SchemedText
  readonly accounting: string
  readonly paymentTerms: string
  readonly notes: readonly { readonly subject: string; readonly text: string }[]
  readonly preceding: readonly { readonly number: string; readonly date: string }[]
  readonly seller: InvoiceParty
  readonly buyer: InvoiceParty
  readonly payee: InvoiceParty | null
  readonly representative: InvoiceParty | null
  /** What the seller is called by the debtor's bank (BT-90). */
  readonly creditorId: string
  readonly delivery: { readonly name: string; readonly location: SchemedText; readonly date: string; readonly address: AddressText | null } | null // prettier-ignore
  readonly period: PeriodText | null
  readonly payments: readonly PaymentText[]
  /** The first account that it asks to be paid to (BT-84). */
  readonly iban: string
  readonly lines: readonly InvoiceLineText[]
  readonly adjustments: readonly Adjustment[]
  readonly taxes: readonly TaxSubtotal[]
  readonly documents: readonly AttachedText[]
  readonly totals: {
    readonly lines: string
    readonly allowances: string
    readonly charges: string
    readonly net: string
    readonly tax: string
    readonly gross: string
    readonly prepaid: string
    readonly rounding: string
    readonly payable: string
  }
  /** The VAT in the accounting currency (BT-111). */
  readonly taxAccounting: string
  /** Every date of the document, wherever it stands. */
  readonly dates: readonly PlacedText[]
  /** The currency of every amount but the tax total in the accounting currency. */
  readonly currencies: readonly PlacedText[]
  /** Places of elements that are of another vocabulary than the document. */
  readonly foreign: readonly string[]
  /** Places of elements that say nothing. */
  readonly empty: readonly string[]
}
