import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type {
  ChangeEvent,
  ChangeInvited,
  CreateEvent,
  DropEventLine,
  EndEvent,
  InviteSuppliers,
  MoveEnd,
  RemindSuppliers,
  SendEvent,
} from '#contract/source/events.ts'
import { needsRight } from '#core/acts/actor.ts'
import type { Decision } from '#core/acts/decision.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import {
  beginAgain,
  cancelEvent,
  type EventNext,
  extendEvent,
  type SendingFacts,
  sendEvent,
  takeUpEvent,
  toRemind,
  whyNotRemind,
} from '#core/source/eventActs.ts'
import { takeOutside } from '#core/source/eventNumber.ts'
import { isIn } from '#core/states.ts'
import { dayOf, type Done, found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { move } from '#server/documents/move.ts'
import { record } from '#server/documents/history.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { teamCalendar } from '#server/house/calendar.ts'
import { companyTopic, documentTopic, tell } from '#server/news/tell.ts'
import { KNOWN_CHANNEL } from '#server/source/answerStore.ts'
import { log } from '#server/source/eventLogStore.ts'
import { momentText, writeTo } from '#server/source/eventMailStore.ts'
import {
  firstEnd,
  type EventRow,
  heldEvent,
  insertEvent,
  insertLines,
  keepEventDesk,
  type KnownEvent,
  knownEvent,
  liveKind,
  openEventsOf,
  type NewEventLine,
  rangeOf,
  searchOf,
} from '#server/source/eventStore.ts'
import { newLink } from '#server/source/askedPeople.ts'
import { addInvited } from '#server/source/invitedStore.ts'
import { remindThem, sayAtEnd, sayInTime, timesKnown } from '#server/source/timedMessages.ts'

/** What is known beside an event when it is sent: the calendar where it ends, and certificates that have lapsed. */
export async function sendingFacts(call: Read, event: KnownEvent): Promise<SendingFacts> {
  const lapsed = await call
    .trx('supplierStandings')
    .whereIn(
      'supplierId',
      event.invited.map(one => one.supplierId),
    ) // prettier-ignore
    .where({ standing: 'lapsed' })
    .whereRaw('coalesce(from_day, ?) <= ? and coalesce(to_day, ?) >= ?', [
      call.today,
      call.today,
      call.today,
      call.today,
    ])
    .distinct('supplierId')
  return {
    endsOn: event.endsAt === null ? '' : dayOf(event.endsAt, event.zone),
    calendar: await teamCalendar(call),
    lapsed: lapsed.map(one => one.supplierId),
  }
}

/** A new draft: empty, or with the lines and texts of an earlier event and those whom it asked. */
export async function createEvent(call: Write, body: BodyOf<typeof CreateEvent>): Promise<Done> {
  const kind = await liveKind(call, body.kindId)
  const earlier = body.copyOf === null ? null : await knownEvent(call, body.copyOf)
  const { id } = await insertEvent(call, {
    kind,
    title: body.title,
    currency: earlier?.currency ?? call.base,
    category: earlier?.row.category ?? '',
    lines: (earlier?.lines ?? [])
      .filter(line => line.goneAt === null)
      .map(line => ({ ...line, requisitionLineId: null, needBy: null })),
    copiedFrom: earlier?.id ?? null,
    endsAt: await firstEnd(call, kind),
  })
  await record(call, { kind: 'event', id, action: 'drafted', changes: earlier ? { from: earlier.number } : {} })
  if (earlier) {
    const texts = json(earlier.row.texts)
    await call.trx('events').where({ id }).update({ texts, message: earlier.row.message })
    await addInvited(call, await knownEvent(call, id), earlier.invited.map(one => one.supplierId)) // prettier-ignore
  }
  await keepEventDesk(call, id)
  return { id, version: 1 }
}

/** Saves a draft whole. */
export async function changeEvent(call: Write, id: string, body: BodyOf<typeof ChangeEvent>): Promise<Done> {
  const event = await heldEvent(call, id, body.version)
  refuse(needsRight(call.actor, 'event.write'))
  if (event.state !== 'draft') throw new RuleBroken(stop('event.sentAlready'))
  const { version: _version, lots, lines, scorerIds, outsideNumber, texts, criteria, landed, ...head } = body
  await writeLines(call, event, lots, lines)
  await call.trx('eventScorers').where({ eventId: id }).delete()
  if (scorerIds.length > 0)
    await call.trx('eventScorers').insert([...new Set(scorerIds)].map(personId => ({ eventId: id, personId })))
  const done = await move(
    call,
    'event',
    event.row,
    {
      ...head,
      // an auction ends with its lots
      ...(event.kind.format === 'auction' ? { endsAt: plannedEnd(body) } : {}),
      outsideNumber: await outsideTaken(call, event, outsideNumber.trim()),
      texts: json(texts),
      criteria: json(criteria),
      landed: json(landed),
      search: searchOf(event.number, body.title, lines),
    },
    { action: 'changed', changes: { lines: lines.length, lots: lots.length }, reason: null },
  )
  await keepEventDesk(call, id)
  return done
}

/** When all lots of an auction are over, if nothing moves their ends. */
const plannedEnd = ({ opensAt, lots }: Body): string | null =>
  opensAt === null
    ? null
    : new Date(Date.parse(opensAt) + Math.max(...lots.map(lot => lot.minutes)) * 60_000).toISOString()

/** The number from outside that the event has from now on; whoever takes one holds its range until the transaction ends. */
async function outsideTaken(call: Write, event: KnownEvent, wanted: string): Promise<string | null> {
  const id = event.kindRow.outsideRangeId
  const row = id === null ? undefined : await call.trx('eventRanges').where({ id }).forUpdate().first()
  const taken = takeOutside(event.row.outsideNumber, wanted, row ? rangeOf(row) : null)
  if (!taken.ok) throw new RuleBroken(taken.reasons)
  if (taken.next !== null) await call.trx('eventRanges').where({ id: id! }).update({ next: taken.next })
  return taken.number
}

type Body = BodyOf<typeof ChangeEvent>
/** Replaces lots and lines; what a line knows of its request stays with its id. */
async function writeLines(call: Write, event: KnownEvent, lots: Body['lots'], lines: Body['lines']): Promise<void> {
  const lotIds = new Set(lots.map(lot => lot.id))
  const ids = lines.map(line => line.id)
  if (lines.some(line => !lotIds.has(line.lotId)) || new Set([...lotIds, ...ids]).size !== lots.length + lines.length)
    throw new RuleBroken(stop('event.lotUnknown', {}, { place: 'lines' }))
  const before = new Map(event.lines.map(line => [line.id, line]))
  await call.trx('eventLines').where({ eventId: event.id }).delete()
  await call.trx('eventLots').where({ eventId: event.id }).delete()
  await call.trx('eventLots').insert(
    lots.map(({ id, title, ...rules }, index) => ({
      id,
      eventId: event.id,
      position: index + 1,
      title,
      rules: json(rules),
    })),
  )
  await insertLines(
    call,
    event.id,
    lines.map((line, index) => ({
      ...line,
      position: index + 1,
      requisitionLineId: before.get(line.id)?.requisitionLineId ?? null,
      goneAt: null,
    })),
  )
}

/** Adds lines that were read from a file or pasted. */
export async function addLines(call: Write, event: KnownEvent, lines: readonly NewEventLine[]): Promise<Done> {
  if (event.state !== 'draft') throw new RuleBroken(stop('event.sentAlready'))
  const lotId = event.lots[0]!.id
  const from = event.lines.length
  await insertLines(
    call,
    event.id,
    lines.map((line, index) => ({ ...line, id: randomUUID(), lotId, position: from + index + 1, goneAt: null })),
  )
  return await move(call, 'event', event.row, {}, { action: 'changed', changes: { lines: from + lines.length }, reason: null }) // prettier-ignore
}

/** Asks more suppliers. Those who are asked after the event was sent get the same mail at once; it is in the log. */
export async function inviteSuppliers(call: Write, id: string, body: BodyOf<typeof InviteSuppliers>): Promise<Done> {
  const event = await heldEvent(call, id, body.version)
  if (!isIn(['draft', 'asking'], event.state)) throw new RuleBroken(stop('event.notOpen'))
  await addInvited(call, event, body.supplierIds)
  const done = await move(call, 'event', event.row, {}, { action: 'invited', changes: { suppliers: body.supplierIds.length }, reason: null }) // prettier-ignore
  if (event.state === 'asking') {
    const now = await knownEvent(call, id)
    const fresh = now.rows.filter(one => one.sentAt === null)
    refuse(now.invited.filter(one => one.sentAt === null).flatMap(one => (one.email === '' ? [stop('event.noContact', { supplier: one.name })] : one.reasons))) // prettier-ignore
    await sendTo(call, now, fresh)
  }
  await keepEventDesk(call, id)
  return done
}

/** Contact, language, currency, our own note and what is still to do; what a supplier has seen already stays as it was sent. */
export async function changeInvited(
  call: Write,
  id: string,
  invitedId: string,
  { version, ...body }: BodyOf<typeof ChangeInvited>,
): Promise<Done> {
  const event = await heldEvent(call, id, version)
  const one = found(event.rows.find(row => row.id === invitedId), 'invited') // prettier-ignore
  if (one.answeredAt !== null && body.currency !== one.currency)
    throw new RuleBroken(stop('invited.currency', {}, { place: 'currency' }))
  await call.trx('eventSuppliers').where({ id: invitedId }).update(body)
  return await move(call, 'event', event.row, {}, { action: 'invitedChanged', changes: { supplier: one.name }, reason: null }) // prettier-ignore
}

/** Takes somebody off the list who was not asked yet. */
export async function leaveOut(call: Write, id: string, invitedId: string, version: number): Promise<Done> {
  const event = await heldEvent(call, id, version)
  const one = found(event.rows.find(row => row.id === invitedId), 'invited') // prettier-ignore
  if (one.sentAt !== null || one.answeredAt !== null) throw new RuleBroken(stop('invited.sent'))
  await call.trx('eventSuppliers').where({ id: invitedId }).delete()
  return await moveEvent(call, event, {}, { action: 'leftOut', changes: { supplier: one.name }, reason: null })
}

export async function send(call: Write, id: string, body: BodyOf<typeof SendEvent>): Promise<Done> {
  const event = await heldEvent(call, id, body.version)
  const decided = obey(sendEvent(event, await sendingFacts(call, event), call.actor, body.reason, call.now))
  await log(call, event, { action: 'sent', details: { endsAt: event.endsAt }, reason: body.reason })
  await sendTo(call, event, event.rows)
  return await moveEvent(call, event, { state: decided.next.state, sentAt: call.now, ...timesKnown(call) }, decided.did)
}

/** Sends what is asked to suppliers, each with a link of its own. */
async function sendTo(call: Write, event: KnownEvent, to: KnownEvent['rows']): Promise<void> {
  const links = new Map<string, string>()
  for (const one of to) {
    const { token, personId, hash } = await newLink(call, event, one)
    links.set(one.id, token)
    await call.trx('eventSuppliers').where({ id: one.id }).update({ sentAt: call.now, tokenHash: hash, personId })
    await log(call, event, { action: 'asked', supplierId: one.supplierId })
  }
  await writeTo(call, event, to, `event.${event.kind.format}`, `event-asked:${event.id}`, one => ({
    message: event.row.message,
    opens: momentText(event.opensAt, event.zone),
    ends: momentText(event.endsAt, event.zone),
    path: `/asked/${links.get(one.id)!}`,
  }))
}

/** Moves an event on, tells the suppliers' pages that show it, and keeps what waits because of it. */
export async function moveEvent(
  call: Write,
  event: KnownEvent,
  change: Partial<EventRow>,
  did: { readonly action: string; readonly changes: Readonly<Record<string, unknown>>; readonly reason: string | null },
): Promise<Done> {
  const done = await move(call, 'event', event.row, change, did)
  await tellSuppliers(call, event)
  await keepEventDesk(call, event.id)
  return done
}

/** Tells the pages of those who are asked. */
export const tellSuppliers = (call: Write, event: KnownEvent): Promise<void> =>
  tell(
    call,
    event.invited.map(one => companyTopic(one.supplierId, documentTopic(event.id))),
  )

/** Gives more time, or goes on from where it stood; everybody is told alike and in the same moment. */
export async function moveEnd(call: Write, id: string, body: BodyOf<typeof MoveEnd>): Promise<Done> {
  const event = await heldEvent(call, id, body.version)
  const act = body.how === 'extend' ? extendEvent : beginAgain
  const endsAt = new Date(body.endsAt).toISOString()
  const { next, did } = obey(act(event, call.actor, endsAt, body.reason, call.now))
  await log(call, event, {
    action: body.how,
    details: { before: event.endsAt, after: next.endsAt },
    reason: body.reason,
  })
  await writeTo(call, event, sentOf(event), `event.${body.how}`, `event-end:${id}:${event.row.version}`, () => ({
    ends: momentText(next.endsAt, event.zone),
    reason: body.reason,
  }))
  if (body.how === 'beginAgain') await refuseElsewhere(call, event)
  return await moveEvent(call, event, { state: next.state, endsAt: next.endsAt, ...timesKnown(call) }, did)
}

const sentOf = (event: KnownEvent): KnownEvent['rows'] => event.rows.filter(one => one.sentAt !== null)

export async function endEvent(call: Write, id: string, body: BodyOf<typeof EndEvent>): Promise<Done> {
  const event = await heldEvent(call, id, body.version)
  const decision: Decision<EventNext> =
    body.how === 'cancel' ? cancelEvent(event, call.actor, body.reason) : takeUpEvent(event, call.actor)
  const { next, did } = obey(decision)
  if (event.sentAt !== null) {
    await log(call, event, { action: body.how, reason: body.reason })
    await writeTo(call, event, sentOf(event), 'event.cancelled', `event-cancelled:${id}:${event.row.version}`, () => ({ reason: body.reason })) // prettier-ignore
  }
  if (body.how === 'takeUp') {
    await refuseElsewhere(call, event)
    await forgetKnown(call, event)
  }
  const endsAt = body.how === 'takeUp' ? (next.endsAt ?? (await firstEnd(call, event.kindRow))) : event.endsAt
  return await moveEvent(call, event, { state: next.state, endsAt }, did)
}

/** What was compared without asking is not an answer any more once a draft is made of it again. */
async function forgetKnown(call: Write, event: KnownEvent): Promise<void> {
  const ids = event.rows.map(one => one.id)
  await call.trx('eventAnswers').whereIn('invitedId', ids).where({ channel: KNOWN_CHANNEL }).delete()
  await call.trx('eventSuppliers').whereIn('id', ids).whereNull('sentAt').update({ answeredAt: null })
}

/** Lines that another event asks about meanwhile stand in the way of going on. */
async function refuseElsewhere(call: Read, event: KnownEvent): Promise<void> {
  const elsewhere = await openEventsOf(call, event.lines.flatMap(line => line.requisitionLineId ?? []), event.id) // prettier-ignore
  refuse([...elsewhere.values()].slice(0, 1).map(other => stop('event.elsewhere', { number: other.number })))
}

/** Reminds those who have neither answered nor declined: all of them, or some. */
export async function remind(
  call: Write,
  id: string,
  body: BodyOf<typeof RemindSuppliers>,
): Promise<Done & { reminded: number }> {
  const event = await heldEvent(call, id, body.version)
  refuse(whyNotRemind(event, call.actor, call.now))
  const due = new Set(toRemind(event).map(one => one.id))
  const wanted = event.rows.filter(one => due.has(one.id) && (body.invitedIds.length === 0 || body.invitedIds.includes(one.id))) // prettier-ignore
  await remindThem(call, event, wanted, () => body.note, `${event.row.version}`)
  const done = await move(call, 'event', event.row, {}, { action: 'remind', changes: { suppliers: wanted.length }, reason: body.note || null }) // prettier-ignore
  return { ...done, reminded: wanted.length }
}

/** Takes out a line that is not asked any more. Answers to it are kept; everybody is told. */
export async function dropLine(call: Write, id: string, body: BodyOf<typeof DropEventLine>): Promise<Done> {
  const event = await heldEvent(call, id, body.version)
  const line = found(event.lines.find(one => one.id === body.lineId && one.goneAt === null), 'eventLine') // prettier-ignore
  refuse(needsRight(call.actor, 'event.write'))
  if (event.state !== 'asking') throw new RuleBroken(stop('event.notOpen'))
  if (event.lines.filter(one => one.goneAt === null).length === 1) throw new RuleBroken(stop('event.lastLine'))
  if (event.kind.format === 'auction') throw new RuleBroken(stop('event.lotsStay'))
  await call.trx('eventLines').where({ id: line.id }).update({ goneAt: call.now })
  await log(call, event, { action: 'lineDropped', details: { line: line.description }, reason: body.reason })
  await writeTo(call, event, sentOf(event), 'event.lineDropped', `event-line:${line.id}`, () => ({ line: line.description, reason: body.reason })) // prettier-ignore
  return await moveEvent(call, event, {}, { action: 'lineDropped', changes: { line: line.description }, reason: body.reason }) // prettier-ignore
}

/** What the clock does with a quote request: ends it when its time is over, and says before what its kind says. */
export async function watchQuotes(call: Write, id: string): Promise<void> {
  const event = await heldEvent(call, id)
  if (event.state !== 'asking' || event.endsAt === null) return
  if (Date.parse(event.endsAt) <= Date.parse(call.now)) await endNow(call, event)
  else await sayInTime(call, event)
}

/** An end that has come is said: from now on it waits for whoever compares. */
export async function endNow(call: Write, event: KnownEvent): Promise<void> {
  await log(call, event, { action: 'ended', details: { at: event.endsAt } })
  await sayAtEnd(call, event)
  await moveEvent(call, event, { state: 'over' }, { action: 'ended', changes: {}, reason: null })
}
