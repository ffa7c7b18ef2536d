import type { ActionState, ReasonJson, SheetFrame } from '#contract/fields.ts'
import type { Action } from '#core/acts/decision.ts'
import { documentKind, type DocumentKind } from '#core/documents/kinds.ts'
import type { Reason } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'

type Parts = Pick<SheetFrame, 'history' | 'historyCount' | 'attachments' | 'notes'>

const PARTS = `
  select
    (select coalesce(json_agg(h order by h.sequence desc), '[]') from (
      select history.sequence, history.at, people.name as actor, behalf.name as "onBehalfOf", history.channel, history.action, history.reason, history.changes
      from history join people on people.id = history.actor_id left join people behalf on behalf.id = history.on_behalf_of_id where document_id = :id order by sequence desc limit 40) h) as history,
    (select coalesce(max(sequence), 0) from history where document_id = :id) as history_count,
    (select coalesce(json_agg(a order by a.at), '[]') from (
      select attachments.id, files.name, files.media_type as "mediaType", files.size, attachments.at, people.name as by
      from attachments join files on files.id = attachments.file_id join people on people.id = attachments.by_id where document_id = :id and document_kind = any(:kinds)) a) as attachments,
    (select coalesce(json_agg(n order by n.at), '[]') from (
      select notes.id, notes.text, notes.at, people.name as by,
        array(select named.name from note_mentions m join people named on named.id = m.person_id where m.note_id = notes.id order by named.name) as names,
        exists (select 1 from note_mentions m where m.note_id = notes.id and m.person_id = :me and m.seen_at is null) as "toSee"
      from notes join people on people.id = notes.by_id where document_id = :id and document_kind = any(:kinds)) n) as notes`

/**
 * History, files and notes of a document, in one query. A delivery is the same row as its order: whoever sees the order sees what hangs on
 * either, whoever only sees the delivery what hangs on that.
 */
export async function sheetParts(call: Read, kind: DocumentKind, id: string): Promise<Parts> {
  const kinds = kind === 'order' ? ['order', 'delivery'] : [kind]
  const { rows } = await call.trx
    .raw<{ rows: [Parts] }>(PARTS, { id, kinds, me: call.actor.id })
    .options({ name: 'sheet-parts' })
  return rows[0]
}

/** Reasons as the contract has them. */
export const reasonsJson = (reasons: readonly Reason[]): ReasonJson[] =>
  reasons.map(reason => ({ ...reason, clearedBy: reason.clearedBy ? [...reason.clearedBy] : undefined }))

/** What can be done, as the Sheet has it. */
export const actionsJson = (actions: readonly Action[]): ActionState[] =>
  actions.map(one => ({
    action: one.action,
    primary: one.primary,
    possible: one.reasons.length === 0,
    reasons: reasonsJson(one.reasons),
  }))

/** Where a document's page is. */
export const pathOf = (kind: DocumentKind, place: string): string => documentKind(kind).path(place)
