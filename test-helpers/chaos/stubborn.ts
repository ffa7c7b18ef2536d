import { randomUUID } from 'node:crypto'
import type { Endpoint, ResponseOf } from '#contract/endpoint.ts'
import { SignInDemo } from '#contract/people/endpoints.ts'
import { type Answer, Client } from '#test-helpers/world.ts'

/** Milliseconds between two tries, and for how long somebody goes on trying. */
const PAUSE = 250
const PATIENCE = 120_000

/** What was said to be done: by which act, and which document it made or changed. */
export interface Done {
  readonly act: string
  readonly id: string
}

const pause = (milliseconds: number): Promise<void> => new Promise(resolve => setTimeout(resolve, milliseconds))

/** Tries until there is an answer; an answer that is our fault, or none at all, is none. */
async function tried<T>(work: () => Promise<T>, isAnswer: (answer: T) => boolean): Promise<T> {
  const until = Date.now() + PATIENCE
  for (;;) {
    const answer = await work().catch(() => undefined)
    if (answer !== undefined && isAnswer(answer)) return answer
    if (Date.now() > until) throw new Error('Nobody answered for two minutes.')
    await pause(PAUSE)
  }
}

/** Somebody on a bad line: asks again with the same key until there is an answer, and remembers what was said to be done. */
export class Stubborn extends Client {
  constructor(
    address: string,
    cookie: string,
    private readonly done: Done[],
  ) {
    super(address, cookie)
  }

  override async call<E extends Endpoint>(
    endpoint: E,
    input: Parameters<Client['call']>[1] = {},
  ): Promise<Answer<ResponseOf<E>>> {
    const key = endpoint.method === 'get' ? undefined : (input.key ?? randomUUID())
    const answer = (await tried(
      () => super.call(endpoint, { ...input, ...(key ? { key } : {}) } as never),
      one => one.status > 0 && one.status < 500,
    )) as Answer<ResponseOf<E>>
    const { id } = answer.body as { id?: unknown }
    if (answer.status === 200 && key !== undefined && typeof id === 'string') this.done.push({ act: endpoint.name, id })
    return answer
  }
}

/** Signs somebody in as the demo does, however long it takes. */
export async function stubbornly(address: string, personId: string, done: Done[]): Promise<Stubborn> {
  const response = await tried(
    () =>
      fetch(`${address}/api${SignInDemo.path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-ivory-order': '1' },
        body: JSON.stringify({ personId }),
      }),
    one => one.status === 200,
  )
  return new Stubborn(address, response.headers.getSetCookie()[0]!.split(';')[0]!, done)
}
