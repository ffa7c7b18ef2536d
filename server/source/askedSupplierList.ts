import { type InvitedStanding, isOver, type StandingFacts, standingOfInvited } from '#core/source/event.ts'
import { EVENT_STATES, type EventState } from '#core/source/eventStates.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { ENDED, NOT_IN } from '#server/source/eventList.ts'

interface Listed extends StandingFacts {
  id: string
  eventId: string
  number: string
  title: string
  supplier: string
  state: EventState
  owner: string
  contact: string
  endsAt: string | null
}

const LATE = `${ENDED} and (${NOT_IN})`

/** Everybody who is asked anything, over all events: one row for each supplier and event. */
export const askedSupplierList: ListDefinition<Listed> = {
  id: 'one.id',
  base: call =>
    call
      .trx({ one: 'eventSuppliers' })
      .join('events', 'events.id', 'one.eventId')
      .join('suppliers', 'suppliers.id', 'one.supplierId')
      .leftJoin('people', 'people.id', 'events.ownerId')
      .whereNotNull('one.sentAt'),
  select: [
    'one.id',
    'one.event_id',
    'events.number',
    'events.title',
    'suppliers.name as supplier',
    'events.state',
    'people.name as owner',
    'one.contact_name as contact',
    'events.ends_at',
    'one.sent_at',
    'one.opened_at',
    'one.accepted_at',
    'one.means',
    'one.declined_at',
    'one.suspended_at',
    'one.answered_at',
    'one.withdrawn_at',
  ],
  views: {
    lateAnswers: query => void query.whereIn('events.state', ['asking', 'over']).whereRaw(LATE),
    awaited: query => void query.where('events.state', 'asking').whereRaw(`(${ENDED}) is not true`).whereRaw(NOT_IN),
    mine: (query, call) => void query.where('events.ownerId', call.actor.id),
    all: () => undefined,
  },
  sorts: {
    endsFirst: { sql: "coalesce(events.ends_at, 'infinity')", descending: false, type: 'timestamptz' },
    supplier: { sql: 'suppliers.name', descending: false, type: 'text' },
  },
  search: "(events.search || ' ' || suppliers.search)",
  states: { column: 'events.state', values: Object.keys(EVENT_STATES) },
  columns: [
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'contact', type: 'words', sql: 'one.contact_name' },
    { key: 'owner', type: 'person', sql: 'people.name', personId: 'events.owner_id' },
    { key: 'endsOn', type: 'date', sql: 'events.ends_at' },
    { key: 'openedOn', type: 'date', sql: 'one.opened_at' },
    { key: 'answeredOn', type: 'date', sql: 'one.answered_at' },
  ],
  row: (row, call) => {
    const standing = standingOfInvited(row, isOver(row, call.now))
    return {
      id: row.id,
      path: pathOf('event', row.eventId),
      number: row.number,
      title: row.supplier,
      subtitle: [row.title, row.contact].filter(Boolean).join(', '),
      state: row.state,
      amount: null,
      currency: null,
      note: { code: `asked.short.${standing}`, details: { at: momentOf(row, standing) ?? '' } },
      tone: standing === 'late' ? 'attention' : 'plain',
      cells: {
        supplier: row.supplier,
        contact: row.contact,
        owner: row.owner,
        endsOn: row.endsAt?.slice(0, 10) ?? null,
        openedOn: row.openedAt?.slice(0, 10) ?? null,
        answeredOn: row.answeredAt?.slice(0, 10) ?? null,
      },
    }
  },
}

/** The moment that says most about how far it has come. */
const momentOf = (row: Listed, standing: InvitedStanding): string | null =>
  ({
    suspended: row.suspendedAt,
    declined: row.declinedAt ?? row.endsAt,
    withdrawn: row.withdrawnAt,
    answered: row.answeredAt,
    accepted: row.acceptedAt,
    opened: row.openedAt,
    late: row.endsAt,
    means: row.endsAt,
    sent: row.endsAt,
    toSend: row.endsAt,
  })[standing]
