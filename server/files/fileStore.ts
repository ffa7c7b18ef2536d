import type { DocumentKind } from '#core/documents/kinds.ts'
import type { Write } from '#server/call.ts'

export interface FileRow {
  id: string
  name: string
  mediaType: string
  size: number
  sha256: string
  content: Buffer
  byId: string
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    files: FileRow
    attachments: {
      id: string
      documentKind: DocumentKind
      documentId: string
      fileId: string
      byId: string
      at: string
    }
    notes: { id: string; documentKind: DocumentKind; documentId: string; text: string; byId: string; at: string }
    fileUses: { fileId: string; documentKind: string; documentId: string }
  }
}

/** Says that a document uses a file. Files that nothing uses are tidied away after two days. */
export async function useFile(
  call: Write,
  fileId: string,
  document: { readonly kind: DocumentKind; readonly id: string },
): Promise<void> {
  await call
    .trx('fileUses')
    .insert({ fileId, documentKind: document.kind, documentId: document.id })
    .onConflict(['fileId', 'documentId'])
    .ignore()
}

/** Days for which a file that nothing uses is kept. */
const UNUSED_DAYS = 2

/**
 * Deletes files that nothing uses: none that a document says it uses, and none that any table refers to by a key, whichever tables there are.
 * Says how many went.
 */
export async function tidyFiles(call: Write): Promise<number> {
  const { rows: keys } = await call.trx.raw<{ rows: { source: string; name: string }[] }>(
    `select c.conrelid::regclass::text as source, a.attname as name from pg_constraint c join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
     where c.contype = 'f' and c.confrelid = 'files'::regclass and array_length(c.conkey, 1) = 1`,
  )
  const unused = keys.map(key => `not exists (select 1 from ${key.source} used where used.${key.name} = files.id)`)
  const { rowCount } = await call.trx.raw<{ rowCount: number }>(
    `delete from files where at < ?::timestamptz - interval '${UNUSED_DAYS} days' and ${unused.join(' and ')}`,
    [call.now],
  )
  return rowCount
}
