import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import {
  answerConsent,
  type ConsentAnswer,
  type ConsentNext,
  type NewConsent,
  secondYes,
  whyNotDecide,
} from '#core/consent/consent.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import type { RunFacts } from '#core/pay/facts.ts'
import { PAYMENT_GROUPS, RUN_GROUPS, RUN_STATES, type RunState } from '#core/pay/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn, notNow, transition } from '#core/states.ts'

export interface RecalledNext {
  readonly state: RunState
  readonly consent: ConsentNext
  /** Payments that the bank will not carry out; their invoices are payable again. */
  readonly ends: readonly string[]
}

/** What stands in the way of asking for a recall: the bank cannot have it, or it was asked already. */
export const whyNotAskRecall = (run: RunFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'payment.propose'),
  ...notNow(RUN_STATES, 'paymentRun', run.state, 'recall'),
  ...(run.recall?.state === 'open' ? [stop('pay.recallAsked', { run: run.number })] : []),
]

/**
 * Asks for a recall: the bank has been asked to stop the file. Nothing moves before a second person records what the bank said, because
 * until then the money may go out.
 */
export function askRecall(run: RunFacts, actor: ActorFacts, reason: string): Decision<{ readonly asks: NewConsent }> {
  const against = [
    ...whyNotAskRecall(run, actor),
    ...(saysWhy(reason) ? [] : [stop('pay.wantsReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const asks = secondYes(
    { purpose: 'recall', documentKind: 'paymentRun', documentId: run.id, reason },
    'payment.approve',
    [actor.id],
  )
  return done({ asks }, { action: 'recallAsked', reason })
}

/** What stands in the way of answering a recall. */
export function whyNotRecall(run: RunFacts, actor: ActorFacts): Reason[] {
  const who = whyNotDecide(run.recall, actor)
  return who.length > 0 || isIn(RUN_GROUPS.out, run.state) ? who : notNow(RUN_STATES, 'paymentRun', run.state, 'recall')
}

/**
 * A second person records what the bank said, with how they know. Approved: the bank has stopped it, every payment that is not booked ends
 * and its invoice is payable again. Refused: the file stays out.
 */
export function recallRun(
  run: RunFacts,
  actor: ActorFacts,
  answer: Extract<ConsentAnswer, 'approve' | 'reject'>,
  reason: string,
): Decision<RecalledNext> {
  const against = [
    ...whyNotRecall(run, actor),
    ...(saysWhy(reason) ? [] : [stop('pay.wantsReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  const answered = answerConsent(run.recall!, actor, answer, reason)
  if (!answered.ok) return refused(answered.reasons)
  if (answer === 'reject')
    return done<RecalledNext>(
      { state: run.state, consent: answered.next, ends: [] },
      { action: 'recallRefused', reason },
    )
  const ends = run.payments.filter(payment => isIn(PAYMENT_GROUPS.live, payment.state)).map(payment => payment.id)
  const paid = ends.length < run.payments.length
  const moved = transition(RUN_STATES, 'paymentRun', run.state, 'recall')
  const state = paid && run.state === 'sent' ? 'answered' : moved.ok ? moved.state : run.state
  return done<RecalledNext>(
    { state, consent: answered.next, ends },
    { action: 'recalled', changes: { payments: ends.length }, reason },
  )
}
