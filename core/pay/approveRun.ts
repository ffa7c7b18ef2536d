import type { ActorFacts } from '#core/acts/actor.ts'
import { answerConsent, type ConsentNext, whyNotDecide } from '#core/consent/consent.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { RunFacts } from '#core/pay/facts.ts'
import { whyNotLeave } from '#core/pay/payable.ts'
import { RUN_STATES, type RunState } from '#core/pay/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

export interface ApprovedNext {
  readonly state: RunState
  readonly consent: ConsentNext
  /** When the bank is told to carry it out: a day that has passed meanwhile becomes today. */
  readonly executeOn: string
}

/** What stands in the way of approving: the time, the person, or an account or supplier that changed since it was proposed. */
export function whyNotApprove(run: RunFacts, actor: ActorFacts, ownAccount: boolean): Reason[] {
  const late = notNow(RUN_STATES, 'paymentRun', run.state, 'approve')
  const who = late.length > 0 ? late : whyNotDecide(run.approval, actor)
  if (who.length > 0) return who
  return [
    ...run.payments.flatMap(whyNotLeave),
    ...(ownAccount ? [] : [stop('pay.noOwnAccount', {}, { clearedBy: ['steward'] })]),
  ]
}

/** Approves a run as another person than the one who proposed it; accounts and suppliers are looked at once more. */
export function approveRun(
  run: RunFacts,
  actor: ActorFacts,
  today: string,
  ownAccount: boolean,
): Decision<ApprovedNext> {
  const against = whyNotApprove(run, actor, ownAccount)
  if (against.length > 0) return refused(against)
  const answered = answerConsent(run.approval!, actor, 'approve', '')
  if (!answered.ok) return refused(answered.reasons)
  if (answered.next.state !== 'given')
    return done<ApprovedNext>(
      { state: run.state, consent: answered.next, executeOn: run.executeOn },
      { action: 'decided', changes: { rule: answered.step.label } },
    )
  return done<ApprovedNext>(
    { state: 'approved', consent: answered.next, executeOn: run.executeOn < today ? today : run.executeOn },
    { action: 'approved', changes: { payments: run.payments.length } },
  )
}
