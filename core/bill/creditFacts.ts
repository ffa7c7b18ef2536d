import type { CreditState } from '#core/bill/creditStates.ts'
import type { InvoiceLine, InvoiceTax } from '#core/bill/facts.ts'
import type { InvoiceState } from '#core/bill/states.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import type { Minor } from '#core/money/amount.ts'
import type { OrderFacts } from '#core/order/facts.ts'

/** How a line is credited: so many pieces of it are not billed any more, or each costs less. */
export const CREDIT_WAYS = ['quantity', 'price'] as const
export type CreditWay = (typeof CREDIT_WAYS)[number]

/** Who wrote it: a supplier its credit note (UNTDID 1001: 381), or we a debit note (383). */
export type CreditIssuer = 'supplier' | 'house'

/** A line of a credit note. Its figures are what is taken away, above zero. */
export interface CreditLine {
  readonly position: number
  /** Position of the invoice line that it takes from. */
  readonly of: number
  readonly orderLineId: string | null
  readonly description: string
  readonly way: CreditWay
  /** Pieces that are not billed any more, or that cost less. */
  readonly quantity: string
  readonly unit: string
  /** What is taken off for each price base. */
  readonly price: string
  readonly priceBase: string
  readonly net: Minor
  readonly taxCategory: string
  readonly taxRate: string
}

/** What a credit note takes away, ready to be kept. Amounts in the currency of its invoice, above zero. */
export interface CreditFigures {
  readonly lines: readonly CreditLine[]
  /** Freight, handling and other charges of the document that are taken back, too. */
  readonly charges: Minor
  readonly net: Minor
  /** Its net in the base currency at the rate of its invoice; what several take together is rounded once, so that they never take more than was spent. */
  readonly baseNet: Minor
  readonly tax: Minor
  readonly gross: Minor
  readonly taxes: readonly InvoiceTax[]
}

/** An invoice as it can be credited: what it billed, and what standing credit notes have taken of that already. */
export interface CreditedInvoice {
  readonly id: string
  readonly number: string
  readonly supplierNumber: string
  readonly state: InvoiceState
  readonly currency: string
  readonly rate: string
  readonly base: string
  readonly issueDate: string
  readonly charges: Minor
  readonly tax: Minor
  readonly gross: Minor
  readonly taxes: readonly InvoiceTax[]
  readonly lines: readonly InvoiceLine[]
  readonly credited: readonly CreditFigures[]
}

/** What is known of a credit note when somebody wants to do something with it. */
export interface CreditFacts extends CreditFigures {
  readonly id: string
  readonly number: string
  readonly issuer: CreditIssuer
  readonly state: CreditState
  /** The supplier's own number; of a debit note ours. */
  readonly supplierNumber: string
  readonly supplierId: string
  readonly supplier: string
  readonly issueDate: string
  readonly reason: string
  /** Its invoice, and what other standing credit notes took from it. */
  readonly invoice: CreditedInvoice
  readonly orders: readonly OrderFacts[]
  /** Of it set off against what is to be paid. */
  readonly setOff: Minor
  /** Of that against invoices that a payment has: it cannot be taken back any more. */
  readonly setOffPaid: Minor
  /** What it has posted: for taking it back. */
  readonly posted: {
    readonly quantities: readonly { readonly id: string; readonly lineId: string; readonly quantity: string }[]
    readonly spent: readonly BudgetEntry[]
  }
}
