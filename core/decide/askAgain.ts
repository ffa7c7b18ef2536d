import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { type ConsentNext, endConsent, type StepState } from '#core/consent/consent.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { REQUISITION_STATES } from '#core/request/states.ts'
import type { PathStep } from '#core/rules/path.ts'
import { notNow } from '#core/states.ts'

/** A rule that asked, by its name and for which cost centre. */
interface Asking {
  readonly name: string
  readonly costCentre: string | null
}
/** A decision that was taken in favour, or not yet. */
export interface TakenStep {
  readonly id: string
  readonly state: StepState
  readonly decidedBy: string | null
  readonly onBehalfOf: string | null
  readonly rules: readonly Asking[]
}

const same = (one: Asking, other: Asking): boolean => one.name === other.name && one.costCentre === other.costCentre

/**
 * Which decisions of before stand for a step of the new way: those by somebody whom the step asks, or in their place, when every rule of
 * the step was satisfied so; somebody who was added by hand, by what they decided as such. Null: it has to be asked.
 */
export function standsFor(step: Pick<PathStep, 'approvers' | 'rules'>, taken: readonly TakenStep[]): TakenStep | null {
  const approved = taken.filter(one => one.state === 'approved' && one.decidedBy !== null)
  const asked = new Set(step.approvers.map(one => one.personId))
  const theirs = approved.filter(one => asked.has(one.decidedBy!) || asked.has(one.onBehalfOf ?? ''))
  if (step.rules.length === 0) return theirs.find(one => one.rules.length === 0) ?? null
  const fitting = step.rules.map(rule => theirs.find(one => one.rules.some(other => same(other, rule))))
  return fitting.every(Boolean) ? fitting[0]! : null
}

export interface AgainNext {
  readonly ends: ConsentNext
  readonly round: number
  /** For each step of the new way the decision that stands for it. */
  readonly stands: readonly (TakenStep | null)[]
}

export const whyNotAskAgain = (request: RequisitionFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'requisition.passOn'),
  ...notNow(REQUISITION_STATES, 'requisition', request.state, 'approve'),
]

/**
 * A steward finds the way of a request anew, by the rules and people of today. What was decided stands where the same rule asks the same
 * person; only the rest is asked.
 */
export function askAgain(
  request: RequisitionFacts,
  path: readonly PathStep[],
  reasons: readonly Reason[],
  taken: readonly TakenStep[],
  actor: ActorFacts,
  reason: string,
): Decision<AgainNext> {
  const against = whyNotAskAgain(request, actor)
  if (against.length > 0) return refused(against)
  if (reasons.length > 0) return refused(reasons)
  if (!saysWhy(reason)) return refused([stop('decide.noReason', {}, { place: 'reason' })])
  const stands = path.map(step => standsFor(step, taken))
  return done<AgainNext>(
    { ends: endConsent(request.consent!, 'dropped'), round: request.round + 1, stands },
    {
      action: 'askedAgain',
      changes: { kept: stands.filter(Boolean).length, asked: stands.filter(one => !one).length },
      reason,
    },
  )
}
