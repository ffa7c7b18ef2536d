import { type ActorFacts, mayDo } from '#core/acts/actor.ts'
import { type Action, action, type Decision, done, NOT_YOURS, refused } from '#core/acts/decision.ts'
import { addDays } from '#core/calendar/days.ts'
import { notNow, type StateTable } from '#core/states.ts'
import { type Reason, stop } from '#core/reasons.ts'

export type CostingState = 'open' | 'putAway'
export type CostingAction = 'change' | 'share' | 'ask' | 'request' | 'putAway' | 'takeUp'

/** A build costing is worked on, or put away and read only; it can be taken up again. */
export const COSTING_STATES: StateTable<CostingState, CostingAction> = {
  open: { change: 'open', share: 'open', ask: 'open', request: 'open', putAway: 'putAway' },
  putAway: { takeUp: 'open' },
}

export interface CostingFacts {
  readonly state: CostingState
  readonly ownerId: string
}

/** Why somebody cannot do something with a costing: it is somebody else's and they only read it, or it is put away. */
export function whyNotCosting(costing: CostingFacts, actor: ActorFacts, wanted: CostingAction): Reason[] {
  const theirs = mayDo(actor, 'build.write') && (costing.ownerId === actor.id || mayDo(actor, 'build.readAll'))
  const right = wanted === 'ask' ? 'event.write' : wanted === 'request' ? 'requisition.write' : 'build.write'
  return [
    ...(theirs && mayDo(actor, right) ? [] : [NOT_YOURS]),
    ...notNow(COSTING_STATES, 'costing', costing.state, wanted),
  ]
}

/** What can be done with a costing now, and for the rest the reasons. */
export const costingActions = (costing: CostingFacts, actor: ActorFacts): Action[] =>
  (costing.state === 'open' ? (['request', 'ask', 'share', 'change', 'putAway'] as const) : (['takeUp'] as const)).map(
    (one, at) => action(one, whyNotCosting(costing, actor, one), at === 0),
  )

/** Puts a costing away, or takes it up again. */
export function moveCosting(
  costing: CostingFacts,
  actor: ActorFacts,
  wanted: 'putAway' | 'takeUp',
): Decision<CostingState> {
  const reasons = whyNotCosting(costing, actor, wanted)
  return reasons.length > 0 ? refused(reasons) : done(COSTING_STATES[costing.state][wanted]!, { action: wanted })
}

/** Days for which a link may be given. */
const LONGEST_LINK = 366

/** Why a link for reading cannot end on a day: it is past, or too far away. */
export const whyNotShareUntil = (endsOn: string, today: string): Reason[] =>
  endsOn < today || endsOn > addDays(today, LONGEST_LINK)
    ? [stop('build.linkDay', { most: LONGEST_LINK }, { place: 'endsOn' })]
    : []

/** Whether a link still opens: it was not ended, and its last day has not passed. */
export const linkOpens = (link: { readonly endsOn: string; readonly endedAt: string | null }, today: string): boolean =>
  link.endedAt === null && link.endsOn >= today
