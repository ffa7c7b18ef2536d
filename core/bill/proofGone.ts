import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { INVOICE_GROUPS, INVOICE_STATES } from '#core/bill/states.ts'
import { takenBack } from '#core/bill/takenBack.ts'
import { type Done, done } from '#core/acts/decision.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { OrderLine } from '#core/order/facts.ts'
import { billed, provenForBill } from '#core/order/measures.ts'
import { waitsForProof } from '#core/request/kinds.ts'
import { isIn, transition } from '#core/states.ts'

/** Whether more of a line is billed than is proven, where it has to be proven first. */
export const isBilledTooEarly = (line: OrderLine): boolean =>
  waitsForProof(line) && new Decimal(billed(line)).gt(provenForBill(line))

/** The lines that an invoice has billed and that are no longer proven as far as they are billed. */
export const unprovenLines = (invoice: Pick<InvoiceFacts, 'lines' | 'orders'>): OrderLine[] => {
  const own = new Set(invoice.lines.map(line => line.orderLineId))
  return invoice.orders.flatMap(order => order.lines).filter(line => own.has(line.id) && isBilledTooEarly(line))
}

/**
 * A receipt was taken back after its bill was posted. As long as no payment has it, the bill is taken out of the books and waits again, to be matched
 * anew; what is on its way or paid stays, and says that its proof is gone.
 */
export function proofGone(invoice: InvoiceFacts): Done<InvoiceNext> {
  const changes = {
    lines: unprovenLines(invoice).map(line => ({ position: line.position, billed: billed(line), proven: provenForBill(line) })), // prettier-ignore
  }
  if (!isIn(INVOICE_GROUPS.unpaid, invoice.state))
    return done<InvoiceNext>({ state: invoice.state }, { action: 'proofGone', changes })
  const moved = transition(INVOICE_STATES, 'invoice', invoice.state, 'unpost')
  const state = moved.ok ? moved.state : invoice.state
  return done<InvoiceNext>({ state }, { action: 'unposted', changes }, takenBack(invoice))
}
