import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { ChangeEvent, RecordConsent } from '#contract/source/events.ts'
import { addDays, nextBusinessDay } from '#core/calendar/days.ts'
import { instantAt } from '#core/calendar/hours.ts'
import type { AnswerContent } from '#core/source/answer.ts'
import type { Award } from '#core/source/askAward.ts'
import type { EventFacts, EventLine, EventLot, Invited } from '#core/source/event.ts'
import { eventDesk } from '#core/source/eventDesk.ts'
import type { EventKind } from '#core/source/eventKind.ts'
import { takeNumber, type EventRange } from '#core/source/eventNumber.ts'
import { EVENT_GROUPS, type EventState } from '#core/source/eventStates.ts'
import { orderingReasons } from '#core/source/invitedReasons.ts'
import type { SupplierState } from '#core/source/states.ts'
import { tidy } from '#core/money/decimal.ts'
import { RuleBroken } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { json } from '#server/database/json.ts'
import { groupBy } from '#server/database/rows.ts'
import { keepDesk } from '#server/desk/deskStore.ts'
import { hold } from '#server/documents/hold.ts'
import { teamCalendar } from '#server/house/calendar.ts'
import { newSeal, type Sealed } from '#server/source/sealing.ts'

type Body = BodyOf<typeof ChangeEvent>

export interface EventRow {
  id: string
  number: string
  outsideNumber: string | null
  kindId: string
  title: string
  state: EventState
  currency: string
  category: string
  message: string
  texts: Record<string, string>
  opensAt: string | null
  endsAt: string | null
  zone: string
  sentAt: string | null
  /** Since when suppliers know opening and end, and which messages of the kind have gone out for these. */
  messagesSince: string | null
  messagesSent: string[]
  /** The day whose rates the comparison counts with, and what one unit of each currency is in the event's. */
  ratesOn: string | null
  rates: Record<string, string>
  criteria: Body['criteria']
  formula: Body['formula']
  landed: Body['landed']
  award: KeptAward | null
  awardId: string | null
  unread: number
  ownerId: string
  copiedFrom: string | null
  seal: Buffer | null
  version: number
  createdAt: string
  changedAt: string
  search: string
}
/** An award as it is kept: amounts as text of whole smallest units. */
export type KeptAward = Omit<Award, 'cost' | 'above'> & { readonly cost: string; readonly above: string }
export interface EventKindRow {
  id: string
  code: string
  number: number
  name: string
  state: 'draft' | 'live' | 'retired'
  settings: EventKind
  rangeId: string
  outsideRangeId: string | null
  version: number
  changedBy: string
  changedAt: string
}
export interface EventRangeRow {
  id: string
  prefix: string
  digits: number
  next: bigint
  last: bigint
}
interface EventLotRow {
  id: string
  eventId: string
  position: number
  title: string
  rules: Omit<EventLot, 'id' | 'position' | 'title'>
}
export type EventLineRow = Omit<EventLine, 'reference'> & { eventId: string; reference: string | null }
export interface EventSupplierRow {
  id: string
  eventId: string
  supplierId: string
  contactName: string
  email: string
  language: string
  currency: string
  ownNote: string
  toDo: string
  reasons: { code: string; details: Record<string, string | number> }[]
  tokenHash: string | null
  personId: string | null
  sentAt: string | null
  openedAt: string | null
  acceptedAt: string | null
  means: boolean | null
  declinedAt: string | null
  declineReason: string
  suspendedAt: string | null
  suspendReason: string
  answeredAt: string | null
  withdrawnAt: string | null
  onBehalf: boolean
  consent: (Omit<BodyOf<typeof RecordConsent>, 'version'> & { byId: string; by: string; at: string }) | null
  toldPlace: number | null
  seenAt: string | null
}
export interface EventAnswerRow {
  id: string
  invitedId: string
  revision: number
  state: 'draft' | 'submitted' | 'withdrawn'
  content: AnswerContent | Sealed
  channel: string
  byId: string
  onBehalf: boolean
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    events: EventRow
    eventKinds: EventKindRow
    eventRanges: EventRangeRow
    eventLots: EventLotRow
    eventLines: EventLineRow
    eventSuppliers: EventSupplierRow
    eventAnswers: EventAnswerRow
    eventScorers: { eventId: string; personId: string; doneAt: string | null }
    eventScores: {
      eventId: string
      personId: string
      supplierId: string
      question: string
      points: string
      note: string
      at: string
    }
    eventMessages: {
      id: string
      eventId: string
      at: string
      byId: string
      fromSupplierId: string | null
      toSupplierId: string | null
      text: string
      fileIds: string[]
      answersId: string | null
    }
    eventMessageReads: { messageId: string; personId: string }
  }
}

