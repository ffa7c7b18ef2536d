import type { Request, Response } from 'express'
import { requestSeconds } from '#server/http/metrics.ts'

/** One answered request, as the log tells it: never what was in it. */
export interface AccessLine {
  readonly act: string
  readonly method: string
  readonly status: number
  readonly milliseconds: number
  readonly person: string | null
  readonly network: string
  /** Whether the reader went away before it was answered whole. */
  readonly broken: boolean
  /** What left the house as a file. */
  readonly file?: string
}

/** Measures a request from its head to the end of its answer, and tells of it. Files of the interface are not worth a line. */
export function measure(request: Request, response: Response, tell: (line: AccessLine) => void): void {
  const started = process.hrtime.bigint()
  // asked now: when the reader has gone away in the middle, there is no connection left that would say it
  const network = request.ip ?? ''
  response.once('close', () => {
    const act = response.locals.act as string | undefined
    if (act === undefined) return
    const seconds = Number(process.hrtime.bigint() - started) / 1e9
    requestSeconds.observe({ act, status: String(response.statusCode) }, seconds)
    const file = response.locals.file as string | undefined
    tell({
      act,
      method: request.method,
      status: response.statusCode,
      milliseconds: Math.round(seconds * 1000),
      person: (response.locals.person as string | undefined) ?? null,
      network,
      broken: !response.writableFinished,
      ...(file === undefined ? {} : { file }),
    })
  })
}
