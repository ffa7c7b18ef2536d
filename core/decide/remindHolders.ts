import type { ActorFacts } from '#core/acts/actor.ts'
import { openSteps } from '#core/consent/consent.ts'
import { type Decision, done, type Message, NOT_YOURS, refused } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'

const DAY = 86_400_000

/** Those who hold a request now, by person. */
export const holdersOf = (request: Pick<RequisitionFacts, 'consent'>): string[] => [
  ...new Set(
    (request.consent ? openSteps(request.consent) : []).flatMap(step =>
      step.asked.flatMap(asked => (asked.kind === 'person' ? [asked.personId] : [])),
    ),
  ),
]

/** What stands in the way of reminding: it is not the requester's, it waits for nobody, or they were reminded within a day. */
export function whyNotRemind(request: RequisitionFacts, actor: ActorFacts, now: string): Reason[] {
  if (request.requesterId !== actor.id) return [NOT_YOURS]
  if (request.state !== 'waiting' || holdersOf(request).length === 0) return [stop('remind.notWaiting')]
  const last = request.remindedAt
  return last !== null && Date.parse(now) - Date.parse(last) < DAY ? [stop('remind.already', { at: last })] : []
}

/** Reminds whoever holds a request; at most once a day. */
export function remindHolders(
  request: RequisitionFacts,
  actor: ActorFacts,
  now: string,
): Decision<{ remindedAt: string }> {
  const against = whyNotRemind(request, actor, now)
  return against.length > 0 ? refused(against) : reminder(request, actor.name, now)
}

/** The reminder itself, also as the night sends it. */
export function reminder(request: RequisitionFacts, by: string, now: string): Decision<{ remindedAt: string }> {
  const holders = holdersOf(request)
  return done(
    { remindedAt: now },
    { action: 'reminded', changes: { to: holders } },
    { says: holders.map(person => remindMail(request, person, by, now)) },
  )
}

const remindMail = (request: RequisitionFacts, personId: string, by: string, now: string): Message => ({
  template: 'requisition.reminder',
  to: { kind: 'person', id: personId },
  key: `remind:${request.id}:${personId}:${now}`,
  details: {
    number: request.number,
    title: request.title,
    by,
    needBy: request.needBy ?? '',
    path: `/decide/${request.id}`,
  },
})
