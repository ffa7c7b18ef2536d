import { saysWhy } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type AnswerContent, checkAnswer } from '#core/source/answer.ts'
import { type EventFacts, type Invited, isAsking, isOver } from '#core/source/event.ts'

/** What a supplier can do with an event that it is asked in. */
export type InvitedAct = 'accept' | 'mean' | 'decline' | 'save' | 'submit' | 'withdraw' | 'bid' | 'write'

/**
 * What stands against a supplier's act, the same for its own people and for who types it in on its behalf: the window (its first instant included,
 * its end not), suspension, dealings, terms. Whoever is suspended reads and writes messages; drafts are kept as long as it is open.
 */
export function whyNotAs(event: EventFacts, one: Invited, act: InvitedAct, at: string): Reason[] {
  if (one.sentAt === null) return [stop('document.notFound', { kind: 'event' })]
  if (act === 'write') return event.state === 'cancelled' ? [stop('event.cancelledAsk')] : []
  if (event.state === 'cancelled') return [stop('event.cancelledAsk')]
  if (!isAsking(event, at)) return [stop('event.overAsk', { at: event.endsAt ?? '' })]
  if (one.suspendedAt !== null) return [stop('bid.suspended', {}, { clearedBy: ['sourcingLead'] })]
  if (act === 'accept' || act === 'mean' || act === 'decline') return []
  if (hasTerms(event) && one.acceptedAt === null) return [stop('bid.termsFirst')]
  if (act === 'bid' || act === 'submit') return [...one.reasons]
  return act === 'withdraw' && one.answeredAt === null ? [stop('answer.noneToWithdraw')] : []
}

export const hasTerms = (event: Pick<EventFacts, 'kind'>): boolean => (event.kind.terms.en ?? '') !== ''

/** What stands against handing in an answer. Another currency than the one agreed with the supplier is refused: it would be compared wrongly. */
export const whyNotSubmit = (event: EventFacts, one: Invited, answer: AnswerContent, at: string): Reason[] => {
  const against = whyNotAs(event, one, 'submit', at)
  if (against.length > 0) return against
  return [
    ...(event.kind.format === 'auction' ? [stop('answer.bidsOnly')] : []),
    ...(answer.currency === one.currency
      ? []
      : [stop('answer.currency', { currency: one.currency }, { place: 'currency' })]),
    ...checkAnswer(event, answer, true),
  ]
}

/** What stands against keeping a draft of an answer. */
export const whyNotSave = (event: EventFacts, one: Invited, answer: AnswerContent, at: string): Reason[] => {
  const against = whyNotAs(event, one, 'save', at)
  return against.length > 0 ? against : checkAnswer(event, answer, false)
}

/** How somebody can tell us something that is typed in for them. */
export const TOLD_BY = ['telephone', 'mail', 'letter', 'visit'] as const

/** What says that a supplier asked us to type its answer: who said so, when, and how. */
export interface BehalfConsent {
  readonly who: string
  readonly on: string
  readonly how: (typeof TOLD_BY)[number]
  readonly note: string
}

/** What stands against typing in on a supplier's behalf: nothing is typed before its consent is on record, and none lies in the future. */
export const whyNotBehalf = (consent: BehalfConsent | null, today: string): Reason[] => {
  if (consent === null) return [stop('behalf.consent')]
  return [
    ...(saysWhy(consent.who) ? [] : [stop('behalf.who', {}, { place: 'who' })]),
    ...(consent.on <= today ? [] : [stop('behalf.future', {}, { place: 'on' })]),
  ]
}

/** What stands against taking a supplier out of the bidding, or letting it in again. */
export const whyNotSuspend = (event: EventFacts, one: Invited, lift: boolean, reason: string, at: string): Reason[] => [
  ...(event.state === 'asking' && !isOver(event, at) ? [] : [stop('event.notOpen')]),
  ...(one.sentAt === null ? [stop('invited.notSent')] : []),
  ...((one.suspendedAt === null) === lift ? [stop(lift ? 'invited.notSuspended' : 'invited.suspended')] : []),
  ...(saysWhy(reason) ? [] : [stop('event.reason', {}, { place: 'reason' })]),
]
