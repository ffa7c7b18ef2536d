import type { ActorFacts } from '#core/acts/actor.ts'
import { isAskedAbout } from '#core/bill/askClearing.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { clearersOf } from '#core/bill/holdReminders.ts'
import { HOLD_KINDS, type KeptHold } from '#core/bill/holds.ts'
import { matchInvoice } from '#core/bill/matchInvoice.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** What stands against clearing a hold: it has ended, a reason cannot mend it, it is somebody else's, or others are asked about it. */
export function whyNotClear(invoice: Pick<InvoiceFacts, 'state'>, hold: KeptHold, actor: ActorFacts): Reason[] {
  if (hold.ended || !isIn(INVOICE_GROUPS.waiting, invoice.state)) return [stop('bill.holdEnded')]
  if (!HOLD_KINDS[hold.kind].byReason)
    return [stop(`bill.clearOtherwise.${hold.kind}`, {}, { clearedBy: [hold.clearedBy] })]
  if (!clearersOf(hold).some(role => actor.roles.includes(role)))
    return [stop('bill.holdNotYours', { role: hold.clearedBy }, { clearedBy: clearersOf(hold) })]
  return isAskedAbout(hold) ? [stop('bill.holdAsked')] : []
}

/** The differences of an invoice that this person can accept with a reason. */
export const clearable = (invoice: Pick<InvoiceFacts, 'state' | 'holds'>, actor: ActorFacts): KeptHold[] =>
  invoice.holds.filter(hold => whyNotClear(invoice, hold, actor).length === 0)

/** Clears one difference with a reason that is recorded. It takes no other away. */
export function clearHold(
  invoice: InvoiceFacts,
  holdId: string,
  actor: ActorFacts,
  reason: string,
): Decision<InvoiceNext> {
  const hold = invoice.holds.find(one => one.id === holdId)
  if (!hold) return refused([stop('bill.holdEnded')])
  const against = [
    ...whyNotClear(invoice, hold, actor),
    ...(saysWhy(reason) ? [] : [stop('bill.wantsReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  return done<InvoiceNext>(cleared(invoice, hold, reason), {
    action: 'holdCleared',
    changes: { kind: hold.kind, line: hold.position },
    reason,
  })
}

/** The invoice with a hold cleared: what else stops it stays. */
export function cleared(invoice: InvoiceFacts, hold: KeptHold, reason: string): InvoiceNext {
  const holds = invoice.holds.map(one => (one.id === hold.id ? { ...one, ended: true, cleared: true } : one))
  const matched = matchInvoice({ ...invoice, holds })
  return { state: matched.state, holds: matched.holds, clears: { holdId: hold.id, reason } }
}
