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

/** A step that waits on nobody, or only on people who cannot decide it any more (`able` are those who can), cannot move by itself. */
export const isStalled = (step: ConsentStep, able: ReadonlySet<string>): boolean =>
  step.state === 'open' && step.asked.every(asked => asked.kind === 'person' && !able.has(asked.personId))

/** Whether somebody can decide what they are asked: their account is open, and they still have the right. */
export const isAble = (
  person: { readonly active: boolean; readonly rights: readonly string[] },
  right: string | undefined,
): boolean => person.active && (right === undefined || person.rights.includes(right))

/** The step of a question, by id. */
export const stepById = (consent: Pick<Consent, 'steps'>, stepId: string): ConsentStep | undefined =>
  consent.steps.find(step => step.id === stepId)
