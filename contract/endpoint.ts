import { z } from 'zod'
import type { Permission } from '#contract/permissions.ts'

const Nothing = z.strictObject({})

/** What one endpoint takes, gives and asks for. One table of these makes the routes, the typed client and the OpenAPI document. */
export interface Endpoint<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  R extends z.ZodType = z.ZodType,
> {
  readonly name: string
  readonly method: 'get' | 'post' | 'put' | 'delete'
  readonly path: string
  /** The right it takes; `anyone` needs no session, `signedIn` any session of the team, `account` any session at all. */
  readonly permission: Permission | 'anyone' | 'signedIn' | 'account'
  readonly params: P
  readonly query: Q
  readonly body: B
  readonly response: R
  /** A reading that needs a body: it changes nothing, takes no request key and runs in a snapshot. */
  readonly safe: boolean
  /** `file`: one file as a part of a form (RFC 7578), instead of JSON. */
  readonly takes: 'json' | 'file'
  /** `file`: answers with bytes instead of JSON. */
  readonly answers: 'json' | 'file'
}

type Optional<P, Q, B, R> = {
  params?: P
  query?: Q
  body?: B
  response?: R
  answers?: 'json' | 'file'
  safe?: boolean
  takes?: 'json' | 'file'
}

/** defineEndpoint({ name: 'readOrder', method: 'get', path: '/orders/:id', permission: 'order.read', params: ById, response: OrderSheet }) */
export function defineEndpoint<
  P extends z.ZodType = typeof Nothing,
  Q extends z.ZodType = typeof Nothing,
  B extends z.ZodType = typeof Nothing,
  R extends z.ZodType = typeof Nothing,
>(endpoint: Pick<Endpoint, 'name' | 'method' | 'path' | 'permission'> & Optional<P, Q, B, R>): Endpoint<P, Q, B, R> {
  const plain: Omit<Endpoint, 'name' | 'method' | 'path' | 'permission'> = {
    params: Nothing,
    query: Nothing,
    body: Nothing,
    response: Nothing,
    takes: 'json',
    answers: 'json',
    safe: false,
  }
  return { ...plain, ...endpoint } as Endpoint<P, Q, B, R>
}

export type ParamsOf<E extends Endpoint> = z.output<E['params']>
export type QueryOf<E extends Endpoint> = z.output<E['query']>
export type BodyOf<E extends Endpoint> = z.output<E['body']>
export type ResponseOf<E extends Endpoint> = z.output<E['response']>
