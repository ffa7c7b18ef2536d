import { createHash } from 'node:crypto'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'
import type { Knex } from 'knex'
import { z } from 'zod'
import type { BodyOf, Endpoint, ParamsOf, QueryOf, ResponseOf } from '#contract/endpoint.ts'
import { statusOf } from '#contract/status.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { type Actor, type Call, dayOf } from '#server/call.ts'
import { clearedSessionCookie, findSession, sessionCookie } from '#server/people/sessions.ts'
import { readUpload, type Upload } from '#server/http/upload.ts'
import { reasonFromDatabase, worthRetrying } from '#server/http/faults.ts'

/** Bytes to send, for endpoints that answer with a file. */
export interface FileAnswer {
  readonly name: string
  readonly mediaType: string
  readonly bytes: Buffer | NodeJS.ReadableStream
  readonly inline?: boolean
}

export interface Told {
  readonly ip: string
  readonly upload: () => Promise<Upload>
  readonly startSession: (token: string) => void
  readonly endSession: () => void
  readonly token: string | undefined
}

export interface Route {
  readonly endpoint: Endpoint
  readonly handle: (call: Call, input: { params: never; query: never; body: never }, told: Told) => Promise<unknown>
  /** Sign-in and uploads keep their own books and take no request key. */
  readonly plain: boolean
}

type Handler<E extends Endpoint> = (call: Call, input: { params: ParamsOf<E>; query: QueryOf<E>; body: BodyOf<E> }, told: Told) => Promise<ResponseOf<E> | FileAnswer>

/** Binds a contract endpoint to a use case. */
export const route = <E extends Endpoint>(endpoint: E, handle: Handler<E>, plain = false): Route => ({ endpoint, handle: handle as unknown as Route['handle'], plain })

export interface AppParts {
  readonly db: Knex
  readonly routes: readonly Route[]
  readonly clock: () => string
  readonly base: string
  readonly demo: boolean
  readonly log: (message: string, details: unknown) => void
  /** Middleware that comes before the routes, such as a limit on sign-in. */
  readonly before?: (app: Express) => void
  readonly extend?: (app: Express, actorOf: (request: Request) => Promise<Actor | undefined>) => void
}

const NOBODY: Actor = { id: '', name: '', email: '', realm: 'team', supplierId: null, permissions: new Set(), roles: [], costCentres: [], locale: 'en-GB', timeZone: 'UTC' }

/** Builds the web application from its parts; it listens elsewhere. */
export function createApp(parts: AppParts): Express {
  const app = express()
  app.disable('x-powered-by')
  app.disable('etag')
  app.set('trust proxy', 'loopback')
  app.set('query parser', 'simple')
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          'default-src': ["'none'"],
          'script-src': ["'self'"],
          'style-src': ["'self'"],
          'img-src': ["'self'", 'data:', 'blob:'],
          'font-src': ["'self'"],
          'connect-src': ["'self'"],
          'worker-src': ["'self'"],
          'manifest-src': ["'self'"],
          'base-uri': ["'none'"],
          'form-action': ["'self'"],
          'frame-ancestors': ["'none'"],
        },
      },
      crossOriginResourcePolicy: { policy: 'same-origin' },
      referrerPolicy: { policy: 'same-origin' },
      strictTransportSecurity: false,
    }),
  )
  app.use(
    '/api',
    (_request, response, next) => {
      response.set('cache-control', 'no-store')
      next()
    },
    refuseCrossSite,
    express.json({ limit: '4mb', strict: true }),
  )
  const actorOf = (request: Request): Promise<Actor | undefined> => findSession(parts.db, tokenOf(request), parts.clock())
  parts.before?.(app)
  for (const one of parts.routes) {
    const method = one.endpoint.method
    app[method](`/api${one.endpoint.path}`, (request, response) => answer(parts, one, request, response, actorOf))
  }
  parts.extend?.(app, actorOf)
  app.use('/api', (_request, response) => {
    sendReasons(response, [stop('request.noSuchAddress')])
  })
  app.use((error: unknown, _request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error)
    const kind = (error as { type?: string }).type
    if (kind === 'entity.too.large') return sendReasons(response, [stop('request.tooLarge', { limit: '4 MB' })])
    if (kind === 'entity.parse.failed' || kind === 'encoding.unsupported' || kind === 'charset.unsupported')
      return sendReasons(response, [stop('request.invalid', { fault: 'the body is not JSON' })])
    sendFailure(parts, response, error)
  })
  return app
}

/** Only this site's own pages may change anything: a header that other sites cannot set, and an Origin that is ours. */
function refuseCrossSite(request: Request, response: Response, next: NextFunction): void {
  if (request.method === 'GET' || request.method === 'HEAD') return next()
  const origin = request.get('origin')
  const foreign = origin !== undefined && new URL(origin === 'null' ? 'http://invalid' : origin).host !== request.get('host')
  if (foreign || request.get('x-ivory-order') === undefined) return sendReasons(response, [stop('request.crossSite')])
  next()
}

async function answer(parts: AppParts, one: Route, request: Request, response: Response, actorOf: (request: Request) => Promise<Actor | undefined>): Promise<void> {
  try {
    const actor = await actorOf(request)
    refuseRight(one.endpoint, actor)
    const input = {
      params: parse(one.endpoint.params, request.params, 'params'),
      query: parse(one.endpoint.query, request.query, 'query'),
      body: parse(one.endpoint.body, request.is('multipart/form-data') ? {} : (request.body ?? {}), 'body'),
    }
    const told: Told = {
      ip: request.ip ?? '',
      token: tokenOf(request),
      upload: () => readUpload(request),
      startSession: token => {
        response.append('set-cookie', sessionCookie(token, request.secure))
      },
      endSession: () => {
        response.append('set-cookie', clearedSessionCookie())
      },
    }
    const result = await perform(parts, one, actor ?? NOBODY, input, told, request.get('idempotency-key'))
    if (one.endpoint.answers === 'file') return await sendFile(response, result as FileAnswer)
    response.json(result)
  } catch (error) {
    if (error instanceof RuleBroken) return sendReasons(response, error.reasons)
    const known = reasonFromDatabase(error)
    if (known) return sendReasons(response, [known])
    sendFailure(parts, response, error)
  }
}

