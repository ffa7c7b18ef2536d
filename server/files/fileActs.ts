import { randomUUID } from 'node:crypto'
import { open } from 'node:fs/promises'
import { fileTypeFromFile } from 'file-type'
import { imageSize } from 'image-size'
import { ATTACHABLE } from '#contract/files/endpoints.ts'
import { whyNotSend } from '#core/files/quota.ts'
import { DOCUMENTS, type DocumentKind } from '#core/documents/kinds.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write, writing } from '#server/call.ts'
import { hold } from '#server/documents/hold.ts'
import { record } from '#server/documents/history.ts'
import { refuse } from '#server/documents/obey.ts'
import { needVisible } from '#server/documents/visible.ts'
import { contentOf, contentStream, type FileRow, storeContent, useFile } from '#server/files/fileStore.ts'
import type { FileAnswer } from '#server/http/route.ts'
import type { Incoming, Upload } from '#server/http/upload.ts'

/** Millions of dots of a picture: what somebody else's browser can still open. */
const MOST_MEGAPIXELS = 60
/** Bytes at the beginning of a file that are looked at for what it is. */
const HEAD = 256 * 1024

/** Bytes that people are sending to this server now. */
const underWay = new Map<string, { readonly byId: string; readonly supplierId: string | null; readonly size: number }>()

/** Stores an uploaded file. Its kind is told from its content, never from its name. */
export async function storeFile(
  call: Write,
  sent: Incoming,
): Promise<{ id: string; name: string; mediaType: string; size: number }> {
  const file = { id: randomUUID() }
  const { id: byId, supplierId } = call.actor
  underWay.set(file.id, { byId, supplierId, size: sent.announced })
  try {
    await refuseOverQuota(call, 0)
    return await keep(call, file.id, await sent.receive())
  } finally {
    underWay.delete(file.id)
  }
}

async function keep(call: Write, id: string, upload: Upload) {
  try {
    if (upload.size === 0) throw new RuleBroken(stop('file.empty'))
    const file = { id, name: upload.name, mediaType: await kindOf(upload.path), size: upload.size }
    await call.trx.transaction(async trx => {
      const inside = writing(trx, call)
      // one after the other for each person, so that files sent at once to several servers are counted
      await trx.raw('select pg_advisory_xact_lock(hashtextextended(?, 0))', [call.actor.supplierId ?? call.actor.id])
      underWay.delete(id)
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
  const sending = [...underWay.values()]
  const sum = (own: readonly { readonly size: number }[]): number => own.reduce((total, one) => total + one.size, 0)
  const sent = {
    own: Number(rows[0]!.own) + sum(sending.filter(one => one.byId === id)),
    company:
      supplierId === null ? null : Number(rows[0]!.company) + sum(sending.filter(one => one.supplierId === supplierId)),
  }
  refuse(whyNotSend(sent, size))
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
export async function holdVisible(call: Write, kind: DocumentKind, id: string): Promise<void> {
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

/** Hangs files on what is written: one's own, those of one's colleagues, and those that were there before; never another supplier's. */
export async function hangFiles(
  call: Write,
  document: { readonly kind: DocumentKind; readonly id: string },
  fileIds: readonly string[],
  known: readonly string[] = [],
): Promise<void> {
  for (const id of fileIds.filter(one => !known.includes(one))) {
    const file = await call
      .trx('files')
      .leftJoin('people', 'people.id', 'files.byId')
      .where('files.id', id)
      .first<{ supplierId: string | null; mediaType: string } | undefined>('people.supplierId', 'files.mediaType')
    if (file?.supplierId !== call.actor.supplierId) throw new RuleBroken(stop('document.notFound', { kind: 'file' }))
    if (!ATTACHABLE.some(type => type === file.mediaType)) throw new RuleBroken(stop('file.type', { type: file.mediaType })) // prettier-ignore
    await useFile(call, id, document)
  }
}

/** Names of files, by their ids. */
export const namesOfFiles = async (call: Read, ids: readonly string[]): Promise<Map<string, string>> =>
  new Map((await call.trx('files').whereIn('id', ids).select('id', 'name')).map(one => [one.id, one.name]))

export async function readAttachment(call: Read, id: string): Promise<FileAnswer> {
  const attachment = found(await call.trx('attachments').where({ id }).first(), 'file')
  await needVisible(call, attachment.documentKind, attachment.documentId)
  const file = found(await call.trx('files').where({ id: attachment.fileId }).first(), 'file')
  return sentFile(call, file)
}
