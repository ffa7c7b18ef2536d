import { EVENT_STATES } from '#core/source/eventStates.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { ENDED, NOT_IN } from '#server/source/eventList.ts'

interface Listed {
  id: string
  eventId: string
  number: string
  title: string
  supplier: string
  state: string
  owner: string
  contact: string
  endsAt: string | null
  openedAt: string | null
  answeredAt: string | null
  late: boolean
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
    'one.opened_at',
    'one.answered_at',
    `coalesce(${LATE}, false) as late`,
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
  row: row => ({
    id: row.id,
    path: pathOf('event', row.eventId),
    number: row.number,
    title: row.supplier,
    subtitle: [row.title, row.contact].filter(Boolean).join(', '),
    state: row.state,
    amount: null,
    currency: null,
    note: {
      code: row.answeredAt
        ? 'asked.short.in'
        : row.late
          ? 'asked.short.late'
          : row.openedAt
            ? 'asked.short.opened'
            : 'asked.short.sent',
      details: { at: row.answeredAt ?? row.openedAt ?? row.endsAt ?? '' },
    },
    tone: row.late ? 'attention' : 'plain',
    cells: {
      supplier: row.supplier,
      contact: row.contact,
      owner: row.owner,
      endsOn: row.endsAt?.slice(0, 10) ?? null,
      openedOn: row.openedAt?.slice(0, 10) ?? null,
      answeredOn: row.answeredAt?.slice(0, 10) ?? null,
    },
  }),
}
