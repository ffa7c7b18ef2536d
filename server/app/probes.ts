import type { Express, Request } from 'express'
import type { Knex } from 'knex'
import { pendingMigrations } from '#server/database/migrate.ts'
import { metricsText } from '#server/http/metrics.ts'
import { someWorkerLives } from '#server/jobs/beats.ts'

/** Milliseconds that a probe waits for the database. */
const PATIENCE = 3000

const within = <T>(work: Promise<T>): Promise<T> =>
  Promise.race([
    work,
    new Promise<never>((_resolve, reject) =>
      setTimeout(() => reject(new Error('no answer in time')), PATIENCE).unref(),
    ),
  ])

/** What is asked of the machine that it runs on, never through a proxy; or who shows the token of the settings. */
const isOurs = (request: Request, token: string): boolean =>
  (token !== '' && request.get('authorization') === `Bearer ${token}`) ||
  (request.get('x-forwarded-for') === undefined && /^(::ffff:)?127\.|^::1$/.test(request.socket.remoteAddress ?? ''))

/**
 * Answers what a supervisor, a proxy and a monitor ask. /health: the process answers. /ready: it can work (database there, its migrations
 * applied, a worker alive in the last minute) and is not on its way out. /metrics: what it counts.
 */
export function addProbes(app: Express, db: Knex, leaving: () => boolean, metricsToken: string): void {
  app.get('/health', (_request, response) => {
    response.set('cache-control', 'no-store').json({ alive: true })
  })
  app.get('/ready', async (_request, response) => {
    const checks = {
      serving: !leaving(),
      database: await within(db.raw('select 1')).then(
        () => true,
        () => false,
      ),
      migrations: await within(pendingMigrations(db)).then(
        pending => pending.length === 0,
        () => false,
      ),
      worker: await within(someWorkerLives(db)).catch(() => false),
    }
    response.set('cache-control', 'no-store')
    response.status(Object.values(checks).every(Boolean) ? 200 : 503).json(checks)
  })
  app.get('/metrics', async (request, response) => {
    if (!isOurs(request, metricsToken)) return void response.status(404).end()
    const text = await within(metricsText(db)).catch(() => undefined)
    if (text === undefined) return void response.status(503).end()
    response.type('text/plain; version=0.0.4; charset=utf-8').send(text)
  })
}
