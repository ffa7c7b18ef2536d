import type { Consent, ConsentStep } from '#core/consent/consent.ts'
import { saysWhy } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Somebody to whom a step is passed, with whether they may decide such questions. */
export interface Successor {
  readonly id: string
  readonly name: string
  readonly able: boolean
}

/** What stands in the way of passing a step on: it is decided, the other may not decide this one, or nobody says why. */
export function whyNotPass(step: ConsentStep | undefined, to: Successor, reason: string): Reason[] {
  if (step?.state !== 'open' && step?.state !== 'later') return [stop('decide.stepDecided')]
  return [
    ...(step.notBy.includes(to.id) ? [stop('decide.own')] : []),
    ...(to.able ? [] : [stop('decide.withoutRight', { person: to.name })]),
    ...(saysWhy(reason) ? [] : [stop('decide.noReason', {}, { place: 'reason' })]),
  ]
}

/** The step of a question, by id. */
export const stepById = (consent: Pick<Consent, 'steps'>, stepId: string): ConsentStep | undefined =>
  consent.steps.find(step => step.id === stepId)
