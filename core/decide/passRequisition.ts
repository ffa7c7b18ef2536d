import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { stepById, type Successor, whyNotPass } from '#core/consent/passStep.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { waitingMail } from '#core/decide/decideRequisition.ts'
import { REQUISITION_STATES } from '#core/request/states.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { notNow } from '#core/states.ts'

export interface PassedNext {
  readonly stepId: string
  readonly personId: string
}

/** A steward passes a step to another person, with a reason that stays; a stalled step is freed so. */
export function passRequisition(
  request: RequisitionFacts,
  stepId: string,
  to: Successor,
  actor: ActorFacts,
  reason: string,
): Decision<PassedNext> {
  const step = request.consent ? stepById(request.consent, stepId) : undefined
  const against = [
    ...needsRight(actor, 'requisition.passOn'),
    ...notNow(REQUISITION_STATES, 'requisition', request.state, 'approve'),
    ...whyNotPass(step, to, reason),
  ]
  if (against.length > 0) return refused(against)
  return done<PassedNext>(
    { stepId, personId: to.id },
    { action: 'passedOn', changes: { rule: step!.label, to: to.name }, reason },
    { says: step!.state === 'open' ? [waitingMail(request, to.id, request.round)] : [] },
  )
}
