import type { Client, World } from '#test-helpers/world.ts'

export interface Heard {
  readonly event: string
  readonly topics: readonly string[]
}

/** Listens to the live news as a page does. `next` waits for the next of them and fails when nothing comes for ten seconds. */
export async function listen(
  world: World,
  client: Client,
  topics: readonly string[],
  more = '',
): Promise<{ next: () => Promise<Heard>; stop: () => void }> {
  const end = new AbortController()
  const stream = await fetch(`${world.address}/api/events?topics=${topics.join(',')}${more}`, {
    headers: { cookie: client.cookie },
    signal: AbortSignal.any([end.signal, AbortSignal.timeout(10_000)]),
  })
  if (stream.headers.get('content-type') !== 'text/event-stream') throw new Error(`No news: ${stream.status}.`)
  const parts = heardIn(stream.body!.pipeThrough(new TextDecoderStream()))
  return {
    next: async () => {
      const step = await parts.next()
      if (step.done) throw new Error('The stream of news ended.')
      return step.value
    },
    stop: () => end.abort(),
  }
}

async function* heardIn(text: ReadableStream<string>): AsyncGenerator<Heard> {
  let rest = ''
  const reader = text.getReader()
  for (;;) {
    const { value, done } = await reader.read()
    if (done) return
    const blocks = (rest + value).split('\n\n')
    rest = blocks.pop() ?? ''
    for (const block of blocks) {
      const event = /^event: (\w+)$/m.exec(block)?.[1]
      const data = /^data: (.*)$/m.exec(block)?.[1]
      if (event && event !== 'beat' && data) yield { event, topics: JSON.parse(data) as string[] }
    }
  }
}
