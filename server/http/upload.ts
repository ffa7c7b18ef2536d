import { createHash } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Readable, Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import busboy from 'busboy'
import type { Request } from 'express'
import { FILE_LIMIT } from '#contract/files/endpoints.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

/** A file that has come in whole; it lies on the disk of this server until `drop`. */
export interface Upload {
  readonly name: string
  readonly path: string
  readonly size: number
  readonly sha256: string
  readonly drop: () => Promise<void>
}

/** A file that somebody wants to send. */
export interface Incoming {
  /** Bytes that it says it has; the most that is taken where it says nothing. */
  readonly announced: number
  readonly receive: () => Promise<Upload>
}

export const incoming = (request: Request): Incoming => ({
  announced: Math.min(Number(request.get('content-length') ?? FILE_LIMIT) || FILE_LIMIT, FILE_LIMIT),
  receive: () => receiveUpload(request),
})

const LIMIT = `${FILE_LIMIT / 1024 / 1024} MB`
/** What a request may have beside the file: boundaries and headers of parts. */
const ENVELOPE = 4096

/**
 * Takes in one multipart file, piece by piece, onto the disk: neither memory nor a connection to the database is held while a slow line
 * sends it. What is larger than the limit is refused as soon as that is seen.
 *
 * @throws RuleBroken file.tooLarge | file.none
 */
async function receiveUpload(request: Request): Promise<Upload> {
  if (Number(request.get('content-length') ?? 0) > FILE_LIMIT + ENVELOPE)
    throw new RuleBroken(stop('file.tooLarge', { limit: LIMIT }))
  if (!request.is('multipart/form-data')) throw new RuleBroken(stop('file.none'))
  const folder = await mkdtemp(join(tmpdir(), 'ivory-upload-'))
  const drop = (): Promise<void> => rm(folder, { recursive: true, force: true })
  try {
    return { ...(await takeIn(request, join(folder, 'file'))), drop }
  } catch (error) {
    await drop()
    request.unpipe()
    request.resume()
    // whatever is wrong with what was sent, no file came; what is wrong with our disk is ours
    throw error instanceof RuleBroken || (error as { syscall?: string }).syscall !== undefined
      ? error
      : new RuleBroken(stop('file.none'), { cause: error })
  }
}

async function takeIn(request: Request, path: string): Promise<Omit<Upload, 'drop'>> {
  const reader = busboy({
    headers: request.headers,
    limits: { files: 1, fileSize: FILE_LIMIT, fields: 5 },
    defParamCharset: 'utf8',
  })
  let kept: Promise<Omit<Upload, 'drop'>> | undefined
  reader.on('file', (_field, stream, info) => {
    kept = keep(stream, cleanName(info.filename), path)
    // it is awaited below, when the whole request is in
    kept.catch(() => undefined)
  })
  await pipeline(request, reader)
  if (!kept) throw new RuleBroken(stop('file.none'))
  return await kept
}

async function keep(stream: Readable & { truncated?: boolean }, name: string, path: string) {
  const hash = createHash('sha256')
  let size = 0
  const measure = new Transform({
    transform(part: Buffer, _encoding, done) {
      hash.update(part)
      size += part.length
      done(null, part)
    },
  })
  await pipeline(stream, measure, createWriteStream(path))
  if (stream.truncated) throw new RuleBroken(stop('file.tooLarge', { limit: LIMIT }))
  return { name, path, size, sha256: hash.digest('hex') }
}

const cleanName = (name: string | undefined): string =>
  (name ?? '')
    .split(/[\\/]/)
    .at(-1)!
    .replace(/[\p{Cc}\p{Surrogate}\p{Noncharacter_Code_Point}]/gu, '')
    .normalize('NFC')
    .slice(0, 200) || 'file'
