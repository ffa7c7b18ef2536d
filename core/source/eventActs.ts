import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Action, action, type Decision, done, obstacles, refused, saysWhy } from '#core/acts/decision.ts'
import { type BusinessCalendar, isBusinessDay } from '#core/calendar/days.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import { check, note, type Reason, stop } from '#core/reasons.ts'
import { checkLotRules } from '#core/source/checkLotRules.ts'
import {
  askedLines,
  type EventFacts,
  type EventLine,
  type Invited,
  isAsking,
  isOver,
  lotRules,
} from '#core/source/event.ts'
import type { EventMessage } from '#core/source/eventMessages.ts'
import { EVENT_GROUPS, EVENT_STATES, type EventAction, type EventState } from '#core/source/eventStates.ts'
import { isIn, notNow } from '#core/states.ts'

/** Where an event goes, and when it ends from now on. */
export interface EventNext {
  readonly state: EventState
  readonly endsAt: string | null
}

/** What is known beside the event when it is sent. */
export interface SendingFacts {
  /** The day on which it ends, where it ends. */
  readonly endsOn: string
  readonly calendar: BusinessCalendar
  /** Invited suppliers with a certificate that has lapsed. */
  readonly lapsed: readonly string[]
}

const RIGHT = 'event.write'
/** The longest that answers are waited for: a year, in milliseconds. */
const LONGEST = 366 * 86_400_000

/** What an event says against itself: lines, times, rules; whoever is about to send it sees all of it. */
export function checkEvent(event: EventFacts, sending: SendingFacts, at: string): Reason[] {
  const lines = askedLines(event)
  return [
    ...(event.title.trim() === '' ? [stop('event.title', {}, { place: 'title' })] : []),
    ...(lines.length === 0 ? [stop('event.noLines', {}, { place: 'lines' })] : []),
    ...lines.flatMap(checkLine),
    ...checkTimes(event, sending, at),
    ...checkLots(event),
    ...checkInvited(event, sending),
  ]
}

function checkLine(line: EventLine): Reason[] {
  const place = `lines.${line.id}`
  return [
    ...(line.description.trim() === '' ? [stop('event.lineText', {}, { place: `${place}.description` })] : []),
    ...(isHeldDecimal(line.quantity) && new Decimal(line.quantity).gt(0)
      ? []
      : [stop('answer.quantity', {}, { place: `${place}.quantity` })]),
    ...(line.reference === '' || (isHeldDecimal(line.reference) && new Decimal(line.reference).gt(0))
      ? []
      : [stop('event.reference', {}, { place: `${place}.reference` })]),
  ]
}

function checkTimes(event: EventFacts, { endsOn, calendar }: SendingFacts, at: string): Reason[] {
  if (event.endsAt === null) return [stop('event.endMissing', {}, { place: 'endsAt' })]
  const ends = Date.parse(event.endsAt)
  const place = { place: 'endsAt' }
  if (ends <= Date.parse(at)) return [stop('event.endPast', {}, place)]
  if (ends - Date.parse(at) > LONGEST) return [stop('event.endFar', {}, place)]
  return [
    ...(event.kind.format === 'auction' ? checkOpening(event, at) : []),
    ...(isBusinessDay(endsOn, calendar) ? [] : [check('event.endHoliday', { day: endsOn }, place)]),
    ...askedLines(event).flatMap(line =>
      line.needBy !== null && line.needBy <= endsOn
        ? [check('event.needBeforeEnd', { line: line.description, needBy: line.needBy }, { place: `lines.${line.id}` })]
        : [],
    ),
  ]
}

function checkOpening({ opensAt, endsAt }: EventFacts, at: string): Reason[] {
  const place = { place: 'opensAt' }
  if (opensAt === null) return [stop('event.openingMissing', {}, place)]
  if (Date.parse(opensAt) <= Date.parse(at)) return [stop('event.openingPast', {}, place)]
  return Date.parse(opensAt) < Date.parse(endsAt!) ? [] : [stop('event.openingAfterEnd', {}, place)]
}

function checkLots(event: EventFacts): Reason[] {
  const empty = event.lots.filter(lot => !askedLines(event).some(line => line.lotId === lot.id))
  return [
    ...empty.map(lot => check('event.emptyLot', { lot: lot.title }, { place: `lots.${lot.id}` })),
    ...(event.kind.format === 'auction'
      ? event.lots.flatMap(lot =>
          checkLotRules(lotRules(lot, event.currency, event.kind.sealed)).map(reason => ({
            ...reason,
            place: `lots.${lot.id}.${reason.place}`,
          })),
        )
      : []),
  ]
}

