import type { ActorFacts } from '#core/acts/actor.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { whyNotPost } from '#core/bill/postInvoice.ts'
import { whyNotReject } from '#core/bill/rejectInvoice.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { whyNotVoid } from '#core/bill/voidInvoice.ts'
import { type Action, action } from '#core/acts/decision.ts'
import { isIn } from '#core/states.ts'

/** What can be done with an invoice now, and for the rest why not. What a paid or ended one would need first is not offered. */
export function invoiceActions(invoice: InvoiceFacts, actor: ActorFacts): Action[] {
  if (isIn(INVOICE_GROUPS.waiting, invoice.state))
    return [action('post', whyNotPost(invoice, actor), true), action('reject', whyNotReject(invoice, actor))]
  return isIn(INVOICE_GROUPS.owed, invoice.state) ? [action('void', whyNotVoid(invoice, actor))] : []
}
