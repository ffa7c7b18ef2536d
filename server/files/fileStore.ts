import { open } from 'node:fs/promises'
import { Readable } from 'node:stream'
import type { DocumentKind } from '#core/documents/kinds.ts'
import type { Read, Write } from '#server/call.ts'

export interface FileRow {
  id: string
  name: string
  mediaType: string
  size: number
  sha256: string
  byId: string
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    files: FileRow
    fileParts: { fileId: string; position: number; content: Buffer }
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

/** Bytes of one part of a file: what is in memory at once while it is stored or sent. */
const PART = 256 * 1024

/** Stores what lies at a path as a file's content, part by part. */
export async function storeContent(call: Write, fileId: string, path: string): Promise<void> {
  const file = await open(path)
  try {
    for (let position = 0; ; position++) {
      const { bytesRead, buffer } = await file.read(Buffer.alloc(PART), 0, PART, position * PART)
      if (bytesRead === 0) return
      await call.trx('fileParts').insert({ fileId, position, content: buffer.subarray(0, bytesRead) })
    }
  } finally {
    await file.close()
  }
}

/** A file's content while it is sent: one part in memory at a time. */
export const contentStream = (call: Read, fileId: string): Readable => Readable.from(parts(call, fileId))

async function* parts(call: Read, fileId: string): AsyncGenerator<Buffer> {
  for (let position = 0; ; position++) {
    const part = await call.trx('fileParts').where({ fileId, position }).first('content')
    if (!part) return
    yield part.content
  }
}

/** A file's content whole, for what reads it. */
export async function contentOf(call: Read, fileId: string): Promise<Buffer> {
  const all = await call.trx('fileParts').where({ fileId }).orderBy('position').pluck<Buffer[]>('content')
  return Buffer.concat(all)
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
     where c.contype = 'f' and c.confrelid = 'files'::regclass and c.conrelid <> 'file_parts'::regclass and array_length(c.conkey, 1) = 1`,
  )
  const unused = keys.map(key => `not exists (select 1 from ${key.source} used where used.${key.name} = files.id)`)
  const { rowCount } = await call.trx.raw<{ rowCount: number }>(
    `delete from files where at < ?::timestamptz - interval '${UNUSED_DAYS} days' and ${unused.join(' and ')}`,
    [call.now],
  )
  return rowCount
}
