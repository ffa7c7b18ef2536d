import { randomBytes } from 'node:crypto'
import { pipeline } from 'node:stream/promises'
import type { Response } from 'express'
import { statusOf } from '#contract/status.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { reasonFromDatabase } from '#server/http/faults.ts'
import type { FileAnswer } from '#server/http/route.ts'

export type Log = (message: string, details: unknown) => void

export function sendReasons(response: Response, reasons: readonly Reason[]): void {
  response.status(statusOf(reasons[0]?.code ?? '')).json({ reasons })
}

/** Their fault is answered with reasons; ours is logged whole and answered with a reference. */
export function sendError(response: Response, error: unknown, log: Log): void {
  if (response.headersSent) {
    log('failure while an answer was sent', error)
    response.destroy()
    return
  }
  if (error instanceof RuleBroken) return sendReasons(response, error.reasons)
  const known = reasonFromDatabase(error)
  if (known) return sendReasons(response, [known])
  const reference = randomBytes(4).toString('hex')
  log(`failure ${reference}`, error)
  sendReasons(response, [stop('server.failed', { reference })])
}

export async function sendFile(response: Response, file: FileAnswer): Promise<void> {
  response.locals.file = file.name
  response.set('content-type', file.mediaType)
  response.set(
    'content-disposition',
    `${file.inline ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(file.name)}`,
  )
  response.set('x-content-type-options', 'nosniff')
  if (Buffer.isBuffer(file.bytes)) {
    response.send(file.bytes)
    return
  }
  // a reader that goes away ends the stream, and with it the snapshot that it reads from
  await pipeline(file.bytes, response).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error
  })
}
