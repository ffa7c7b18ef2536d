import type { CreditFigures } from '#core/bill/creditFacts.ts'
import type { DisputeFacts } from '#core/bill/disputeFacts.ts'
import type { KeptHold } from '#core/bill/holds.ts'
import type { PartyText } from '#core/bill/invoiceText.ts'
import type { InvoiceState } from '#core/bill/states.ts'
import type { ToleranceProfile } from '#core/bill/tolerance.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import type { Minor } from '#core/money/amount.ts'
import type { OrderFacts } from '#core/order/facts.ts'

/** One line of an invoice; quantities are in the ordered unit where they convert exactly. */
export interface InvoiceLine {
  readonly id: string
  readonly position: number
  readonly orderLineId: string | null
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly net: Minor
  readonly taxCategory: string
  readonly taxRate: string
  /** How far it may differ, where others hold for it than for its document. */
  readonly tolerances?: ToleranceProfile
}

export interface InvoiceTax {
  readonly category: string
  readonly rate: string
  readonly taxable: string
  readonly tax: string
}

/** Who we are, as invoices have to be addressed. */
export interface HouseIdentity {
  readonly name: string
  readonly country: string
  readonly vat: string
}

/** A rate of VAT that is charged in a country. */
export interface TaxRate {
  readonly country: string
  readonly rate: string
}

/** What is known of an invoice when it is matched or somebody wants to do something with it. Amounts in its currency. */
export interface InvoiceFacts {
  readonly id: string
  readonly number: string
  readonly state: InvoiceState
  readonly supplierId: string
  readonly supplier: string
  readonly supplierNumber: string
  readonly currency: string
  readonly rate: string
  readonly base: string
  readonly issueDate: string
  readonly dueOn: string | null
  readonly net: Minor
  /** Freight and other charges of the document less its allowances; part of `net`. */
  readonly charges: Minor
  readonly tax: Minor
  readonly gross: Minor
  readonly prepaid: Minor
  readonly rounding: Minor
  /** gross − prepaid + rounding: what is paid. */
  readonly payable: Minor
  /** Credits that were set off against it; what is still to be paid is so much less. */
  readonly setOff: Minor
  readonly taxes: readonly InvoiceTax[]
  /** Whom it is addressed to, where it says so. */
  readonly buyer: PartyText | null
  /** Country of the seller as the invoice has it, and that of its VAT number. */
  readonly sellerCountries: readonly string[]
  /** The account that the invoice asks to be paid to; empty where it names none. */
  readonly iban: string
  readonly lines: readonly InvoiceLine[]
  /** The orders that its lines belong to. */
  readonly orders: readonly OrderFacts[]
  readonly holds: readonly KeptHold[]
  /** Credit notes that wait for it: they post together with it. */
  readonly credits: readonly CreditFigures[]
  /** The dispute about it that is open. */
  readonly dispute: DisputeFacts | null
  /** Numbers of its standing credit and debit notes. */
  readonly creditedBy: readonly string[]
  /** What posted invoices of the same orders already billed in charges. */
  readonly chargesBilled: Minor
  /** Another invoice of the supplier over the same amount and near in time, that was here before. */
  readonly twin: string | null
  readonly house: HouseIdentity
  /** Accounts of the supplier that are not closed. */
  readonly accounts: readonly string[]
  readonly taxRates: readonly TaxRate[]
  readonly tolerances: ToleranceProfile
  /** What it has posted: for taking it back. */
  readonly posted: {
    readonly quantities: readonly { readonly id: string; readonly lineId: string; readonly quantity: string }[]
    readonly spent: readonly BudgetEntry[]
  }
}
