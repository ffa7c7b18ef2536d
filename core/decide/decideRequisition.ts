import type { ActorFacts } from '#core/acts/actor.ts'
import { answerConsent, type ConsentAnswer, type ConsentNext, whyNotDecide } from '#core/consent/consent.ts'
import { type Decision, done, type Message, refused } from '#core/acts/decision.ts'
import { formatAmount } from '#core/money/amount.ts'
import { type Reason } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { REQUISITION_STATES, type RequisitionState } from '#core/request/states.ts'
import { takeBack } from '#core/request/takeBack.ts'
import { notNow, transition } from '#core/states.ts'

export interface DecidedNext {
  readonly state: RequisitionState
  readonly consent: ConsentNext
  /** Its lines wait to be bought from now on. */
  readonly intoPool: boolean
  /** The first round whose decisions may still stand, where a no ends those of before. */
  readonly standsFrom: number | null
}

/** What stands in the way of this person's decision about a request. */
export function whyNotDecideRequisition(request: RequisitionFacts, actor: ActorFacts, stepId?: string): Reason[] {
  const late = notNow(REQUISITION_STATES, 'requisition', request.state, 'approve')
  return late.length > 0 ? late : whyNotDecide(request.consent, actor, stepId)
}

/**
 * Takes a decision about a request. The last approval makes it approved and its lines wait to be bought; a rejection or return frees what
 * it had reserved. The requester is told how it ended; those of the next stage that it waits for them.
 */
export function decideRequisition(
  request: RequisitionFacts,
  actor: ActorFacts,
  answer: ConsentAnswer,
  reason: string,
  stepId?: string,
): Decision<DecidedNext> {
  const against = whyNotDecideRequisition(request, actor, stepId)
  if (against.length > 0) return refused(against)
  const answered = answerConsent(request.consent!, actor, answer, reason, stepId)
  if (!answered.ok) return refused(answered.reasons)
  const { step, next: consent } = answered
  const ended = consent.state !== 'open'
  const moved = transition(REQUISITION_STATES, 'requisition', request.state, answer)
  if (!moved.ok) return refused(moved.reasons)
  const state = ended ? moved.state : request.state
  return done<DecidedNext>(
    { state, consent, intoPool: state === 'approved', standsFrom: answer === 'approve' ? null : request.round + 1 },
    {
      action: answer,
      changes: { rule: step.label, stage: step.stage },
      reason,
    },
    {
      ...(answer === 'approve' ? {} : takeBack(request.lines)),
      says: ended
        ? [outcomeMail(request, state, actor.name, reason)]
        : waitingMails(request, consent.opens, request.round),
    },
  )
}

const outcomeMail = (request: RequisitionFacts, outcome: string, by: string, reason: string): Message => ({
  template: `requisition.${outcome}`,
  to: { kind: 'person', id: request.requesterId },
  key: `decided:${request.id}:${request.round}:${outcome}`,
  details: { number: request.number, title: request.title, by, reason, path: `/request/${request.id}` },
})

/** The mails to those whose decision is wanted now, one for each person and round; `anew` tells one apart that is sent once more. */
export function waitingMails(
  request: RequisitionFacts,
  stepIds: readonly string[],
  round: number,
  anew = '',
): Message[] {
  const steps = request.consent?.steps.filter(step => stepIds.includes(step.id)) ?? []
  const people = new Set(
    steps.flatMap(step => step.asked.flatMap(asked => (asked.kind === 'person' ? [asked.personId] : []))),
  )
  return [...people].map(id => waitingMail(request, id, round, anew))
}

export const waitingMail = (request: RequisitionFacts, personId: string, round: number, anew = ''): Message => ({
  template: 'requisition.waits',
  to: { kind: 'person', id: personId },
  key: `decide:${request.id}:${round}:${personId}${anew}`,
  details: {
    number: request.number,
    title: request.title,
    requester: request.requester,
    currency: request.base,
    total: formatAmount(request.total, request.base),
    needBy: request.needBy ?? '',
    path: `/decide/${request.id}`,
  },
})
