import type { Express, Request, Response } from 'express'
import pg from 'pg'
import { audiencesOf } from '#core/desk/entry.ts'
import { stop } from '#core/reasons.ts'
import type { Actor } from '#server/call.ts'
import { sendReasons } from '#server/http/answers.ts'
import { CHANNEL, companyTopic, deskTopic } from '#server/news/tell.ts'

/** Topics that one page may ask for. */
const MOST_TOPICS = 100
/** What a page asks for that shows its own Desk. */
export const OWN_DESK = 'desk'
/** Milliseconds for which news is kept for pages that are about to listen. */
const KEPT = 30_000
const BEAT = 25_000

interface Reader {
  readonly response: Response
  /** What it listens to, with the name under which the page asked for it. */
  readonly topics: ReadonlyMap<string, string>
}
interface Heard {
  readonly at: number
  readonly topics: readonly string[]
}

/**
 * Live news: every server process listens to the database and tells its own pages, so that any number can run beside each other. A page hears
 * only of the topics that it asked for.
 */
export class News {
  private readonly readers = new Map<string, Set<Reader>>()
  private readonly all = new Set<Reader>()
  private heard: Heard[] = []
  /** Since when this process hears everything. */
  private listeningSince = Number.POSITIVE_INFINITY
  private client: pg.Client | undefined
  private ended = false
  private beat: NodeJS.Timeout | undefined

  constructor(private readonly url: string) {}

  async start(): Promise<void> {
    await this.listen()
    this.beat = setInterval(() => {
      for (const { response } of this.all) response.write(event('beat', []))
    }, BEAT)
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url, keepAlive: true })
    client.on('error', () => undefined)
    client.on('end', () => {
      this.listeningSince = Number.POSITIVE_INFINITY
      if (!this.ended) setTimeout(() => void this.listen(), 500)
    })
    client.on('notification', message => this.hear(JSON.parse(message.payload ?? '[]') as string[]))
    try {
      await client.connect()
      await client.query(`listen ${CHANNEL}`)
      this.client = client
      this.listeningSince = Date.now()
      // what was told while nobody listened is not known: everybody looks again
      for (const { response } of this.all) response.write(event('missed', []))
    } catch {
      await client.end().catch(() => undefined)
    }
  }

  /** Tells each page once, in its own words for what it asked for. */
  hear(topics: readonly string[]): void {
    const now = Date.now()
    this.heard = [...this.heard.filter(one => one.at > now - KEPT), { at: now, topics }]
    const told = new Map<Reader, string[]>()
    for (const topic of topics)
      for (const reader of this.readers.get(topic) ?? []) {
        const own = told.get(reader)
        if (own) own.push(reader.topics.get(topic)!)
        else told.set(reader, [reader.topics.get(topic)!])
      }
    for (const [reader, own] of told) reader.response.write(event('changed', own))
  }

  /** Adds the stream's address to an application. */
  attach(app: Express, actorOf: (request: Request) => Promise<Actor | undefined>): void {
    app.get('/api/events', (request, response) => {
      actorOf(request).then(
        actor => {
          if (!actor) return sendReasons(response, [stop('session.none')])
          this.admit(request, response, actor)
        },
        () => sendReasons(response, [stop('server.databaseAway')]),
      )
    })
  }

  private admit(request: Request, response: Response, actor: Actor): void {
    const asked = String(request.query.topics ?? '')
      .split(',')
      .filter(Boolean)
      .slice(0, MOST_TOPICS)
    const reader: Reader = { response, topics: topicsFor(actor, asked) }
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      'x-accel-buffering': 'no',
    })
    response.write(': here\n\n')
    this.all.add(reader)
    for (const topic of reader.topics.keys()) {
      const others = this.readers.get(topic)
      if (others) others.add(reader)
      else this.readers.set(topic, new Set([reader]))
    }
    request.on('close', () => this.dismiss(reader))
    this.catchUp(reader, Number(request.headers['last-event-id'] ?? request.query.since))
  }

  /** What was told between the moment when a page read its data and now. */
  private catchUp(reader: Reader, since: number): void {
    if (!Number.isFinite(since)) return
    if (since < this.listeningSince || since < Date.now() - KEPT) {
      reader.response.write(event('missed', []))
      return
    }
    const missed = this.heard.filter(one => one.at >= since).flatMap(one => one.topics)
    const own = [...new Set(missed.flatMap(topic => reader.topics.get(topic) ?? []))]
    if (own.length > 0) reader.response.write(event('changed', own))
  }

  private dismiss(reader: Reader): void {
    this.all.delete(reader)
    for (const topic of reader.topics.keys()) {
      const others = this.readers.get(topic)
      others?.delete(reader)
      if (others?.size === 0) this.readers.delete(topic)
    }
  }

  async stop(): Promise<void> {
    this.ended = true
    clearInterval(this.beat)
    for (const { response } of this.all) response.end()
    await this.client?.end().catch(() => undefined)
  }
}

/** One event; its id says up to when the reader has heard everything. */
const event = (name: 'changed' | 'missed' | 'beat', topics: readonly string[]): string =>
  `id: ${Date.now()}\nevent: ${name}\ndata: ${JSON.stringify(topics)}\n\n`

/**
 * What somebody may listen to, by what they asked for: the team whatever it names and its own Desk, a supplier's people only news of their
 * own company.
 */
export function topicsFor(
  actor: Pick<Actor, 'realm' | 'supplierId'> & Parameters<typeof audiencesOf>[0],
  asked: readonly string[],
): Map<string, string> {
  if (actor.realm === 'supplier')
    return new Map(asked.map(topic => [companyTopic(actor.supplierId ?? '', topic), topic]))
  return new Map(
    asked.flatMap(topic =>
      topic === OWN_DESK
        ? audiencesOf(actor).map(audience => [deskTopic(audience), OWN_DESK] as const)
        : topic.startsWith('company:') || topic.startsWith('desk:')
          ? []
          : [[topic, topic] as const],
    ),
  )
}
