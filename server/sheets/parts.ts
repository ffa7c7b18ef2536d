import type { ActionState, ReasonJson, SheetFrame } from '#contract/fields.ts'
import type { DocumentKind } from '#contract/files/endpoints.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { Call } from '#server/call.ts'

type Parts = Pick<SheetFrame, 'history' | 'historyCount' | 'attachments' | 'notes'>

const PARTS = `
  select
    (select coalesce(json_agg(h order by h.sequence desc), '[]') from (
      select history.sequence, history.at, people.name as actor, history.channel, history.action, history.reason, history.changes
      from history join people on people.id = history.actor_id where document_id = :id order by sequence desc limit 40) h) as history,
    (select count(*)::int from history where document_id = :id) as history_count,
    (select coalesce(json_agg(a order by a.at), '[]') from (
      select attachments.id, files.name, files.media_type as "mediaType", files.size, attachments.at, people.name as by
      from attachments join files on files.id = attachments.file_id join people on people.id = attachments.by_id where document_id = :id) a) as attachments,
    (select coalesce(json_agg(n order by n.at), '[]') from (
      select notes.id, notes.text, notes.at, people.name as by from notes join people on people.id = notes.by_id where document_id = :id) n) as notes`

/** History, files and notes of a document, in one query. */
export async function sheetParts(call: Call, id: string): Promise<Parts> {
  const { rows } = (await call.trx.raw(PARTS, { id }).options({ name: 'sheet-parts' })) as { rows: [Parts] }
  return rows[0]
}

/** Reasons as the contract has them. */
export const reasonsJson = (reasons: readonly Reason[]): ReasonJson[] => reasons.map(reason => ({ ...reason, clearedBy: reason.clearedBy ? [...reason.clearedBy] : undefined }))

/** Whoever may not act is told so as one of the reasons. */
export function action(name: string, possible: boolean | readonly Reason[], options: { primary?: boolean } = {}): ActionState {
  const reasons = possible === true ? [] : possible === false ? [stop('right.notYours')] : possible
  return {
    action: name,
    primary: options.primary ?? false,
    possible: reasons.length === 0,
    reasons: reasonsJson(reasons),
  }
}

export const PATHS: Readonly<Record<DocumentKind, (id: string) => string>> = {
  supplier: id => `/source/${id}`,
  onboarding: id => `/source/onboardings/${id}`,
  requisition: id => `/request/${id}`,
  order: id => `/order/${id}`,
  receipt: id => `/receive/${id}`,
  invoice: id => `/bill/${id}`,
  paymentRun: id => `/pay/${id}`,
}
