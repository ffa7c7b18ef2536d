import type { ActorFacts } from '#core/acts/actor.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import { HOLD_KINDS, type KeptHold } from '#core/bill/holds.ts'
import { matchInvoice } from '#core/bill/matchInvoice.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** What stands against clearing a hold: it has ended, a reason cannot mend it, or it is somebody else's. */
export function whyNotClear(invoice: Pick<InvoiceFacts, 'state'>, hold: KeptHold, actor: ActorFacts): Reason[] {
  if (hold.ended || !isIn(INVOICE_GROUPS.waiting, invoice.state)) return [stop('bill.holdEnded')]
  if (!HOLD_KINDS[hold.kind].byReason)
    return [stop(`bill.clearOtherwise.${hold.kind}`, {}, { clearedBy: [hold.clearedBy] })]
  return actor.roles.includes(hold.clearedBy)
    ? []
    : [stop('bill.holdNotYours', { role: hold.clearedBy }, { clearedBy: [hold.clearedBy] })]
}

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
  const holds = invoice.holds.map(one => (one.id === holdId ? { ...one, ended: true, cleared: true } : one))
  const matched = matchInvoice({ ...invoice, holds })
  return done<InvoiceNext>(
    { state: matched.state, holds: matched.holds, clears: { holdId, reason } },
    { action: 'holdCleared', changes: { kind: hold.kind, line: hold.position }, reason },
  )
}
