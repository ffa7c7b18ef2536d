import { createHash, randomUUID } from 'node:crypto'
import { fileTypeFromBuffer } from 'file-type'
import { ATTACHABLE, type DocumentKind, FILE_LIMIT } from '#contract/files/endpoints.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Call, found, may } from '#server/call.ts'
import type { Upload } from '#server/http/upload.ts'
import type { FileAnswer } from '#server/http/app.ts'
import { record } from '#server/ledger/history.ts'
import { readVisibleRequisition } from '#server/request/requisitionStore.ts'

export interface StoredFile {
  id: string
  name: string
  mediaType: string
  size: number
  content: Buffer
  byId: string
}

/** Stores an uploaded file. Its kind is told from its content, never from its name. */
export async function storeFile(call: Call, upload: Upload): Promise<{ id: string; name: string; mediaType: string; size: number }> {
  if (upload.bytes.length > FILE_LIMIT) throw new RuleBroken(stop('file.tooLarge', { limit: `${FILE_LIMIT / 1024 / 1024} MB` }))
  if (upload.bytes.length === 0) throw new RuleBroken(stop('file.empty'))
  const mediaType = await kindOf(upload.bytes)
  const file = { id: randomUUID(), name: upload.name, mediaType, size: upload.bytes.length }
  await call.trx('files').insert({ ...file, sha256: createHash('sha256').update(upload.bytes).digest('hex'), content: upload.bytes, byId: call.actor.id, at: call.now })
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
export async function ownFile(call: Call, id: string): Promise<StoredFile> {
  return found((await call.trx('files').where({ id, byId: call.actor.id }).first()) as StoredFile | undefined, 'file')
}

export async function attach(call: Call, kind: DocumentKind, documentId: string, fileId: string) {
  await needDocument(call, kind, documentId)
  const file = await ownFile(call, fileId)
  if (!ATTACHABLE.some(type => type === file.mediaType)) throw new RuleBroken(stop('file.type', { type: file.mediaType }))
  const id = randomUUID()
  await call.trx('attachments').insert({ id, documentKind: kind, documentId, fileId, byId: call.actor.id, at: call.now })
  await record(call, { kind, id: documentId, action: 'fileAttached', changes: { name: file.name, size: file.size } })
  return { id, name: file.name, mediaType: file.mediaType, size: file.size, at: call.now, by: call.actor.name }
}

export async function readAttachment(call: Call, id: string): Promise<FileAnswer> {
  const attachment = found((await call.trx('attachments').where({ id }).first()) as { documentKind: DocumentKind; documentId: string; fileId: string } | undefined, 'file')
  await needDocument(call, attachment.documentKind, attachment.documentId)
  const file = found((await call.trx('files').where({ id: attachment.fileId }).first()) as StoredFile | undefined, 'file')
  return { name: file.name, mediaType: file.mediaType, bytes: file.content }
}

export async function writeNote(call: Call, kind: DocumentKind, documentId: string, text: string) {
  await needDocument(call, kind, documentId)
  if (text.trim() === '') throw new RuleBroken(stop('note.empty', {}, { place: 'text' }))
  const id = randomUUID()
  await call.trx('notes').insert({ id, documentKind: kind, documentId, text, byId: call.actor.id, at: call.now })
  await record(call, { kind, id: documentId, action: 'noteWritten', changes: { text } })
  return { id, text, at: call.now, by: call.actor.name }
}

const TABLES = {
  supplier: ['suppliers', 'supplier.read'],
  onboarding: ['onboardings', 'supplier.read'],
  order: ['orders', 'order.read'],
  receipt: ['orders', 'delivery.read'],
  invoice: ['invoices', 'invoice.read'],
  paymentRun: ['paymentRuns', 'payment.read'],
} as const

/** Holds the document's row and makes sure that this person may see it. */
async function needDocument(call: Call, kind: DocumentKind, id: string): Promise<void> {
  if (kind === 'requisition') {
    await readVisibleRequisition(call, id)
    await call.trx('requisitions').where({ id }).forNoKeyUpdate().first('id')
    return
  }
  const [table, permission] = TABLES[kind]
  if (!may(call, permission)) throw new RuleBroken(stop('right.missing', { permission }))
  found(await call.trx(table).where({ id }).forNoKeyUpdate().first('id'), kind)
}