type InvitedRow = EventSupplierRow & { name: string; state: SupplierState; supplierNumber: string }

/** An event with its lots, lines and invited suppliers, as the core knows it, and as it is kept. */
export type KnownEvent = EventFacts & {
  readonly row: EventRow
  readonly kindRow: EventKindRow
  readonly rows: readonly InvitedRow[]
}

/** Events by their ids, whole. */
export async function knownEvents(call: Read, ids: readonly string[]): Promise<KnownEvent[]> {
  if (ids.length === 0) return []
  const rows = await call
    .trx('events')
    .whereIn('id', [...ids])
    .orderBy('id')
  const kinds = await call.trx('eventKinds').whereIn('id', [...new Set(rows.map(row => row.kindId))])
  const lots = groupBy(
    await call
      .trx('eventLots')
      .whereIn('eventId', [...ids])
      .orderBy('position'),
    one => one.eventId,
  )
  const lines = groupBy(await call.trx('eventLines').whereIn('eventId', [...ids]).orderBy('position'), one => one.eventId) // prettier-ignore
  const invited = groupBy(await invitedRows(call, ids), one => one.eventId)
  return rows.map(
    row =>
    toFacts(row, kinds.find(kind => kind.id === row.kindId)!, lots.get(row.id) ?? [], lines.get(row.id) ?? [], invited.get(row.id) ?? []), // prettier-ignore
  )
}

const invitedRows = (call: Read, ids: readonly string[]): Promise<InvitedRow[]> =>
  call
    .trx('eventSuppliers')
    .join('suppliers', 'suppliers.id', 'eventSuppliers.supplierId')
    .whereIn('eventId', [...ids])
    .orderBy(['suppliers.name', 'eventSuppliers.id'])
    .select<InvitedRow[]>('eventSuppliers.*', 'suppliers.name', 'suppliers.state', 'suppliers.number as supplierNumber')

function toFacts(
  row: EventRow,
  kindRow: EventKindRow,
  lots: readonly EventLotRow[],
  lines: readonly EventLineRow[],
  rows: readonly InvitedRow[],
): KnownEvent {
  return {
    id: row.id,
    number: row.number,
    title: row.title,
    state: row.state,
    // what is set for one event counts in place of what its kind begins with
    kind: { ...kindRow.settings, criteria: row.criteria, formula: row.formula, landed: row.landed },
    currency: row.currency,
    ownerId: row.ownerId,
    opensAt: row.opensAt,
    endsAt: row.endsAt,
    zone: row.zone,
    sentAt: row.sentAt,
    lots: lots.map(({ id, position, title, rules }) => ({ id, position, title, ...rules })),
    lines: lines.map(({ eventId: _event, reference, quantity, ...line }) => ({
      ...line,
      quantity: tidy(quantity),
      reference: reference === null ? '' : tidy(reference),
    })),
    invited: rows.map(invitedFacts),
    row,
    kindRow,
    rows,
  }
}

const invitedFacts = (row: InvitedRow): Invited => ({ ...row, reasons: orderingReasons(row.name, row.state) })

/** Reads an event. @throws RuleBroken document.notFound */
export const knownEvent = async (call: Read, id: string): Promise<KnownEvent> =>
  found((await knownEvents(call, [id]))[0], 'event')

/** Holds an event until the transaction ends, and reads it. */
export async function heldEvent(call: Write, id: string, version?: number): Promise<KnownEvent> {
  await hold(call, 'event', id, version)
  return await knownEvent(call, id)
}

/** The next number of the kind's own range, taken in this transaction: nobody else gets it, and none is left out. */
async function nextEventNumber(call: Write, kind: EventKindRow): Promise<string> {
  const range = found(await call.trx('eventRanges').where({ id: kind.rangeId }).forUpdate().first(), 'eventKind')
  const taken = takeNumber(rangeOf(range))
  if (!taken.ok) throw new RuleBroken(taken.reasons)
  await call.trx('eventRanges').where({ id: range.id }).update({ next: taken.next })
  return taken.number
}
export const rangeOf = ({ prefix, digits, next, last }: EventRangeRow): EventRange => ({
  prefix,
  digits,
  next: BigInt(next),
  last: BigInt(last),
})