function refuseRight(endpoint: Endpoint, actor: Actor | undefined): void {
  if (endpoint.permission === 'anyone') return
  if (!actor) throw new RuleBroken(stop('session.none'))
  const allowed = endpoint.permission === 'signedIn' ? actor.realm === 'team' : actor.permissions.has(endpoint.permission)
  if (!allowed) throw new RuleBroken(stop('right.missing', { permission: endpoint.permission }))
}

type Input = { params: unknown; query: unknown; body: unknown }

async function perform(parts: AppParts, one: Route, actor: Actor, input: Input, told: Told, key: string | undefined): Promise<unknown> {
  const now = parts.clock()
  const call = (trx: Knex): Call => ({ trx, actor, now, today: dayOf(now), channel: actor.realm === 'supplier' ? 'supplierPages' : 'web', base: parts.base })
  if (one.endpoint.method === 'get') return checkAnswer(one.endpoint, await retried(() => one.handle(call(parts.db), input as never, told)))
  if (one.plain) return checkAnswer(one.endpoint, await one.handle(call(parts.db), input as never, told))
  const usedKey = key === undefined ? undefined : key.slice(0, 80)
  return await retried(() =>
    parts.db.transaction(async trx => {
      if (usedKey) {
        const earlier = await claimKey(trx, actor.id, usedKey, one.endpoint.name, input)
        if (earlier) return earlier.answer
      }
      const result = checkAnswer(one.endpoint, await one.handle(call(trx), input as never, told))
      if (usedKey)
        await trx('requestKeys')
          .where({ personId: actor.id, key: usedKey })
          .update({ answer: JSON.stringify(result) })
      return result
    }),
  )
}

/** An answer that breaks the contract is our fault; inside the transaction, so that nothing half right is kept. */
function checkAnswer(endpoint: Endpoint, answer: unknown): unknown {
  if (endpoint.answers === 'file') return answer
  const checked = endpoint.response.safeParse(answer)
  if (!checked.success) throw new Error(`The answer of ${endpoint.name} breaks its contract: ${z.prettifyError(checked.error)}`)
  return checked.data
}

/**
 * Takes a request key for this transaction. A second request with the same key waits for the first and gets its answer; the same key with
 * another content is refused.
 */
async function claimKey(trx: Knex, personId: string, key: string, endpoint: string, input: Input): Promise<{ answer: unknown } | undefined> {
  const fingerprint = createHash('sha256').update(JSON.stringify(input)).digest('hex')
  const inserted = (await trx('requestKeys').insert({ personId, key, endpoint, fingerprint }).onConflict(['personId', 'key']).ignore().returning('key')) as unknown[]
  if (inserted.length > 0) return undefined
  const earlier = (await trx('requestKeys').where({ personId, key }).first('endpoint', 'fingerprint', 'answer')) as { endpoint: string; fingerprint: string; answer: unknown }
  if (earlier.endpoint !== endpoint || earlier.fingerprint !== fingerprint) throw new RuleBroken(stop('request.keyReused'))
  return { answer: earlier.answer }
}

/** Deadlocks and a database that restarts are tried again; nothing was committed, or the request key knows. */
async function retried<T>(work: () => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await work()
    } catch (error) {
      if (attempt >= 8 || !worthRetrying(error)) throw error
      await new Promise(resolve => setTimeout(resolve, Math.min(50 * 2 ** attempt, 2000)))
    }
  }
}

function parse(schema: z.ZodType, value: unknown, part: 'params' | 'query' | 'body'): unknown {
  const read = schema.safeParse(value)
  if (read.success) return read.data
  if (part === 'params') throw new RuleBroken(stop('document.notFound', { kind: '' }))
  throw new RuleBroken(read.error.issues.slice(0, 50).map((issue): Reason => stop('request.invalid', { fault: issue.message }, { place: issue.path.join('.') })))
}

function sendReasons(response: Response, reasons: readonly Reason[]): void {
  response.status(statusOf(reasons[0]?.code ?? '')).json({ reasons })
}

function sendFailure(parts: AppParts, response: Response, error: unknown): void {
  const reference = createHash('sha256')
    .update(`${parts.clock()}${String(error)}`)
    .digest('hex')
    .slice(0, 8)
  parts.log(`failure ${reference}`, error)
  sendReasons(response, [stop('server.failed', { reference })])
}

async function sendFile(response: Response, file: FileAnswer): Promise<void> {
  response.set('content-type', file.mediaType)
  response.set('content-disposition', `${file.inline ? 'inline' : 'attachment'}; filename*=UTF-8''${encodeURIComponent(file.name)}`)
  response.set('x-content-type-options', 'nosniff')
  if (Buffer.isBuffer(file.bytes)) {
    response.send(file.bytes)
    return
  }
  for await (const part of file.bytes) if (!response.write(part)) await new Promise(resolve => response.once('drain', resolve))
  response.end()
}

const tokenOf = (request: Request): string | undefined => /(?:^|;\s*)ivory_session=([A-Za-z0-9_-]{20,})/.exec(request.get('cookie') ?? '')?.[1]