function checkInvited(event: EventFacts, { lapsed }: SendingFacts): Reason[] {
  if (event.invited.length === 0 && !event.kind.open) return [stop('event.nobody', {}, { place: 'invited' })]
  return [
    ...(event.invited.length === 1 ? [check('event.onlyOne', {}, { place: 'invited' })] : []),
    ...event.invited.flatMap(one => againstInvited(one, lapsed)),
  ]
}

function againstInvited(one: Invited, lapsed: readonly string[]): Reason[] {
  const place = { place: `invited.${one.id}` }
  return [
    ...(one.email === '' ? [stop('event.noContact', { supplier: one.name }, place)] : []),
    ...one.reasons.map(reason => ({ ...reason, ...place })),
    ...(lapsed.includes(one.supplierId) ? [check('event.lapsed', { supplier: one.name }, place)] : []),
    ...(one.contactName === '' ? [note('event.noName', { supplier: one.name }, place)] : []),
  ]
}

export const whyNotSend = (event: EventFacts, sending: SendingFacts, actor: ActorFacts, at: string): Reason[] => [
  ...needsRight(actor, RIGHT),
  ...notNow(EVENT_STATES, 'event', event.state, 'send'),
  ...checkEvent(event, sending, at),
]

/** Sends an event to everybody whom it asks. Checks among what stands against it want a reason. */
export function sendEvent(
  event: EventFacts,
  sending: SendingFacts,
  actor: ActorFacts,
  reason: string,
  at: string,
): Decision<EventNext> {
  const against = obstacles(whyNotSend(event, sending, actor, at), reason, stop('event.checkReason', {}, { place: 'reason' })) // prettier-ignore
  if (against.length > 0) return refused(against)
  return done<EventNext>(
    { state: 'asking', endsAt: event.endsAt },
    { action: 'send', changes: { suppliers: event.invited.length, endsAt: event.endsAt }, reason },
  )
}

const wantsReason = (reason: string): Reason[] =>
  saysWhy(reason) ? [] : [stop('event.reason', {}, { place: 'reason' })]

/** Gives everybody more time. The end only ever moves later, and never to where it has passed already. */
export function extendEvent(
  event: EventFacts,
  actor: ActorFacts,
  endsAt: string,
  reason: string,
  at: string,
): Decision<EventNext> {
  const against = [
    ...needsRight(actor, RIGHT),
    ...(isAsking(event, at) ? [] : [stop('event.notOpen')]),
    ...(event.kind.format === 'auction' ? [stop('event.byDay')] : []),
    ...(Date.parse(endsAt) > Date.parse(event.endsAt ?? at) && Date.parse(endsAt) > Date.parse(at)
      ? []
      : [stop('event.endEarlier', {}, { place: 'endsAt' })]),
    ...(Date.parse(endsAt) - Date.parse(at) > LONGEST ? [stop('event.endFar', {}, { place: 'endsAt' })] : []),
    ...wantsReason(reason),
  ]
  if (against.length > 0) return refused(against)
  return done<EventNext>({ state: 'asking', endsAt }, { action: 'extend', changes: { before: event.endsAt, after: endsAt }, reason }) // prettier-ignore
}

/** What was over or cancelled goes on from where it stood, until a new end; answers that are in stay in. */
export function beginAgain(
  event: EventFacts,
  actor: ActorFacts,
  endsAt: string,
  reason: string,
  at: string,
): Decision<EventNext> {
  const ended = event.state === 'asking' && isOver(event, at) ? 'over' : event.state
  const against = [
    ...needsRight(actor, RIGHT),
    ...notNow(EVENT_STATES, 'event', ended, 'beginAgain'),
    ...(event.sentAt === null ? [stop('event.neverSent')] : []),
    ...(event.kind.format === 'auction' ? [stop('event.auctionOver')] : []),
    ...(event.kind.sealed && isIn(EVENT_GROUPS.judged, ended) ? [stop('event.sealedOpened')] : []),
    ...(Date.parse(endsAt) > Date.parse(at) ? [] : [stop('event.endPast', {}, { place: 'endsAt' })]),
    ...wantsReason(reason),
  ]
  if (against.length > 0) return refused(against)
  return done<EventNext>({ state: 'asking', endsAt }, { action: 'beginAgain', changes: { before: event.endsAt, after: endsAt }, reason }) // prettier-ignore
}

