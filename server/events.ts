import type { Request, Response } from 'express'
import type { Express } from 'express'
import pg from 'pg'
import type { Actor } from '#server/call.ts'

/** Live news: every server process listens to the database and tells its own pages, so any number can run beside each other. */
export class News {
  private readonly readers = new Set<Response>()
  private client: pg.Client | undefined
  private ended = false
  private beat: NodeJS.Timeout | undefined

  constructor(private readonly url: string) {}

  async start(): Promise<void> {
    await this.listen()
    this.beat = setInterval(() => this.tell(': beat\n\n'), 25_000)
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url, keepAlive: true })
    client.on('error', () => undefined)
    client.on('end', () => {
      if (!this.ended) setTimeout(() => void this.listen(), 500)
    })
    client.on('notification', message => this.tell(`event: changed\ndata: ${message.payload ?? ''}\n\n`))
    try {
      await client.connect()
      await client.query('listen ivory')
      this.client = client
      this.tell('event: changed\ndata: {}\n\n')
    } catch {
      await client.end().catch(() => undefined)
    }
  }

  private tell(text: string): void {
    for (const reader of this.readers) reader.write(text)
  }

  /** Adds the stream's address to an application; only people of the team get news. */
  attach(app: Express, actorOf: (request: Request) => Promise<Actor | undefined>): void {
    app.get('/api/events', (request, response) => {
      void actorOf(request).then(
        actor => {
          if (actor?.realm !== 'team')
            return void response.status(actor ? 403 : 401).json({ reasons: [{ code: actor ? 'right.missing' : 'session.none', level: 'stop', details: {} }] })
          response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' })
          response.write(': here\n\n')
          this.readers.add(response)
          request.on('close', () => this.readers.delete(response))
        },
        () => response.status(503).end(),
      )
    })
  }

  async stop(): Promise<void> {
    this.ended = true
    clearInterval(this.beat)
    for (const reader of this.readers) reader.end()
    await this.client?.end().catch(() => undefined)
  }
}
