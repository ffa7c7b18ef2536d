import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { INVOICE_STATES } from '#core/bill/states.ts'
import { type Decision, done, type Message, refused, saysWhy } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

export const whyNotReject = (invoice: Pick<InvoiceFacts, 'state'>, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'invoice.write'),
  ...notNow(INVOICE_STATES, 'invoice', invoice.state, 'reject'),
]

/** The supplier reads that its invoice goes back, and why. */
const sentBackMail = ({ id, supplierId, supplierNumber }: Pick<InvoiceFacts, 'id' | 'supplierId' | 'supplierNumber'>, reason: string): Message => ({ template: 'invoice.sentBack', to: { kind: 'supplier', id: supplierId, message: 'invoices' }, key: `sent-back:${id}`, details: { number: supplierNumber, reason, path: `/supplier/invoices/${id}` } }) // prettier-ignore

/** Rejects an invoice that is not posted, and sends it back with the reason; nothing of it is in the ledgers. Its number may come again. */
export function rejectInvoice(
  invoice: Pick<InvoiceFacts, 'state' | 'holds' | 'id' | 'supplierId' | 'supplierNumber'>,
  actor: ActorFacts,
  reason: string,
): Decision<InvoiceNext> {
  const against = [
    ...whyNotReject(invoice, actor),
    ...(saysWhy(reason) ? [] : [stop('bill.wantsReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const end = invoice.holds.filter(hold => !hold.ended).map(hold => hold.id)
  return done<InvoiceNext>(
    { state: 'rejected', holds: { open: [], end } },
    { action: 'reject', reason },
    { says: [sentBackMail(invoice, reason)] },
  )
}