/** Ends what is left of it; who was asked is told. One that was never sent can be taken up as a draft again. */
export function cancelEvent(event: EventFacts, actor: ActorFacts, reason: string): Decision<EventNext> {
  const against = [
    ...needsRight(actor, RIGHT),
    ...notNow(EVENT_STATES, 'event', event.state, 'cancel'),
    ...wantsReason(reason),
  ]
  if (against.length > 0) return refused(against)
  return done<EventNext>({ state: 'cancelled', endsAt: event.endsAt }, { action: 'cancel', reason })
}

export function takeUpEvent(event: EventFacts, actor: ActorFacts): Decision<EventNext> {
  const against = [
    ...needsRight(actor, RIGHT),
    ...notNow(EVENT_STATES, 'event', event.state, 'takeUp'),
    ...(event.sentAt === null ? [] : [stop('event.wasSent')]),
  ]
  if (against.length > 0) return refused(against)
  // what was compared without asking was over at that moment; an end for answering is set anew
  return done<EventNext>({ state: 'draft', endsAt: event.state === 'over' ? null : event.endsAt }, { action: 'takeUp' })
}

/** What stands against reminding: it is over, or everybody has answered, declined or said no. */
export const whyNotRemind = (event: EventFacts, actor: ActorFacts, at: string): Reason[] => [
  ...needsRight(actor, RIGHT),
  ...(isAsking(event, at) ? [] : [stop('event.notOpen')]),
  ...(toRemind(event).length > 0 ? [] : [stop('event.nobodyToRemind')]),
]

/** Who has been asked and has neither answered nor declined. */
export const toRemind = (event: EventFacts): Invited[] =>
  event.invited.filter(
    one => one.sentAt !== null && one.answeredAt === null && one.declinedAt === null && one.means !== false && one.suspendedAt === null, // prettier-ignore
  )

/** Who of those who are asked gets a message. Whoever has declined, or is kept out, gets none. */
export const readersOf = (event: EventFacts, to: EventMessage['to']): Invited[] =>
  to === 'silent'
    ? toRemind(event)
    : event.invited.filter(
        one =>
          one.sentAt !== null &&
          one.declinedAt === null &&
          one.suspendedAt === null &&
          (to === 'everybody' || (one.answeredAt !== null && one.withdrawnAt === null)),
      )

/** What stands against comparing what is known without asking anybody: it was sent, prices are not asked for, or bid on a day. */
export const whyNotCompareKnown = (event: EventFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, RIGHT),
  ...notNow(EVENT_STATES, 'event', event.state, 'compareKnown'),
  ...(event.kind.format === 'auction' ? [stop('known.auction')] : []),
  ...(event.kind.pricing === 'none' ? [stop('plan.noPrices')] : []),
  ...(askedLines(event).length === 0 ? [stop('event.noLines')] : []),
]

/** What can be done with an event as a whole, or why not now. */
export function eventActions(event: EventFacts, sending: SendingFacts, actor: ActorFacts, at: string): Action[] {
  const write = needsRight(actor, RIGHT)
  const over = isOver(event, at)
  const from = (name: EventAction): boolean => EVENT_STATES[over && event.state === 'asking' ? 'over' : event.state][name] !== undefined // prettier-ignore
  const offer = (shown: boolean, name: string, reasons: readonly Reason[], primary = false): Action[] =>
    shown ? [action(name, reasons, primary)] : []
  return [
    ...offer(from('send'), 'send', whyNotSend(event, sending, actor, at), true),
    ...offer(
      event.state === 'draft' && event.kind.format === 'quotes',
      'compareKnown',
      whyNotCompareKnown(event, actor),
    ),
    ...offer(isAsking(event, at) && event.kind.format === 'quotes', 'extend', write),
    ...offer(
      event.kind.format === 'auction' && event.sentAt !== null && event.state !== 'cancelled',
      'openDay',
      needsRight(actor, 'event.read'),
      !over,
    ),
    ...offer(isAsking(event, at) && event.kind.format === 'quotes', 'remind', whyNotRemind(event, actor, at)),
    ...offer(from('beginAgain') && event.sentAt !== null, 'beginAgain', [
      ...write,
      ...(event.kind.format === 'auction' ? [stop('event.auctionOver')] : []),
      ...(event.kind.sealed && over ? [stop('event.sealedOpened')] : []),
    ]),
    ...offer(from('takeUp') && event.sentAt === null, 'takeUp', write),
    ...offer(from('cancel'), 'cancel', write),
  ]
}
