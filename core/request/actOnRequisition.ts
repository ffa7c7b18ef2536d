import type { ActorFacts } from '#core/acts/actor.ts'
import { type ConsentNext, endConsent } from '#core/consent/consent.ts'
import { type Decision, done, NOT_YOURS, refused } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import {
  BEING_BOUGHT,
  REQUISITION_STATES,
  type RequisitionAction,
  type RequisitionState,
} from '#core/request/states.ts'
import { takeBack } from '#core/request/takeBack.ts'
import { isIn, notNow, transition } from '#core/states.ts'

/** What a requester does with an own request after it was submitted. */
export type OwnAct = Extract<RequisitionAction, 'withdraw' | 'change' | 'reopen' | 'cancel'>

export interface OwnActNext {
  readonly state: RequisitionState
  /** Its lines are a draft's again. */
  readonly reopensLines: boolean
  readonly consent: ConsentNext | null
  /** The first round whose decisions may still stand: none of before, once it was withdrawn; all, where it is only changed. */
  readonly standsFrom: number | null
}

const TAKES_BACK: readonly OwnAct[] = ['withdraw', 'change']

/** What stands in the way: it is somebody else's, it is not the time, or a line is being bought. */
export const whyNotAct = (request: RequisitionFacts, act: OwnAct, actor: ActorFacts): Reason[] => [
  ...(request.requesterId === actor.id ? [] : [NOT_YOURS]),
  ...notNow(REQUISITION_STATES, 'requisition', request.state, act),
  ...(isIn(TAKES_BACK, act) && request.lines.some(line => isIn(BEING_BOUGHT, line.state))
    ? [stop('requisition.beingBought', {}, { clearedBy: ['buyer'] })]
    : []),
]

/**
 * Withdraws a request, takes it back to be changed, takes it up again or cancels it. What it had requested and reserved is free again, and
 * those who were to decide it no longer have to.
 */
export function actOnRequisition(
  request: RequisitionFacts,
  act: OwnAct,
  actor: ActorFacts,
  reason: string,
): Decision<OwnActNext> {
  const against = whyNotAct(request, act, actor)
  if (against.length > 0) return refused(against)
  const next = transition(REQUISITION_STATES, 'requisition', request.state, act)
  if (!next.ok) return refused(next.reasons)
  const back = isIn(TAKES_BACK, act)
  const open = request.consent?.state === 'open' ? request.consent : null
  return done<OwnActNext>(
    {
      state: next.state,
      reopensLines: back,
      consent: back && open ? endConsent(open, 'dropped') : null,
      standsFrom: act === 'change' ? null : request.round + 1,
    },
    { action: act, reason },
    back ? takeBack(request.lines) : {},
  )
}
