import type { InvoiceState } from '#core/bill/states.ts'
import { type Breach, breach } from '#core/ledger/law.ts'
import { PAYMENT_GROUPS, type PaymentState } from '#core/pay/states.ts'
import { isIn } from '#core/states.ts'

/** What is known of an invoice's payments when the books are looked through. */
export interface PaidFacts {
  readonly number: string
  readonly state: InvoiceState
  readonly payments: readonly PaymentState[]
}

/**
 * An invoice is scheduled exactly while one payment of it is on its way, and paid exactly when one is booked; there is never more than one
 * of either.
 */
export function paymentLaws(invoice: PaidFacts): Breach[] {
  const live = invoice.payments.filter(state => isIn(PAYMENT_GROUPS.live, state)).length
  const paid = invoice.payments.filter(state => state === 'paid').length
  const wanted = { scheduled: [1, 0], paid: [0, 1] }[invoice.state as 'scheduled' | 'paid'] ?? [0, 0]
  return [
    ...(live === wanted[0] ? [] : [breach('paymentsOnTheirWay', invoice.number, String(wanted[0]), String(live))]),
    ...(paid === wanted[1] ? [] : [breach('paymentsBooked', invoice.number, String(wanted[1]), String(paid))]),
  ]
}
