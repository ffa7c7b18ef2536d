import type { BodyOf, Endpoint, ParamsOf, QueryOf, ResponseOf } from '#contract/endpoint.ts'
import type { Read, Write } from '#server/call.ts'
import type { Incoming } from '#server/http/upload.ts'

/** Bytes to send, for endpoints that answer with a file. */
export interface FileAnswer {
  readonly name: string
  readonly mediaType: string
  readonly bytes: Buffer | NodeJS.ReadableStream
  readonly inline?: boolean
}

/** What only the request itself knows. */
export interface Told {
  readonly ip: string
  /** What the reader's program calls itself. */
  readonly agent: string
  readonly upload: Incoming
  readonly startSession: (token: string) => void
  readonly endSession: () => void
  readonly token: string | undefined
}

/**
 * How an endpoint is carried out. glance: with one statement, which is a snapshot by itself · reading: in one snapshot that can neither write nor lock, without a request key · writing: in a transaction,
 * once for each request key · direct: without either; sign-in and uploads keep their own books.
 */
export type Mode = 'glance' | 'reading' | 'writing' | 'direct'

export interface Route {
  readonly endpoint: Endpoint
  readonly mode: Mode
  readonly handle: (call: never, input: never, told: Told) => Promise<unknown>
}

interface Input<E extends Endpoint> {
  readonly params: ParamsOf<E>
  readonly query: QueryOf<E>
  readonly body: BodyOf<E>
}
type Answer<E extends Endpoint> = Promise<ResponseOf<E> | FileAnswer>

const bind =
  <Call>(mode: Mode) =>
  <E extends Endpoint>(endpoint: E, handle: (call: Call, input: Input<E>, told: Told) => Answer<E>): Route => {
    const reads = endpoint.method === 'get' || endpoint.safe
    if (mode !== 'direct' && reads !== (mode === 'reading' || mode === 'glance'))
      throw new Error(`${endpoint.name} is bound as ${mode}, but its contract says otherwise.`)
    return { endpoint, mode, handle }
  }

/** Binds an endpoint that reads with a single statement. */
export const glances = bind<Read>('glance')
/** Binds an endpoint that only reads. */
export const reads = bind<Read>('reading')
/** Binds an endpoint that changes something. */
export const writes = bind<Write>('writing')
/** Binds an endpoint that looks after its own transactions. */
export const direct = bind<Write>('direct')
