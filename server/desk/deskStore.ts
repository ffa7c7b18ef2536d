import type { DeskEntry } from '#core/desk/entry.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import type { Read, Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { deskTopic, tell } from '#server/news/tell.ts'

export interface DeskRow {
  documentKind: string
  documentId: string
  key: string
  /** Tells entries of one key on one document apart. */
  place: number
  audience: string
  /** It waits for this audience alone, and for everybody in it: it can be counted without looking at others. */
  plain: boolean
  notFor: string[]
  stage: string
  act: string
  tone: DeskEntry['tone']
  fromDay: string
  amount: bigint | null
  currency: string | null
  since: string
  needBy: string | null
  path: string
  details: Record<string, string | number>
}
declare module 'knex/types/tables.js' {
  interface Tables {
    deskEntries: DeskRow
  }
}

/** Days before which nothing waits. */
const AT_ONCE = '0001-01-01'

/** A day counts from its midnight in UTC; what waits since a day has no hour. */
const instant = (since: string): string => (since.length === 10 ? `${since}T00:00:00.000Z` : since)

const rowsOf = (document: { kind: string; id: string }, entries: readonly DeskEntry[]): DeskRow[] => {
  const places = new Map<string, number>()
  return entries.flatMap(entry => {
    const place = places.get(entry.key) ?? 0
    places.set(entry.key, place + 1)
    return entry.audiences.map(audience => ({
      documentKind: document.kind,
      documentId: document.id,
      key: entry.key,
      place,
      audience,
      plain: entry.audiences.length === 1 && entry.notFor.length === 0,
      notFor: [...entry.notFor],
      stage: entry.stage,
      act: entry.act,
      tone: entry.tone,
      fromDay: entry.from ?? AT_ONCE,
      amount: entry.amount,
      currency: entry.currency,
      since: instant(entry.since),
      needBy: entry.needBy,
      path: entry.path,
      details: { ...entry.details },
    }))
  })
}

/** What tells whether an entry is the same as before. */
const textOf = (row: DeskRow): string =>
  JSON.stringify([
    row.key,
    row.place,
    row.audience,
    [...row.notFor].sort(),
    row.stage,
    row.act,
    row.tone,
    row.fromDay,
    row.amount?.toString() ?? null,
    row.currency,
    row.since,
    row.needBy,
    row.path,
    Object.entries(row.details).sort(),
  ])

/** Keeps what waits because of some documents: writes what changed and tells those whose Desk it changes. */
export async function keepDesks(
  call: Write,
  desks: readonly { readonly document: { kind: DocumentKind; id: string }; readonly entries: readonly DeskEntry[] }[],
): Promise<void> {
  if (desks.length === 0) return
  const ids = desks.map(desk => desk.document.id)
  const kinds = [...new Set(desks.map(desk => desk.document.kind))]
  const { rows: before } = await call.trx
    .raw<{ rows: DeskRow[] }>('select * from desk_entries where document_id = any(?) and document_kind = any(?)', [
      ids,
      kinds,
    ])
    .options({ name: 'desk-of-documents' })
  const after = desks.flatMap(desk => rowsOf(desk.document, desk.entries))
  const old = new Map(before.map(row => [`${row.documentId} ${textOf(row)}`, row]))
  const now = new Map(after.map(row => [`${row.documentId} ${textOf(row)}`, row]))
  const gone = [...old].filter(([text]) => !now.has(text)).map(([, row]) => row)
  const fresh = [...now].filter(([text]) => !old.has(text)).map(([, row]) => row)
  if (gone.length > 0)
    await call.trx.raw(
      'delete from desk_entries using jsonb_to_recordset(?::jsonb) as gone (document_id uuid, key text, place int, audience text) where desk_entries.document_id = gone.document_id and desk_entries.key = gone.key and desk_entries.place = gone.place and desk_entries.audience = gone.audience',
      [
        JSON.stringify(
          gone.map(row => ({ document_id: row.documentId, key: row.key, place: row.place, audience: row.audience })),
        ),
      ],
    )
  await insertMany(call.trx, 'deskEntries', fresh)
  await tell(
    call,
    [...gone, ...fresh].map(row => deskTopic(row.audience)),
  )
}

export const keepDesk = (
  call: Write,
  document: { kind: DocumentKind; id: string },
  entries: readonly DeskEntry[],
): Promise<void> => keepDesks(call, [{ document, entries }])

/** What stands on any Desk because of some documents, for the audit. */
export const keptDesk = (call: Read, kind: DocumentKind, ids: readonly string[]): Promise<DeskRow[]> =>
  call
    .trx('deskEntries')
    .whereIn('documentId', [...ids])
    .where({ documentKind: kind })
    .orderBy(['documentId', 'key', 'place', 'audience'])

/** How entries would be kept, in the same order. */
export const wantedDesk = (document: { kind: DocumentKind; id: string }, entries: readonly DeskEntry[]): string[] =>
  rowsOf(document, entries).map(audited).sort()

/** What the audit holds against each other: who waits for what, from when, over how much. Names may change without an act. */
export const audited = (row: DeskRow): string =>
  [row.key, row.place, row.audience, row.fromDay, row.amount?.toString() ?? '-', row.needBy ?? '-'].join(' ')
