/** A company as an invoice names it. */
export interface PartyText {
  readonly name: string
  readonly country: string
  readonly vatId: string
  readonly registrationId: string
  readonly endpointId: string
}

/** An allowance or charge of the document (BG-20, BG-21) or of a line (BG-27, BG-28). */
export interface Adjustment {
  readonly charge: boolean
  readonly amount: string
  readonly reason: string
  readonly reasonCode: string
  readonly category: string
  readonly rate: string
}

export interface InvoiceLineText {
  readonly id: string
  readonly name: string
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly net: string
  readonly category: string
  readonly rate: string
  readonly orderLineReference: string
  readonly sellerItemId: string
  readonly buyerItemId: string
  readonly adjustments: readonly Adjustment[]
}

export interface TaxSubtotal {
  readonly taxable: string
  readonly tax: string
  readonly category: string
  readonly rate: string
  readonly exemptionReason: string
}

/** Something that stands at a place of the document. */
export interface PlacedText {
  readonly place: string
  readonly text: string
}

/** What an invoice says, as text exactly as written (EN 16931-1 semantic model; numbers are checked, never re-formatted). */
export interface InvoiceText {
  readonly customizationId: string
  readonly number: string
  readonly typeCode: string
  readonly issueDate: string
  readonly dueDate: string
  readonly currency: string
  readonly taxCurrency: string
  readonly orderReference: string
  readonly paymentTerms: string
  readonly seller: PartyText
  readonly buyer: PartyText
  readonly iban: string
  readonly lines: readonly InvoiceLineText[]
  readonly adjustments: readonly Adjustment[]
  readonly taxes: readonly TaxSubtotal[]
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
  /** Every date of the document, wherever it stands. */
  readonly dates: readonly PlacedText[]
  /** The currency of every amount but the tax total in the accounting currency. */
  readonly currencies: readonly PlacedText[]
  /** Places of elements that are of another vocabulary than the document. */
  readonly foreign: readonly string[]
}
