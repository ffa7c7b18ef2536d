import { createHash, randomUUID } from 'node:crypto'
import { fileTypeFromBuffer } from 'file-type'
import { ATTACHABLE, FILE_LIMIT } from '#contract/files/endpoints.ts'
import { DOCUMENTS, type DocumentKind } from '#core/documents/kinds.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { hold } from '#server/documents/hold.ts'
import { record } from '#server/documents/history.ts'
import { needVisible } from '#server/documents/visible.ts'
import { type FileRow, useFile } from '#server/files/fileStore.ts'
import type { FileAnswer } from '#server/http/route.ts'
import type { Upload } from '#server/http/upload.ts'

/** Stores an uploaded file. Its kind is told from its content, never from its name. */
export async function storeFile(
  call: Write,
  upload: Upload,
): Promise<{ id: string; name: string; mediaType: string; size: number }> {
  if (upload.bytes.length > FILE_LIMIT)
    throw new RuleBroken(stop('file.tooLarge', { limit: `${FILE_LIMIT / 1024 / 1024} MB` }))
  if (upload.bytes.length === 0) throw new RuleBroken(stop('file.empty'))
  const mediaType = await kindOf(upload.bytes)
  const file = { id: randomUUID(), name: upload.name, mediaType, size: upload.bytes.length }
  await call.trx('files').insert({
    ...file,
    sha256: createHash('sha256').update(upload.bytes).digest('hex'),
    content: upload.bytes,
    byId: call.actor.id,
    at: call.now,
  })
  return file
}

async function kindOf(bytes: Buffer): Promise<string> {
  const seen = await fileTypeFromBuffer(bytes).catch(() => undefined)
  if (seen) return seen.mime
  const start = bytes.subarray(0, 400)
  const wide = (start[0] === 0xff && start[1] === 0xfe) || (start[0] === 0xfe && start[1] === 0xff)
  if (!wide && start.includes(0)) return 'application/octet-stream'
  return /^\ufeff?\s*</.test(start.toString('utf8')) ? 'application/xml' : 'text/plain'
}

/** A file that this person uploaded. */
export const ownFile = async (call: Read, id: string): Promise<FileRow> =>
  found(await call.trx('files').where({ id, byId: call.actor.id }).first(), 'file')

/** Files and notes hang on documents that this person sees; a delivery's hang on the delivery, so that its readers see them. */
async function holdVisible(call: Write, kind: DocumentKind, id: string): Promise<void> {
  if (!DOCUMENTS[kind].papers) throw new RuleBroken(stop('document.notFound', { kind }))
  await needVisible(call, kind, id)
  await hold(call, kind, id)
}

export async function attach(call: Write, kind: DocumentKind, documentId: string, fileId: string) {
  await holdVisible(call, kind, documentId)
  const file = await ownFile(call, fileId)
  if (!ATTACHABLE.some(type => type === file.mediaType))
    throw new RuleBroken(stop('file.type', { type: file.mediaType }))
  const id = randomUUID()
  await call
    .trx('attachments')
    .insert({ id, documentKind: kind, documentId, fileId, byId: call.actor.id, at: call.now })
  await useFile(call, fileId, { kind, id: documentId })
  await record(call, {
    kind,
    id: documentId,
    action: 'fileAttached',
    changes: { name: file.name, size: file.size },
  })
  return { id, name: file.name, mediaType: file.mediaType, size: file.size, at: call.now, by: call.actor.name }
}

export async function readAttachment(call: Read, id: string): Promise<FileAnswer> {
  const attachment = found(await call.trx('attachments').where({ id }).first(), 'file')
  await needVisible(call, attachment.documentKind, attachment.documentId)
  const file = found(await call.trx('files').where({ id: attachment.fileId }).first(), 'file')
  return { name: file.name, mediaType: file.mediaType, bytes: file.content }
}

export async function writeNote(call: Write, kind: DocumentKind, documentId: string, text: string) {
  await holdVisible(call, kind, documentId)
  if (text.trim() === '') throw new RuleBroken(stop('note.empty', {}, { place: 'text' }))
  const id = randomUUID()
  await call.trx('notes').insert({ id, documentKind: kind, documentId, text, byId: call.actor.id, at: call.now })
  await record(call, { kind, id: documentId, action: 'noteWritten', changes: { text } })
  return { id, text, at: call.now, by: call.actor.name }
}
