import type { BodyOf, Endpoint, ParamsOf, QueryOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'

/** What the server said no to, with its reasons. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly reasons: readonly ReasonJson[],
  ) {
    super(reasons.map(reason => reason.code).join(', '))
  }
}

/** The server could not be reached; nothing was lost. */
export class Offline extends Error {}

type Input<E extends Endpoint> = {
  params?: ParamsOf<E>
  query?: QueryOf<E>
  body?: BodyOf<E>
  key?: string
  signal?: AbortSignal
}

export const pathOf = (
  endpoint: Endpoint,
  params: Record<string, unknown> = {},
  query: Record<string, unknown> = {},
): string => {
  const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(String(params[name])))
  const search = new URLSearchParams(
    Object.entries(query)
      .filter(([, value]) => value !== undefined && value !== '')
      .map(([name, value]) => [name, String(value)]),
  ).toString()
  return `/api${path}${search ? `?${search}` : ''}`
}

/**
 * Calls an endpoint. A change carries a request key, so that trying again after a broken connection never does it twice; it is tried
 * again by itself a few times.
 */
export async function api<E extends Endpoint>(endpoint: E, input: Input<E> = {}): Promise<ResponseOf<E>> {
  const changes = endpoint.method !== 'get'
  const headers: Record<string, string> = changes
    ? { 'x-ivory-order': '1', 'idempotency-key': input.key ?? crypto.randomUUID() }
    : {}
  if (changes) headers['content-type'] = 'application/json'
  for (let attempt = 1; ; attempt++) {
    try {
      const response = await fetch(pathOf(endpoint, input.params as never, input.query as never), {
        method: endpoint.method.toUpperCase(),
        headers,
        credentials: 'same-origin',
        signal: input.signal ?? null,
        body: changes ? JSON.stringify(input.body ?? {}) : null,
      })
      return (await answerOf(response)) as ResponseOf<E>
    } catch (error) {
      if (input.signal?.aborted || (error instanceof Refused && error.status !== 503)) throw error
      if (attempt >= 4)
        throw error instanceof Refused ? error : new Offline('The server does not answer.', { cause: error })
      await new Promise(resolve => setTimeout(resolve, 400 * attempt))
    }
  }
}

async function answerOf(response: Response): Promise<unknown> {
  const body = (await response.json().catch(() => ({}))) as { reasons?: ReasonJson[] }
  if (response.ok) return body
  throw new Refused(
    response.status,
    body.reasons ?? [{ code: 'server.failed', level: 'stop', details: { reference: String(response.status) } }],
  )
}

/** Sends one file; the answer's id is used in the call that needs it. */
export async function upload(
  file: File,
  path = '/files',
): Promise<{ id: string; name: string; mediaType: string; size: number }> {
  const form = new FormData()
  form.append('file', file)
  const response = await fetch(`/api${path}`, {
    method: 'POST',
    headers: { 'x-ivory-order': '1' },
    body: form,
    credentials: 'same-origin',
  })
  return (await answerOf(response)) as { id: string; name: string; mediaType: string; size: number }
}
