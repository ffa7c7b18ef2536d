import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { RunFacts } from '#core/pay/facts.ts'
import { whyNotLeave } from '#core/pay/payable.ts'
import { RUN_STATES, type RunState } from '#core/pay/states.ts'
import { notNow } from '#core/states.ts'

export interface SentNext {
  readonly state: RunState
  /** Its payments are at the bank from now on. */
  readonly paymentsSent: boolean
}

/**
 * Written before the file is handed to the bank, so that nothing that may have left can be withdrawn. An account or supplier that changed
 * since the approval stops it here for the last time. A run that is leaving already may be handed over again: the bank knows its message.
 */
export function leaveRun(run: RunFacts): Decision<SentNext> {
  if (run.state === 'sending')
    return done<SentNext>({ state: 'sending', paymentsSent: false }, { action: 'handedOverAgain' })
  const against = [...notNow(RUN_STATES, 'paymentRun', run.state, 'leave'), ...run.payments.flatMap(whyNotLeave)]
  if (against.length > 0) return refused(against)
  return done<SentNext>({ state: 'sending', paymentsSent: false }, { action: 'leaves' })
}

/** The bank has taken the file. */
export function sendRun(run: RunFacts): Decision<SentNext> {
  const against = notNow(RUN_STATES, 'paymentRun', run.state, 'send')
  if (against.length > 0) return refused(against)
  return done<SentNext>({ state: 'sent', paymentsSent: true }, { action: 'sent' })
}
