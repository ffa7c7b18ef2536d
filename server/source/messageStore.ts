import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import type { Read } from '#server/call.ts'
import type { KnownEvent } from '#server/source/eventStore.ts'

type MessageJson = ResponseOf<typeof ReadEvent>['messages'][number]

export const namesOfFiles = async (call: Read, ids: readonly string[]): Promise<{ id: string; name: string }[]> =>
  ids.length === 0
    ? []
    : await call
        .trx('files')
        .whereIn('id', [...ids])
        .select('id', 'name')

interface MessageRow {
  id: string
  at: string
  by: string
  fromSupplierId: string | null
  toSupplierId: string | null
  text: string
  fileIds: string[]
  answersId: string | null
  read: boolean
}

/**
 * The correspondence of an event, for our side (`supplierId` null) or as one supplier sees it: what went to all, to it, and what it wrote itself. A
 * supplier never learns what another wrote, nor that an answer to all was asked for by another.
 */
export async function messagesFor(call: Read, event: KnownEvent, supplierId: string | null): Promise<MessageJson[]> {
  const rows = await call
    .trx('eventMessages as m')
    .join('people', 'people.id', 'm.byId')
    .where('m.eventId', event.id)
    .modify(query => {
      if (supplierId !== null)
        void query.where(
          own =>
            void own
              .where('m.fromSupplierId', supplierId)
              .orWhere(ours => void ours.whereNull('m.fromSupplierId').where(to => void to.whereNull('m.toSupplierId').orWhere('m.toSupplierId', supplierId))), // prettier-ignore
        )
    })
    .orderBy('m.at')
    .select<MessageRow[]>(
      'm.id',
      'm.at',
      'people.name as by',
      'm.fromSupplierId',
      'm.toSupplierId',
      'm.text',
      'm.fileIds',
      'm.answersId',
      call.trx.raw('exists (select 1 from event_message_reads r where r.message_id = m.id and r.person_id = ?) as read', [call.actor.id]), // prettier-ignore
    )
  const files = new Map((await namesOfFiles(call, rows.flatMap(row => row.fileIds))).map(one => [one.id, one])) // prettier-ignore
  const names = new Map(event.invited.map(one => [one.supplierId, one.name]))
  const shown = new Set(rows.map(row => row.id))
  return rows.map(row => ({
    id: row.id,
    at: row.at,
    by: row.by,
    from: row.fromSupplierId === null ? null : (names.get(row.fromSupplierId) ?? ''),
    to: row.toSupplierId === null ? null : (names.get(row.toSupplierId) ?? ''),
    toSupplierId: row.toSupplierId,
    text: row.text,
    files: row.fileIds.flatMap(id => files.get(id) ?? []),
    answersId: row.answersId !== null && shown.has(row.answersId) ? row.answersId : null,
    unread: !row.read && (supplierId === null) === (row.fromSupplierId !== null),
  }))
}
