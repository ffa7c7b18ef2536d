import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import {
  answerConsent,
  type Consent,
  type ConsentNext,
  endConsent,
  type NewConsent,
  whyNotDecide,
  whyNotWithdraw,
} from '#core/consent/consent.ts'
import { follow } from '#core/order/after.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { whyNotOpen } from '#core/order/proving.ts'
import { countEntries } from '#core/receive/becoming.ts'
import type { AboveTolerance, CountedPart } from '#core/receive/counts.ts'
import type { ReceiptState } from '#core/receive/states.ts'

/** A count above the tolerance counts once somebody else has said yes: whoever buys, or another receiver. */
export const overQuestion = (
  order: OrderFacts,
  above: readonly AboveTolerance[],
  reason: string,
  actor: ActorFacts,
): NewConsent => ({
  purpose: 'overReceipt',
  documentKind: 'receipt',
  documentId: '',
  reason,
  subject: { lines: above.map(({ line, over }) => ({ position: line.position, over, unit: line.unit })) },
  steps: [
    {
      stage: 1,
      asked: [
        { kind: 'right', right: 'order.write', costCentre: null },
        { kind: 'right', right: 'delivery.receive', costCentre: null },
      ],
      notBy: [actor.id],
      label: order.number,
    },
  ],
})

/** A count that waits for somebody's yes. */
export interface AskedReceipt {
  readonly number: string
  readonly state: ReceiptState
  readonly parts: readonly CountedPart[]
  readonly consent: Consent | null
}
export interface AnsweredNext {
  readonly state: ReceiptState
  readonly consent: ConsentNext
}

/** Somebody else says yes, and it counts as of the day on which it was counted; or no, and it never did. */
export function answerOver(
  receipt: AskedReceipt,
  order: OrderFacts,
  actor: ActorFacts,
  answer: 'approve' | 'reject',
  reason: string,
): Decision<AnsweredNext> {
  const against = whyNotDecide(receipt.consent, actor)
  if (against.length > 0) return refused(against)
  const answered = answerConsent(receipt.consent!, actor, answer, reason)
  if (!answered.ok) return refused(answered.reasons)
  if (answer === 'approve' && whyNotOpen(order).length > 0) return refused(whyNotOpen(order))
  const yes = answer === 'approve'
  return done<AnsweredNext>(
    { state: yes ? 'posted' : 'refused', consent: answered.next },
    { action: yes ? 'overAccepted' : 'overRefused', changes: { receipt: receipt.number }, reason },
    yes ? follow(order, countEntries(order, receipt.parts)) : {},
  )
}

/** Whoever counted takes the question back, and counts anew. */
export function withdrawOver(receipt: AskedReceipt, actor: ActorFacts, reason: string): Decision<AnsweredNext> {
  const against = receipt.consent ? whyNotWithdraw(receipt.consent, actor) : whyNotDecide(null, actor)
  if (against.length > 0) return refused(against)
  return done<AnsweredNext>(
    { state: 'refused', consent: endConsent(receipt.consent!, 'withdrawn') },
    { action: 'overWithdrawn', changes: { receipt: receipt.number }, reason },
  )
}
