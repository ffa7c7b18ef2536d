import type { Tables } from 'knex/types/tables.js'
import { type DocumentKind, DOCUMENTS } from '#core/documents/kinds.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { lastChange } from '#server/documents/history.ts'

/** The row of a kind of document. */
export type RowOf<K extends DocumentKind> = Tables[(typeof DOCUMENTS)[K]['rows'] & keyof Tables]

/**
 * Holds a document's row until the transaction ends, so that nobody changes it meanwhile, and refuses a save that was made on an older
 * version. Several documents are held in the order of the work, and those of one kind by id.
 *
 * @throws RuleBroken document.notFound | document.changed
 */
export async function hold<K extends DocumentKind>(
  call: Write,
  kind: K,
  id: string,
  version?: number,
): Promise<RowOf<K>> {
  const rows = (await call.trx(DOCUMENTS[kind].rows).where({ id }).forNoKeyUpdate()) as RowOf<K>[]
  const row: RowOf<K> = found(rows[0], kind)
  if (version !== undefined) await guardVersion(call, row as { id: string; version: number }, version)
  return row
}

/** Holds several documents of one kind, by id. All of them have to be there. */
export async function holdAll<K extends DocumentKind>(
  call: Write,
  kind: K,
  ids: readonly string[],
): Promise<RowOf<K>[]> {
  const wanted = [...new Set(ids)]
  const rows = (await call.trx(DOCUMENTS[kind].rows).whereIn('id', wanted).orderBy('id').forNoKeyUpdate()) as RowOf<K>[]
  if (rows.length !== wanted.length) throw new RuleBroken(stop('document.notFound', { kind }))
  return rows
}

/** Refuses a stale save: says who changed the document meanwhile and what. */
export async function guardVersion(
  call: Read,
  document: { id: string; version: number },
  version: number,
): Promise<void> {
  if (document.version === version) return
  const last = await lastChange(call, document.id)
  throw new RuleBroken(
    stop('document.changed', {
      by: last?.name ?? '',
      at: last?.at ?? '',
      action: last?.action ?? '',
      version: document.version,
    }),
  )
}
