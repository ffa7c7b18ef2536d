import busboy from 'busboy'
import type { Request } from 'express'
import { FILE_LIMIT } from '#contract/files/endpoints.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

export interface Upload {
  readonly name: string
  readonly bytes: Buffer
}

/**
 * Reads one multipart file, up to the limit; what is larger is refused as soon as that is seen.
 *
 * @throws RuleBroken file.tooLarge | file.none
 */
export function readUpload(request: Request): Promise<Upload> {
  return new Promise((resolve, reject) => {
    const fail = (code: string, details = {}): void => {
      request.unpipe()
      request.resume()
      reject(new RuleBroken(stop(code, details)))
    }
    const limit = `${FILE_LIMIT / 1024 / 1024} MB`
    if (Number(request.get('content-length') ?? 0) > FILE_LIMIT + 4096) return fail('file.tooLarge', { limit })
    if (!request.is('multipart/form-data')) return fail('file.none')
    let seen = false
    const reader = busboy({
      headers: request.headers,
      limits: { files: 1, fileSize: FILE_LIMIT, fields: 5 },
      defParamCharset: 'utf8',
    })
    reader.on('file', (_field, stream, info) => {
      seen = true
      const parts: Buffer[] = []
      stream.on('data', (part: Buffer) => parts.push(part))
      stream.on('limit', () => fail('file.tooLarge', { limit }))
      stream.on('end', () => {
        if (!(stream as { truncated?: boolean }).truncated)
          resolve({ name: cleanName(info.filename), bytes: Buffer.concat(parts) })
      })
    })
    reader.on('error', () => fail('file.none'))
    reader.on('close', () => {
      if (!seen) fail('file.none')
    })
    request.pipe(reader)
  })
}

const cleanName = (name: string | undefined): string =>
  (name ?? '')
    .split(/[\\/]/)
    .at(-1)!
    .replace(/[\u0000-\u001f\u007f]/g, '')
    .slice(0, 200) || 'file'
