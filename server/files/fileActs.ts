import { randomUUID } from 'node:crypto'
import { open } from 'node:fs/promises'
import { fileTypeFromFile } from 'file-type'
import { imageSize } from 'image-size'
import { ATTACHABLE } from '#contract/files/endpoints.ts'
import { DOCUMENTS, type DocumentKind } from '#core/documents/kinds.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write, writing } from '#server/call.ts'
import { hold } from '#server/documents/hold.ts'
import { record } from '#server/documents/history.ts'
import { needVisible } from '#server/documents/visible.ts'
import { contentOf, contentStream, type FileRow, storeContent, useFile } from '#server/files/fileStore.ts'
import type { FileAnswer } from '#server/http/route.ts'
import type { Upload } from '#server/http/upload.ts'

/** Megabytes that one person, and one company's people together, may send in a day. */
export const QUOTA_MB = { person: 1000, company: 2000 } as const
/** Millions of dots of a picture: what somebody else's browser can still open. */
const MOST_MEGAPIXELS = 60
/** Bytes at the beginning of a file that are looked at for what it is. */
const HEAD = 256 * 1024

/** Stores an uploaded file. Its kind is told from its content, never from its name. */
export async function storeFile(
  call: Write,
  receive: () => Promise<Upload>,
): Promise<{ id: string; name: string; mediaType: string; size: number }> {
  await refuseOverQuota(call, 0)
  const upload = await receive()
  try {
    if (upload.size === 0) throw new RuleBroken(stop('file.empty'))
    const mediaType = await kindOf(upload.path)
    const file = { id: randomUUID(), name: upload.name, mediaType, size: upload.size }
    await call.trx.transaction(async trx => {
      const inside = writing(trx, call)
      // one after the other for each person, so that files sent at once are counted
      await trx.raw('select pg_advisory_xact_lock(hashtextextended(?, 0))', [call.actor.supplierId ?? call.actor.id])
      await refuseOverQuota(inside, upload.size)
      await trx('files').insert({ ...file, sha256: upload.sha256, byId: call.actor.id, at: call.now })
      await storeContent(inside, file.id, upload.path)
    })
    return file
  } finally {
    await upload.drop()
  }
}

async function refuseOverQuota(call: Read, size: number): Promise<void> {
  const { id, supplierId } = call.actor
  const { rows } = await call.trx.raw<{ rows: { own: bigint; company: bigint }[] }>(
    `select coalesce(sum(size) filter (where by_id = ?), 0)::bigint as own, coalesce(sum(size), 0)::bigint as company
     from files where at > ?::timestamptz - interval '1 day' and (by_id = ? or by_id in (select id from people where supplier_id = ?))`,
    [id, call.now, id, supplierId],
  )
  const over = (sum: bigint, limit: number): boolean => Number(sum) + size > limit * 1024 * 1024
  const { own, company } = rows[0]!
  if (over(own, QUOTA_MB.person))
    throw new RuleBroken(stop('file.quota', { who: 'you', limit: `${QUOTA_MB.person} MB` }))
  if (supplierId && over(company, QUOTA_MB.company))
    throw new RuleBroken(stop('file.quota', { who: 'your company', limit: `${QUOTA_MB.company} MB` }))
}

/** @throws RuleBroken file.imageSize */
async function kindOf(path: string): Promise<string> {
  const head = await headOf(path)
  const seen = await fileTypeFromFile(path).catch(() => undefined)
  if (seen?.mime.startsWith('image/')) refuseHugePicture(head)
  if (seen) return seen.mime
  const start = head.subarray(0, 400)
  const wide = (start[0] === 0xff && start[1] === 0xfe) || (start[0] === 0xfe && start[1] === 0xff)
  if (!wide && start.includes(0)) return 'application/octet-stream'
  return /^\ufeff?\s*</.test(start.toString('utf8')) ? 'application/xml' : 'text/plain'
}

async function headOf(path: string): Promise<Buffer> {
  const file = await open(path)
  try {
    const { bytesRead, buffer } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0)
    return buffer.subarray(0, bytesRead)
  } finally {
    await file.close()
  }
}

/** A small file can say that it is a picture of any size; what its head does not say, no browser shows. */
function refuseHugePicture(head: Buffer): void {
  let dots: number
  try {
    const { width, height } = imageSize(head)
    dots = width * height
  } catch {
    return
  }
  if (dots > MOST_MEGAPIXELS * 1e6) throw new RuleBroken(stop('file.imageSize', { limit: MOST_MEGAPIXELS }))
}

/** A file that this person uploaded. */
export const ownFile = async (call: Read, id: string): Promise<FileRow> =>
  found(await call.trx('files').where({ id, byId: call.actor.id }).first(), 'file')

/** The content of a file that this person uploaded. */
export const ownContent = async (call: Read, id: string): Promise<Buffer> =>
  await contentOf(call, (await ownFile(call, id)).id)

/** Files and notes hang on documents that this person sees; a delivery's hang on the delivery, so that its readers see them. */
async function holdVisible(call: Write, kind: DocumentKind, id: string): Promise<void> {
  if (!DOCUMENTS[kind].papers) throw new RuleBroken(stop('document.notFound', { kind }))
  await needVisible(call, kind, id)
  await hold(call, kind, id)
}

/** A stored file as an answer. */
export const sentFile = (call: Read, file: Pick<FileRow, 'id' | 'name' | 'mediaType'>): FileAnswer => ({
  name: file.name,
  mediaType: file.mediaType,
  bytes: contentStream(call, file.id),
})

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
  return sentFile(call, file)
}

export async function writeNote(call: Write, kind: DocumentKind, documentId: string, text: string) {
  await holdVisible(call, kind, documentId)
  if (text.trim() === '') throw new RuleBroken(stop('note.empty', {}, { place: 'text' }))
  const id = randomUUID()
  await call.trx('notes').insert({ id, documentKind: kind, documentId, text, byId: call.actor.id, at: call.now })
  await record(call, { kind, id: documentId, action: 'noteWritten', changes: { text } })
  return { id, text, at: call.now, by: call.actor.name }
}
