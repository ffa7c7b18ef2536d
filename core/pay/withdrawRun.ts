import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type ConsentNext, endConsent } from '#core/consent/consent.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import type { RunFacts } from '#core/pay/facts.ts'
import { RUN_GROUPS, RUN_STATES, type RunState } from '#core/pay/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn, notNow } from '#core/states.ts'

export interface WithdrawnNext {
  readonly state: RunState
  readonly consent: ConsentNext | null
  /** Payments that end without money; their invoices are payable again. */
  readonly ends: readonly string[]
}

/** What stands in the way of withdrawing: what may have left can only be recalled. */
export const whyNotWithdrawRun = (run: RunFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'payment.propose'),
  ...(isIn(RUN_GROUPS.out, run.state)
    ? [stop('pay.onItsWay', { run: run.number }, { clearedBy: ['treasurer'] })]
    : notNow(RUN_STATES, 'paymentRun', run.state, 'withdraw')),
]

/** Takes a run back while the bank cannot have it; its invoices can be paid by another. */
export function withdrawRun(run: RunFacts, actor: ActorFacts, reason: string): Decision<WithdrawnNext> {
  const against = [
    ...whyNotWithdrawRun(run, actor),
    ...(saysWhy(reason) ? [] : [stop('pay.wantsReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  return done<WithdrawnNext>(
    {
      state: 'withdrawn',
      consent: run.approval?.state === 'open' ? endConsent(run.approval, 'withdrawn') : null,
      ends: run.payments.map(payment => payment.id),
    },
    { action: 'withdrawn', reason },
  )
}
