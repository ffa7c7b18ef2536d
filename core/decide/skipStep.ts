import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { type ConsentNext, type NewConsent, nextStage, secondYes } from '#core/consent/consent.ts'
import { stepById } from '#core/consent/passStep.ts'
import { waitingMails } from '#core/decide/decideRequisition.ts'
import type { Minor } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { REQUISITION_STATES } from '#core/request/states.ts'
import { notNow } from '#core/states.ts'

const RIGHT = 'requisition.passOn'

/**
 * What stands in the way of skipping a step: it is decided, it is about what the steward asked for themselves, or nobody else decides the
 * request. A request is never approved by nobody.
 */
export function whyNotSkip(request: RequisitionFacts, stepId: string, actor: ActorFacts, reason: string): Reason[] {
  const step = request.consent ? stepById(request.consent, stepId) : undefined
  const late = [...needsRight(actor, RIGHT), ...notNow(REQUISITION_STATES, 'requisition', request.state, 'approve')]
  if (late.length > 0) return late
  if (step?.state !== 'open' && step?.state !== 'later') return [stop('decide.stepDecided')]
  return [
    ...(request.requesterId === actor.id ? [stop('decide.own')] : []),
    ...lastOne(request, stepId),
    ...(saysWhy(reason) ? [] : [stop('decide.noReason', {}, { place: 'reason' })]),
  ]
}
/** Steps by which somebody has decided in its favour, or will. */
const DECIDE: ReadonlySet<string> = new Set(['open', 'later', 'approved'])
const lastOne = (request: RequisitionFacts, stepId: string): Reason[] =>
  request.consent!.steps.some(one => one.id !== stepId && DECIDE.has(one.state)) ? [] : [stop('decide.lastStep')]

/** What comes of a step that is skipped: at once, or when a second person says so, from an amount on. */
export type SkipNext =
  | { readonly kind: 'skipped'; readonly stepId: string; readonly consent: ConsentNext; readonly approved: boolean }
  | { readonly kind: 'asks'; readonly question: NewConsent }

/** A steward skips a step, with a reason that stays; from `secondFrom` on (base currency's smallest unit) a second one has to agree. */
export function skipStep(
  request: RequisitionFacts,
  stepId: string,
  actor: ActorFacts,
  reason: string,
  secondFrom: Minor,
): Decision<SkipNext> {
  const against = whyNotSkip(request, stepId, actor, reason)
  if (against.length > 0) return refused(against)
  if (request.total < secondFrom) return skipped(request, stepId, reason, null)
  const question = secondYes(
    { purpose: 'skip', documentKind: 'requisition', documentId: request.id, reason, subject: { stepId } },
    RIGHT,
    [actor.id, request.requesterId],
    stepById(request.consent!, stepId)!.label,
  )
  return done<SkipNext>(
    { kind: 'asks', question },
    { action: 'skipAsked', changes: { rule: question.steps[0]!.label }, reason },
  )
}

/** The step is skipped: those of the next stage are asked, if it was the last of its own. `askedBy`: who wanted it, where a second one agreed. */
export function skipped(
  request: RequisitionFacts,
  stepId: string,
  reason: string,
  askedBy: string | null,
): Decision<SkipNext> {
  const step = stepById(request.consent!, stepId)
  if (step?.state !== 'open' && step?.state !== 'later') return refused([stop('decide.stepDecided')])
  const against = lastOne(request, stepId)
  if (against.length > 0) return refused(against)
  const left = request.consent!.steps.map(one => (one.id === stepId ? { ...one, state: 'skipped' as const } : one))
  const { opens, given } = nextStage(left)
  const consent: ConsentNext = { state: given ? 'given' : 'open', answers: [], opens, drops: [] }
  return done<SkipNext>(
    { kind: 'skipped', stepId, consent, approved: given },
    { action: 'skipped', changes: { rule: step.label, from: step.who, ...(askedBy ? { askedBy } : {}) }, reason },
    { says: waitingMails(request, opens, request.round) },
  )
}
