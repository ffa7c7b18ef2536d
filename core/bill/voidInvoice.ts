import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { INVOICE_STATES } from '#core/bill/states.ts'
import { takenBack } from '#core/bill/takenBack.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

/** What stands in the way of voiding: it is not posted, or a payment run has it. */
export const whyNotVoid = (
  invoice: Pick<InvoiceFacts, 'state' | 'creditedBy' | 'setOff'>,
  actor: ActorFacts,
): Reason[] => [
  ...needsRight(actor, 'invoice.write'),
  ...(invoice.state === 'scheduled'
    ? [stop('bill.inRun', {}, { clearedBy: ['treasurer'] })]
    : notNow(INVOICE_STATES, 'invoice', invoice.state, 'void')),
  ...(invoice.creditedBy.length > 0 ? [stop('bill.credited', { numbers: invoice.creditedBy.join(', ') }, { clearedBy: ['invoiceClerk'] })] : []), // prettier-ignore
  ...(invoice.creditedBy.length === 0 && invoice.setOff > 0n ? [stop('bill.setOff', {}, { clearedBy: ['treasurer'] })] : []), // prettier-ignore
]

/**
 * Takes a posted invoice back by counter-entries: what it billed is not billed, what it spent is not spent, and commitment and accrual are
 * what they have to be without it. Where nothing else happened since, that is exactly what they were before it was posted.
 */
export function voidInvoice(invoice: InvoiceFacts, actor: ActorFacts, reason: string): Decision<InvoiceNext> {
  const against = [
    ...whyNotVoid(invoice, actor),
    ...(saysWhy(reason) ? [] : [stop('bill.wantsReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  return done<InvoiceNext>({ state: 'voided' }, { action: 'void', reason }, takenBack(invoice))
}
