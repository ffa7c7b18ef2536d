import type { DeskEntry } from '#core/desk/entry.ts'
import { forPerson, forRight } from '#core/desk/entry.ts'
import type { EventFacts } from '#core/source/event.ts'

/** What waits because of an event: a draft to be sent, an end that comes or has come, an award to be placed. Decisions are asked as a consent. */
export function eventDesk(event: EventFacts & { readonly createdAt: string; readonly unread: number }): DeskEntry[] {
  const common = {
    stage: 'source',
    act: 'see',
    tone: 'plain',
    amount: null,
    currency: null,
    notFor: [],
    from: null,
    needBy: event.endsAt?.slice(0, 10) ?? null,
    since: event.endsAt ?? event.createdAt,
    path: `/source/events/${event.id}`,
    audiences: [forPerson(event.ownerId)],
  } as const
  const answered = event.invited.filter(one => one.answeredAt !== null).length
  const details = { number: event.number, title: event.title, answered, asked: event.invited.length }
  const entries: DeskEntry[] = []
  if (event.unread > 0)
    entries.push({ ...common, key: 'eventWrites', tone: 'attention', details: { ...details, extra: event.unread } })
  if (event.state === 'draft') entries.push({ ...common, key: 'eventDraft', since: event.createdAt, details })
  if (event.state === 'asking' && event.endsAt !== null)
    // counted by the day: it waits from the day of its end on, whoever has said already that it is over
    entries.push({ ...common, key: 'eventEnds', tone: 'attention', from: event.endsAt.slice(0, 10), details })
  if (event.state === 'over') entries.push({ ...common, key: 'eventCompare', details })
  if (event.state === 'awarded') entries.push({ ...common, key: 'eventPlace', audiences: [forPerson(event.ownerId), forRight('event.write')], details }) // prettier-ignore
  return entries
}
