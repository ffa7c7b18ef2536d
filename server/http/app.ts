import { constants } from 'node:zlib'
import compression from 'compression'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'
import type { Knex } from 'knex'
import type { z } from 'zod'
import type { Endpoint } from '#contract/endpoint.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { normalInput } from '#core/text/storable.ts'
import { type Actor, dayOf, type House, type Setting } from '#server/call.ts'
import { type Log, sendError, sendFile, sendReasons } from '#server/http/answers.ts'
import { clearedSessionCookie, sessionCookie, tokenOf } from '#server/http/cookies.ts'
import { type AccessLine, measure } from '#server/http/access.ts'
import { type Delivery, type Input, perform } from '#server/http/perform.ts'
import type { FileAnswer, Route, Told } from '#server/http/route.ts'
import { incoming } from '#server/http/upload.ts'

/** Who is at the other end of a request, if anybody has signed in, and whose house it is. */
export interface Identity {
  readonly actor: Actor | undefined
  readonly house: House
  readonly sessionId?: string | undefined
}

export interface AppParts {
  readonly db: Knex
  readonly routes: readonly Route[]
  readonly clock: () => string
  readonly log: Log
  /** Takes a line about each request that was answered. */
  readonly access: (line: AccessLine) => void
  /** Whose word about the reader's address is taken; as Express takes it. */
  readonly trustProxy: string
  /** Whether people come by https, so that browsers shall never come by anything else. */
  readonly https: boolean
  /** Whether this process is on its way out. */
  readonly leaving: () => boolean
  readonly identify: (token: string | undefined, now: string) => Promise<Identity>
  /** Middleware that comes before the routes, such as a limit on sign-in. */
  readonly before?: (app: Express) => void
  readonly extend?: (app: Express, identify: (request: Request) => Promise<Identity>) => void
}

const NOBODY: Actor = {
  id: '',
  name: '',
  email: '',
  realm: 'team',
  supplierId: null,
  rights: new Set(),
  roles: [],
  costCentres: [],
  standsInFor: [],
  locale: 'en-GB',
  timeZone: 'UTC',
}

/** Express takes a number of proxies as a number, everything else as text. */
const trusted = (setting: string): string | number => (/^\d+$/.test(setting) ? Number(setting) : setting)

/** Builds the web application from its parts; it listens elsewhere. */
export function createApp(parts: AppParts): Express {
  const app = express()
  app.disable('x-powered-by')
  app.disable('etag')
  app.set('trust proxy', trusted(parts.trustProxy))
  app.set('query parser', 'simple')
  app.use(helmet({ ...POLICY, strictTransportSecurity: parts.https ? { maxAge: 31_536_000 } : false }))
  app.use((request, response, next) => {
    if (parts.leaving()) response.set('connection', 'close')
    measure(request, response, parts.access)
    next()
  })
  app.use(compression({ filter: isWhole, ...QUICKLY }))
  app.use(
    '/api',
    (_request, response, next) => {
      response.set('cache-control', 'no-store')
      next()
    },
    refuseCrossSite,
    express.json({ limit: '4mb', strict: true }),
  )
  const identify = (request: Request): Promise<Identity> => parts.identify(tokenOf(request), parts.clock())
  parts.before?.(app)
  for (const route of parts.routes)
    app[route.endpoint.method](`/api${route.endpoint.path}`, (request, response) =>
      answer(parts, route, request, response, identify),
    )
  parts.extend?.(app, identify)
  app.use('/api', (_request, response) => {
    sendReasons(response, [stop('request.noSuchAddress')])
  })
  app.use((error: unknown, _request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error)
    sendError(response, fromReader(error), parts.log)
  })
  return app
}

/** An answer is compressed while somebody waits for it: most of the gain at the first level costs a tenth of the last one's time. */
const QUICKLY = { level: 1, brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } }, threshold: 2048 } as const

/** What ends; news have to go out at once, piece by piece. */
const isWhole = (request: Request, response: Response): boolean =>
  !String(response.getHeader('content-type')).startsWith('text/event-stream') && compression.filter(request, response)

const POLICY = {
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
  // for browsers and players that are long gone, with every answer
  xDownloadOptions: false,
  xPermittedCrossDomainPolicies: false,
  xXssProtection: false,
  xDnsPrefetchControl: false,
  referrerPolicy: { policy: 'same-origin' },
} as const

