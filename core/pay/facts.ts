import type { Consent } from '#core/consent/consent.ts'
import type { Minor } from '#core/money/amount.ts'
import type { PaymentState, RunState } from '#core/pay/states.ts'

export type AccountState = 'unproven' | 'proven' | 'closed'

/** An invoice that is due, with what decides whether it can be paid. */
export interface PayableFacts {
  readonly invoiceId: string
  readonly number: string
  readonly supplierId: string
  readonly supplier: string
  readonly supplierState: string
  /** How the supplier is paid; only credit transfers go through the bank's file. Empty: as usual. */
  readonly method: string
  readonly dueOn: string
  readonly amount: Minor
  readonly currency: string
  readonly baseAmount: Minor
  readonly account: {
    readonly id: string
    readonly iban: string
    readonly bic: string
    readonly holder: string
    readonly state: AccountState
  } | null
  /** ISO 20022 reason with which the bank refused or returned a payment of this invoice to this same account, if it did. */
  readonly refusedWith: string | null
  /** Both sides are still talking about it. */
  readonly disputed: boolean
}

/** One payment of a run. */
export interface PaymentFacts {
  readonly id: string
  readonly runId: string
  readonly runNumber: string
  readonly invoiceId: string
  readonly invoiceNumber: string
  readonly supplierId: string
  readonly supplier: string
  readonly supplierState: string
  readonly supplierNumber: string
  readonly issueDate: string
  readonly iban: string
  readonly holder: string
  readonly accountState: AccountState
  readonly amount: Minor
  readonly currency: string
  readonly endToEndId: string
  readonly state: PaymentState
  readonly paidOn: string | null
  /** What its invoice bills, by order line. */
  readonly lines: readonly { readonly orderLineId: string; readonly quantity: string }[]
}

export interface RunFacts {
  readonly id: string
  readonly number: string
  readonly state: RunState
  readonly executeOn: string
  readonly proposedBy: string
  readonly payments: readonly PaymentFacts[]
  /** The question to a second person whether it goes out. */
  readonly approval: Consent | null
  /** The question to a second person whether it is recalled at the bank. */
  readonly recall: Consent | null
}
