import { type ActorFacts } from '#core/acts/actor.ts'
import type { NewConsent } from '#core/consent/consent.ts'
import { type Decision, done, NOT_YOURS, obstacles, refused } from '#core/acts/decision.ts'
import { leadTo } from '#core/ledger/quantity.ts'
import { checks, type Reason, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { reservationEntries, withQuantities } from '#core/request/reservation.ts'
import { REQUISITION_GROUPS, REQUISITION_STATES, type RequisitionState } from '#core/request/states.ts'
import { type PathStep, turnsOf } from '#core/rules/path.ts'
import { isIn, notNow } from '#core/states.ts'

/** What was found out about a request before it is submitted. */
export interface Examined {
  readonly reasons: readonly Reason[]
  readonly path: readonly PathStep[]
  /** For each step whether a decision of before stands for it. */
  readonly stands: readonly boolean[]
}

export interface SubmittedNext {
  readonly state: RequisitionState
  readonly round: number
  /** Those who decide, with whose decision stands already; nothing where no rule asks anybody. */
  readonly asks: NewConsent | null
}

/** What stands in the way of submitting at all: it is not this person's, or not a draft. What is wrong with it comes beside. */
export const whyNotSubmit = (request: Pick<RequisitionFacts, 'state' | 'requesterId'>, actor: ActorFacts): Reason[] => [
  ...(request.requesterId === actor.id ? [] : [NOT_YOURS]),
  ...notNow(REQUISITION_STATES, 'requisition', request.state, 'submit'),
]

/** What those who decide a request have to be allowed to, when they are asked and when they answer. */
export const APPROVAL_RIGHT = 'requisition.decide'

/** The question to those who decide a request, stage by stage. Nobody decides what they asked for themselves. */
export const approvalQuestion = (
  request: Pick<RequisitionFacts, 'id' | 'requesterId'>,
  path: readonly PathStep[],
): NewConsent => ({
  purpose: 'approval',
  documentKind: 'requisition',
  documentId: request.id,
  reason: '',
  steps: path.map((step, index) => ({
    stage: turnsOf(path)[index]!,
    asked: step.approvers.map(one => ({ kind: 'person', personId: one.personId, right: APPROVAL_RIGHT })),
    notBy: [request.requesterId],
    label: step.rules.map(rule => rule.name).join(', '),
  })),
})

/**
 * Submits: what every line takes is requested and reserved, and those who decide are asked; where nobody has to, or all have decided about
 * just this before, it is approved. What has to be looked at wants a reason, which those who decide will see.
 */
export function submitRequisition(
  request: RequisitionFacts,
  quantities: ReadonlyMap<string, string>,
  examined: Examined,
  actor: ActorFacts,
  checkReason: string,
): Decision<SubmittedNext> {
  const wrong = [...whyNotSubmit(request, actor), ...examined.reasons]
  const asking = checks(wrong)
  const against = obstacles(wrong, checkReason, stop('requisition.wantsReason', { count: asking.length }))
  if (against.length > 0) return refused(against)
  const quantity = request.lines
    .filter(line => line.state !== 'cancelled')
    .flatMap(line => leadTo(line, 'requested', quantities.get(line.id) ?? line.quantity))
  const given = examined.path.every((_step, index) => examined.stands[index])
  const round = request.round + 1
  return done<SubmittedNext>(
    {
      state: given ? 'approved' : 'waiting',
      round,
      asks: examined.path.length === 0 ? null : approvalQuestion(request, examined.path),
    },
    {
      action: 'submitted',
      changes: {
        round,
        ...(examined.stands.some(Boolean) ? { kept: examined.stands.filter(Boolean).length } : {}),
        checks: asking.map(reason => ({ code: reason.code, details: reason.details })),
      },
      reason: checkReason,
    },
    { quantity, budget: reservationEntries(withQuantities(request.lines, quantity)) },
  )
}

/** What stands in the way of editing: it is somebody else's, or others have it already. */
export const whyNotEdit = (request: Pick<RequisitionFacts, 'state' | 'requesterId'>, actor: ActorFacts): Reason[] => [
  ...(request.requesterId === actor.id ? [] : [NOT_YOURS]),
  ...(isIn(REQUISITION_GROUPS.drafts, request.state)
    ? []
    : [stop('state.notNow', { kind: 'requisition', state: request.state, action: 'edit', possible: 'withdraw' })]),
]

/** What stands in the way of making a new draft of the same lines: it is somebody else's. */
export const whyNotCopy = (request: Pick<RequisitionFacts, 'requesterId'>, actor: ActorFacts): Reason[] =>
  request.requesterId === actor.id ? [] : [NOT_YOURS]
