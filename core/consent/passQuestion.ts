import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { type Consent, openSteps } from '#core/consent/consent.ts'
import { stepById, type Successor, whyNotPass } from '#core/consent/passStep.ts'
import { stop } from '#core/reasons.ts'

/** What somebody has to be allowed to who decides a step in another's stead: the right that it asks for by name. */
export function rightOfStep(consent: Pick<Consent, 'steps'>, stepId: string): string | null {
  const asked = stepById(consent, stepId)?.asked.find(one => one.kind === 'person')
  return asked?.kind === 'person' ? (asked.right ?? null) : null
}

/** A steward passes a step of any question to somebody else who may decide it; whom it asks by a right only needs no passing on. */
export function passQuestion(
  consent: Consent,
  stepId: string,
  to: Successor,
  actor: ActorFacts,
  reason: string,
): Decision<{ readonly stepId: string; readonly personId: string }> {
  const right = needsRight(actor, 'requisition.passOn')
  if (right.length > 0) return refused(right)
  const step = stepById(consent, stepId)
  const named = step?.asked.every(one => one.kind === 'person') ?? false
  const against = [
    ...(consent.state === 'open' && openSteps(consent).length > 0 ? [] : [stop('decide.stepDecided')]),
    ...(step && !named ? [stop('decide.askedByRight')] : []),
    ...whyNotPass(step, to, reason),
  ]
  if (against.length > 0) return refused(against)
  return done({ stepId, personId: to.id }, { action: 'passedOn', changes: { from: step!.who, to: to.name }, reason })
}
