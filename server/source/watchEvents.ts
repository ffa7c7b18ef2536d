import { inTransaction, type JobParts } from '#server/jobs/parts.ts'
import { watchDay } from '#server/source/dayActs.ts'
import { watchQuotes } from '#server/source/eventActs.ts'

/** Looks at every event that asks now, each in a transaction of its own: what the clock has to say is said within a minute of its time. */
export async function watchEvents(parts: JobParts): Promise<void> {
  const asking = await parts
    .db('events')
    .join('eventKinds', 'eventKinds.id', 'events.kindId')
    .where('events.state', 'asking')
    .orderBy('events.endsAt')
    .select<{ id: string; format: string }[]>('events.id', parts.db.raw("settings ->> 'format' as format"))
  for (const { id, format } of asking)
    await inTransaction(parts, call => (format === 'auction' ? watchDay(call, id) : watchQuotes(call, id)))
}
