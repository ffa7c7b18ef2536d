import { phaseOf } from '#core/source/event.ts'
import { EVENT_GROUPS, EVENT_STATES, type EventState } from '#core/source/eventStates.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface Listed {
  id: string
  number: string
  title: string
  state: EventState
  kind: string
  format: string
  owner: string
  category: string
  endsAt: string | null
  sentAt: string | null
  asked: number
  answered: number
  lines: number
  changedAt: string
}

const ASKED = '(select count(*)::int from event_suppliers one where one.event_id = events.id)'
const ANSWERED = '(select count(*)::int from event_suppliers one where one.event_id = events.id and one.answered_at is not null)' // prettier-ignore
const LINES = '(select count(*)::int from event_lines one where one.event_id = events.id and one.gone_at is null)'
/** The end has come, whoever has said so; then somebody who has been asked and is not in is late. */
export const ENDED = 'events.ends_at <= now()'
/** Of `one`, who is asked: nothing is in, and it has not said that nothing comes. */
export const NOT_IN =
  'one.sent_at is not null and one.answered_at is null and one.declined_at is null and one.means is distinct from false and one.suspended_at is null'
const LATE = `exists (select 1 from event_suppliers one where one.event_id = events.id and ${NOT_IN})`

export const eventList: ListDefinition<Listed> = {
  id: 'events.id',
  base: call =>
    call
      .trx('events')
      .leftJoin('eventKinds', 'eventKinds.id', 'events.kindId')
      .leftJoin('people', 'people.id', 'events.ownerId'),
  select: [
    'events.id',
    'events.number',
    'events.title',
    'events.state',
    'event_kinds.name as kind',
    "event_kinds.settings ->> 'format' as format",
    'people.name as owner',
    'events.category',
    'events.ends_at',
    'events.sent_at',
    `${ASKED} as asked`,
    `${ANSWERED} as answered`,
    `${LINES} as lines`,
    'events.changed_at',
  ],
  views: {
    underWay: query => void query.whereIn('events.state', [...EVENT_GROUPS.open]),
    mine: (query, call) => void query.where('events.ownerId', call.actor.id).whereIn('events.state', [...EVENT_GROUPS.open]), // prettier-ignore
    lateAnswers: query => void query.whereIn('events.state', ['asking', 'over']).whereRaw(ENDED).whereRaw(LATE),
    all: () => undefined,
  },
  sorts: {
    newest: { sql: 'events.changed_at', descending: true, type: 'timestamptz' },
    endsFirst: { sql: "coalesce(events.ends_at, 'infinity')", descending: false, type: 'timestamptz' },
  },
  search: 'events.search',
  states: { column: 'events.state', values: Object.keys(EVENT_STATES) },
  columns: [
    { key: 'eventKind', type: 'words', sql: 'event_kinds.name' },
    { key: 'owner', type: 'person', sql: 'people.name', personId: 'events.owner_id' },
    { key: 'category', type: 'words', sql: 'events.category' },
    { key: 'endsOn', type: 'date', sql: 'events.ends_at' },
    { key: 'asked', type: 'figure', sql: ASKED },
    { key: 'answered', type: 'figure', sql: ANSWERED },
    { key: 'lines', type: 'figure', sql: LINES },
    { key: 'changedAt', type: 'date', sql: 'events.changed_at' },
  ],
  row: (row, call) => {
    const phase = phaseOf(row, call.now)
    const state = phase === 'known' ? 'over' : phase
    return {
      id: row.id,
      path: pathOf('event', row.id),
      number: row.number,
      title: row.title,
      subtitle: [row.number, row.owner].filter(Boolean).join(', '),
      state,
      amount: null,
      currency: null,
      note: {
        code: `event.short.${phase}`,
        details: { answered: row.answered, asked: row.asked, at: row.endsAt ?? '' },
      },
      tone: state === 'over' || state === 'awarded' ? 'attention' : state === 'settled' ? 'settled' : 'plain',
      cells: {
        eventKind: row.kind,
        owner: row.owner,
        category: row.category,
        endsOn: row.endsAt?.slice(0, 10) ?? null,
        asked: String(row.asked),
        answered: String(row.answered),
        lines: String(row.lines),
        changedAt: row.changedAt.slice(0, 10),
      },
    }
  },
}
