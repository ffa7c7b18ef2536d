import { type ActorFacts, mayDo } from '#core/acts/actor.ts'
import { type Decision, done, NOT_YOURS, refused, saysWhy } from '#core/acts/decision.ts'
import { openSteps, stepOf } from '#core/consent/consent.ts'
import type { Successor } from '#core/consent/passStep.ts'
import { waitingMail } from '#core/decide/decideRequisition.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { REQUISITION_STATES } from '#core/request/states.ts'
import { notNow } from '#core/states.ts'

export interface AddedNext {
  readonly personId: string
  /** It is decided beside those that are open now. */
  readonly stage: number
}

/** Who may add somebody: a steward, and where the house allows it the requester and whoever decides now. Nobody can be taken away so. */
export const whyNotAdd = (request: RequisitionFacts, actor: ActorFacts, byHand: boolean): Reason[] => {
  const late = notNow(REQUISITION_STATES, 'requisition', request.state, 'approve')
  if (late.length > 0) return late
  const theirs =
    request.requesterId === actor.id || (request.consent !== null && stepOf(request.consent, actor) !== undefined)
  return mayDo(actor, 'requisition.passOn') || (byHand && theirs) ? [] : [NOT_YOURS]
}

/** Adds somebody who has to decide, too, beside those who do now. */
export function addStep(
  request: RequisitionFacts,
  to: Successor,
  actor: ActorFacts,
  reason: string,
  byHand: boolean,
): Decision<AddedNext> {
  const against = whyNotAdd(request, actor, byHand)
  if (against.length > 0) return refused(against)
  const open = openSteps(request.consent!)
  const asked = request.consent!.steps.some(
    step =>
      (step.state === 'open' || step.state === 'later') &&
      step.asked.length === 1 &&
      step.asked.some(one => one.kind === 'person' && one.personId === to.id),
  )
  const reasons = [
    ...(to.id === request.requesterId ? [stop('decide.own')] : []),
    ...(to.able ? [] : [stop('decide.withoutRight', { person: to.name })]),
    ...(asked ? [stop('decide.askedAlready', { person: to.name })] : []),
    ...(saysWhy(reason) ? [] : [stop('decide.noReason', {}, { place: 'reason' })]),
  ]
  if (reasons.length > 0) return refused(reasons)
  return done<AddedNext>(
    { personId: to.id, stage: open[0]?.stage ?? 1 },
    { action: 'added', changes: { to: to.name }, reason },
    { says: [waitingMail(request, to.id, request.round)] },
  )
}
