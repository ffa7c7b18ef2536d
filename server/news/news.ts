import type { Express, Request, Response } from 'express'
import pg from 'pg'
import { audiencesOf } from '#core/desk/entry.ts'
import { stop } from '#core/reasons.ts'
import type { Actor, House } from '#server/call.ts'
import { sendReasons } from '#server/http/answers.ts'
import { liveStreams } from '#server/http/metrics.ts'
import { CHANNEL, companyTopic, deskTopic, personTopic, sessionTopic } from '#server/news/tell.ts'

/** Topics that one page may ask for. */
const MOST_TOPICS = 100
/** What a page asks for that shows its own Desk. */
export const OWN_DESK = 'desk'
/** The name under which a stream hears that it is over; no page can ask for it. */
const OVER = ' over'
/** Milliseconds for which news is kept for pages that are about to listen. */
const KEPT = 30_000
const BEAT = 25_000

interface Reader {
  readonly response: Response
  /** Whether whoever opened it may still listen. */
  readonly stillMay: () => Promise<boolean>
  /** What it listens to, with the name under which the page asked for it. */
  readonly topics: ReadonlyMap<string, string>
}
/** Who opens a stream, in which session. */
export interface Listener {
  readonly actor: Actor | undefined
  readonly house: House
  readonly sessionId?: string | undefined
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
      for (const reader of this.all) void this.beatOf(reader)
    }, BEAT)
  }

  /** A sign of life; a session that ended by itself, by age or rest, takes its streams along. */
  private async beatOf(reader: Reader): Promise<void> {
    if (await reader.stillMay().catch(() => true)) reader.response.write(event('beat', []))
    else reader.response.end()
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
      for (const reader of [...(this.readers.get(topic) ?? [])]) {
        const name = reader.topics.get(topic)!
        if (name === OVER) reader.response.end()
        else told.set(reader, [...(told.get(reader) ?? []), name])
      }
    for (const [reader, own] of told) reader.response.write(event('changed', own))
  }

  /** Adds the stream's address to an application. */
  attach(
    app: Express,
    identify: (request: Request) => Promise<Listener>,
    heardBy: (reader: { actor: Actor; house: House }, topics: readonly string[]) => Promise<readonly string[]>,
  ): void {
    app.get('/api/events', async (request, response) => {
      try {
        const { actor, sessionId, house } = await identify(request)
        if (!actor) return sendReasons(response, [stop('session.none')])
        const topics = topicsFor(actor, await heardBy({ actor, house }, askedFor(request)))
        if (sessionId !== undefined) topics.set(sessionTopic(sessionId), OVER)
        topics.set(personTopic(actor.id), OVER)
        const stillMay = async (): Promise<boolean> => (await identify(request)).actor !== undefined
        this.admit(request, { response, topics, stillMay })
      } catch {
        sendReasons(response, [stop('server.databaseAway')])
      }
    })
  }

  private admit(request: Request, reader: Reader): void {
    const { response } = reader
    liveStreams.inc()
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
    const own = [...new Set(missed.flatMap(topic => reader.topics.get(topic) ?? []))].filter(name => name !== OVER)
    if (own.length > 0) reader.response.write(event('changed', own))
  }

  private dismiss(reader: Reader): void {
    if (this.all.delete(reader)) liveStreams.dec()
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

const askedFor = (request: Request): string[] =>
  String(request.query.topics ?? '')
    .split(',')
    .filter(Boolean)
    .slice(0, MOST_TOPICS)

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
        ? audiencesOf(actor).map(({ name }) => [deskTopic(name), OWN_DESK] as const)
        : /^(company|desk|session|person):/.test(topic)
          ? []
          : [[topic, topic] as const],
    ),
  )
}
