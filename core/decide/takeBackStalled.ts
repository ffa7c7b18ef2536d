import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { type ConsentNext, endConsent } from '#core/consent/consent.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { REQUISITION_STATES, type RequisitionState } from '#core/request/states.ts'
import { takeBack } from '#core/request/takeBack.ts'
import { notNow, transition } from '#core/states.ts'

export interface SentBackNext {
  readonly state: RequisitionState
  readonly consent: ConsentNext | null
}

export const whyNotSendBack = (request: RequisitionFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'requisition.passOn'),
  ...(request.state === 'waiting' ? [] : notNow(REQUISITION_STATES, 'requisition', request.state, 'approve')),
]

/** A steward sends a request that cannot move back to its requester, who submits it anew; what it had reserved is free until then. */
export function sendBack(request: RequisitionFacts, actor: ActorFacts, reason: string): Decision<SentBackNext> {
  const against = whyNotSendBack(request, actor)
  if (against.length > 0) return refused(against)
  if (!saysWhy(reason)) return refused([stop('decide.noReason', {}, { place: 'reason' })])
  const moved = transition(REQUISITION_STATES, 'requisition', request.state, 'return')
  if (!moved.ok) return refused(moved.reasons)
  return done<SentBackNext>(
    { state: moved.state, consent: request.consent?.state === 'open' ? endConsent(request.consent, 'dropped') : null },
    { action: 'sentBack', reason },
    {
      ...takeBack(request.lines),
      says: [
        {
          template: 'requisition.returned',
          to: { kind: 'person', id: request.requesterId },
          key: `sentBack:${request.id}:${request.round}`,
          details: {
            number: request.number,
            title: request.title,
            by: actor.name,
            reason,
            path: `/request/${request.id}`,
          },
        },
      ],
    },
  )
}