/** What the readers of addresses and bodies refuse is their fault: their errors carry a status, and none of ours does. */
function fromReader(error: unknown): unknown {
  const { type, status } = error as { type?: string; status?: number }
  if (type === 'entity.too.large') return new RuleBroken(stop('request.tooLarge', { limit: '4 MB' }))
  if (error instanceof URIError) return new RuleBroken(stop('request.noSuchAddress'))
  if (status !== undefined && status >= 400 && status < 500)
    return new RuleBroken(stop('request.invalid', { fault: 'the body is not JSON' }))
  return error
}

/** Only this site's own pages may change anything: a header that other sites cannot set, and an Origin that is ours. */
function refuseCrossSite(request: Request, response: Response, next: NextFunction): void {
  if (request.method === 'GET' || request.method === 'HEAD') return next()
  const origin = request.get('origin')
  const foreign = origin !== undefined && (!URL.canParse(origin) || new URL(origin).host !== request.get('host'))
  if (foreign || request.get('x-ivory-order') === undefined) return sendReasons(response, [stop('request.crossSite')])
  next()
}

async function answer(
  parts: AppParts,
  route: Route,
  request: Request,
  response: Response,
  identify: (request: Request) => Promise<Identity>,
): Promise<void> {
  try {
    const { actor, house } = await identify(request)
    response.locals.act = route.endpoint.name
    response.locals.person = actor?.id
    refuseRight(route.endpoint, actor)
    const now = parts.clock()
    const setting: Setting = {
      actor: actor ?? NOBODY,
      house,
      now,
      today: dayOf(now, house.zone),
      channel: actor?.realm === 'supplier' ? 'supplierPages' : 'web',
      base: house.base,
    }
    const told = toldOf(request, response, parts.https)
    await perform(
      parts.db,
      route,
      setting,
      inputOf(route.endpoint, request),
      told,
      request.get('idempotency-key'),
      deliveryOf(route.endpoint, response),
    )
  } catch (error) {
    sendError(response, error, parts.log)
  }
}

const deliveryOf = (endpoint: Endpoint, response: Response): Delivery => ({
  begun: () => response.headersSent,
  send: async answered => {
    if (endpoint.answers === 'file') await sendFile(response, answered as FileAnswer)
    else response.json(answered)
  },
})

/** What only a request itself knows. */
export const toldOf = (request: Request, response: Response, https: boolean): Told => ({
  ip: request.ip ?? '',
  agent: request.get('user-agent') ?? '',
  token: tokenOf(request),
  upload: incoming(request),
  startSession: token => {
    response.append('set-cookie', sessionCookie(token, request.secure || https))
  },
  endSession: () => {
    response.append('set-cookie', clearedSessionCookie())
  },
})

function refuseRight(endpoint: Endpoint, actor: Actor | undefined): void {
  if (endpoint.permission === 'anyone') return
  if (!actor) throw new RuleBroken(stop('session.none'))
  if (endpoint.permission === 'account') return
  const allowed = endpoint.permission === 'signedIn' ? actor.realm === 'team' : actor.rights.has(endpoint.permission)
  if (!allowed) throw new RuleBroken(stop('right.missing', { permission: endpoint.permission }))
}

/** What came with a request, in the shape of the contract. Text is normalised here, and refused here if it cannot be kept. */
const inputOf = (endpoint: Endpoint, request: Request): Input => ({
  params: parse(endpoint.params, request.params, 'params'),
  query: parse(endpoint.query, request.query, 'query'),
  body: parse(endpoint.body, endpoint.takes === 'file' ? {} : (request.body ?? {}), 'body'),
})

const MOST_FAULTS = 50

function parse(schema: z.ZodType, value: unknown, part: 'params' | 'query' | 'body'): unknown {
  const { value: normal, faults } = normalInput(value)
  if (faults.length > 0)
    throw new RuleBroken(
      faults.slice(0, MOST_FAULTS).map(({ place, fault }): Reason => stop(`request.${fault}`, { place }, { place })),
    )
  const read = schema.safeParse(normal)
  if (read.success) return read.data
  if (part === 'params') throw new RuleBroken(stop('document.notFound', { kind: '' }))
  throw new RuleBroken(
    read.error.issues
      .slice(0, MOST_FAULTS)
      .map((issue): Reason => stop('request.invalid', { fault: issue.message }, { place: issue.path.join('.') })),
  )
}
