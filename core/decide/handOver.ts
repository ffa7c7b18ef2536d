import { whyNotPass } from '#core/consent/passStep.ts'
import type { ConsentStep } from '#core/consent/consent.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** A step that waits for somebody who leaves, with whom else it asks. */
export interface LeftStep {
  readonly id: string
  readonly number: string
  readonly step: ConsentStep
  /** Whether who takes over may decide such a question. */
  readonly able: boolean
}

/** What becomes of each: given to the successor, left to the others whom it asks too, or it cannot be given and why. */
export type Given =
  | { readonly kind: 'gives'; readonly id: string }
  | { readonly kind: 'others'; readonly id: string }
  | { readonly kind: 'cannot'; readonly id: string; readonly number: string; readonly reasons: readonly Reason[] }

export interface Taker {
  readonly id: string
  readonly name: string
  readonly able: boolean
}

/** What stands in the way of a hand-over: to oneself who leaves, or to somebody who may not decide. */
export const whyNotHandOver = (fromId: string, to: Taker): Reason[] => [
  ...(fromId === to.id ? [stop('handOver.self', {}, { place: 'toPersonId' })] : []),
  ...(to.able ? [] : [stop('decide.withoutRight', { person: to.name }, { place: 'toPersonId' })]),
]

/**
 * Everything that waits for somebody who leaves goes to one other person, each step for itself: nobody is given what they asked for, and
 * where a group is asked the others go on.
 */
export const handOver = (steps: readonly LeftStep[], to: Taker, reason: string): Given[] =>
  steps.map(({ id, number, step, able }): Given => {
    if (step.asked.length > 1) return { kind: 'others', id }
    const reasons = whyNotPass(step, { ...to, able }, reason)
    return reasons.length === 0 ? { kind: 'gives', id } : { kind: 'cannot', id, number, reasons }
  })
