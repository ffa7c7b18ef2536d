import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, type Message, refused } from '#core/acts/decision.ts'
import { cleared } from '#core/bill/clearHold.ts'
import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { KeptHold } from '#core/bill/holds.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { answerConsent, type ConsentAnswer, endConsent, whyNotDecide, whyNotWithdraw } from '#core/consent/consent.ts'
import { formatAmount } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** What stands against this person's decision about a difference: it has ended meanwhile, nobody is asked, or it is not theirs. */
export const whyNotDecideClearing = (hold: KeptHold | undefined, actor: ActorFacts): Reason[] =>
  hold === undefined || hold.ended ? [stop('bill.holdEnded')] : whyNotDecide(hold.asked, actor)

/**
 * Decides whether a difference may be accepted. The last yes clears it, with the reason of who asked; a no leaves it where it stands, and who
 * asked is told either way.
 */
export function decideClearing(
  invoice: InvoiceFacts,
  holdId: string,
  askedReason: string,
  actor: ActorFacts,
  answer: Extract<ConsentAnswer, 'approve' | 'reject'>,
  reason: string,
): Decision<InvoiceNext> {
  const hold = invoice.holds.find(one => one.id === holdId)
  const against = whyNotDecideClearing(hold, actor)
  if (against.length > 0) return refused(against)
  const answered = answerConsent(hold!.asked!, actor, answer, reason)
  if (!answered.ok) return refused(answered.reasons)
  const asked = { holdId, consent: answered.next }
  const changes = { kind: hold!.kind, line: hold!.position, rule: answered.step.label }
  if (answered.next.state === 'open')
    return done<InvoiceNext>({ state: invoice.state, asked }, { action: 'decided', changes, reason })
  const says = [decidedMail(invoice, hold!, answer, actor.name, reason)]
  return answer === 'approve'
    ? done<InvoiceNext>(
        { ...cleared(invoice, hold!, askedReason), asked },
        { action: 'holdCleared', changes, reason: reason || askedReason },
        { says },
      )
    : done<InvoiceNext>({ state: invoice.state, asked }, { action: 'clearingRefused', changes, reason }, { says })
}

/** Whoever asked takes the question back; the difference stands as it did. */
export function withdrawClearing(
  invoice: InvoiceFacts,
  holdId: string,
  actor: ActorFacts,
  reason: string,
): Decision<InvoiceNext> {
  const hold = invoice.holds.find(one => one.id === holdId)
  const against = hold?.asked ? whyNotWithdraw(hold.asked, actor) : [stop('bill.holdEnded')]
  if (against.length > 0) return refused(against)
  return done<InvoiceNext>(
    { state: invoice.state, asked: { holdId, consent: endConsent(hold!.asked!, 'withdrawn') } },
    { action: 'clearingWithdrawn', changes: { kind: hold!.kind, line: hold!.position }, reason },
  )
}

const decidedMail = (
  invoice: InvoiceFacts,
  hold: KeptHold,
  answer: 'approve' | 'reject',
  by: string,
  reason: string,
): Message => ({
  template: answer === 'approve' ? 'invoice.difference.approved' : 'invoice.difference.refused',
  to: { kind: 'person', id: hold.asked!.askedBy },
  key: `invoice-difference:${hold.asked!.id}`,
  details: {
    number: invoice.number,
    title: `${invoice.supplier}, ${invoice.supplierNumber}`,
    currency: invoice.currency,
    amount: formatAmount(hold.amount, invoice.currency),
    by,
    reason,
    path: `/bill/${invoice.id}`,
  },
})