export type NewEventLine = Omit<EventLine, 'id' | 'lotId' | 'position' | 'goneAt'>
export interface NewEvent {
  readonly kind: EventKindRow
  readonly title: string
  readonly currency: string
  readonly category: string
  readonly lines: readonly NewEventLine[]
  readonly copiedFrom: string | null
  readonly endsAt: string | null
}

/** Writes a new draft with one lot, and its number. */
export async function insertEvent(call: Write, event: NewEvent): Promise<{ id: string; number: string }> {
  const { kind } = event
  const id = randomUUID()
  const number = await nextEventNumber(call, kind)
  const { criteria, formula, landed, lot, sealed } = kind.settings
  await call.trx('events').insert({
    id,
    number,
    kindId: kind.id,
    title: event.title,
    state: 'draft',
    currency: event.currency,
    category: event.category,
    zone: call.actor.timeZone,
    endsAt: event.endsAt,
    criteria: json([...criteria]),
    formula,
    landed: json(landed),
    ownerId: call.actor.id,
    copiedFrom: event.copiedFrom,
    seal: sealed ? newSeal() : null,
    createdAt: call.now,
    changedAt: call.now,
    search: searchOf(number, event.title, event.lines),
  })
  const lotId = randomUUID()
  const rules = { ceiling: '', lineCeilings: {}, byHand: false, ...lot }
  await call.trx('eventLots').insert({ id: lotId, eventId: id, position: 1, title: event.title, rules: json(rules) })
  await insertLines(
    call,
    id,
    event.lines.map((line, index) => ({ ...line, id: randomUUID(), lotId, position: index + 1, goneAt: null })),
  )
  return { id, number }
}

export const insertLines = (call: Write, eventId: string, lines: readonly EventLine[]): Promise<void> =>
  insertMany(
    call.trx,
    'eventLines',
    lines.map(({ reference, texts, ...line }) => ({
      ...line,
      eventId,
      reference: reference === '' ? null : reference,
      texts: json(texts),
    })),
  )

export const searchOf = (number: string, title: string, lines: readonly { readonly description: string }[]): string =>
  [number, title, ...lines.map(line => line.description)].join(' ').toLowerCase().slice(0, 4000)

/** The kind that is used for new events now. */
export const liveKind = async (call: Read, id: string): Promise<EventKindRow> =>
  found(await call.trx('eventKinds').where({ id, state: 'live' }).first(), 'eventKind')

/** Which open event asks about lines of requests, by line; `but` leaves one out. */
export async function openEventsOf(
  call: Read,
  requisitionLineIds: readonly string[],
  but: string | null = null,
): Promise<Map<string, { id: string; number: string }>> {
  if (requisitionLineIds.length === 0) return new Map()
  const rows = await call
    .trx('eventLines')
    .join('events', 'events.id', 'eventLines.eventId')
    .whereIn('requisitionLineId', [...requisitionLineIds])
    .whereIn('events.state', [...EVENT_GROUPS.open])
    .whereNull('goneAt')
    .modify(query => {
      if (but !== null) void query.whereNot('events.id', but)
    })
    .select<{ lineId: string; id: string; number: string }[]>(
      'requisitionLineId as lineId',
      'events.id',
      'events.number',
    )
  return new Map(rows.map(({ lineId, ...event }) => [lineId, event]))
}

/** Keeps on the Desks what waits because of an event. */
export async function keepEventDesk(call: Write, id: string): Promise<void> {
  const event = await knownEvent(call, id)
  const { createdAt, unread } = event.row
  await keepDesk(call, { kind: 'event', id }, eventDesk({ ...event, createdAt, unread }))
}

/** The end that a new event begins with: so many days from now, or the next day on which the team works, at five in the afternoon where its maker is. */
export async function firstEnd(call: Read, kind: Pick<EventKindRow, 'settings'>): Promise<string> {
  const day = nextBusinessDay(addDays(call.today, kind.settings.daysOpen), await teamCalendar(call))
  return new Date(instantAt(day, '17:00', call.actor.timeZone)).toISOString()
}
