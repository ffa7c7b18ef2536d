import { createServer } from 'node:http'
import { fileURLToPath } from 'node:url'
import express from 'express'
import type { Knex } from 'knex'
import { pino } from 'pino'
import { openApi } from '#server/app/openApi.ts'
import { allRoutes, type RouteParts } from '#server/app/routes.ts'
import { wire } from '#server/app/wiring.ts'
import { endThreads } from '#server/compute/compute.ts'
import type { Settings } from '#server/configuration.ts'
import { connect } from '#server/database/connect.ts'
import { createApp } from '#server/http/app.ts'
import { News } from '#server/news/news.ts'
import { findSession } from '#server/people/sessions.ts'
import { signInLimit } from '#server/people/signIn.ts'

export interface Running {
  readonly port: number
  readonly db: Knex
  readonly stop: () => Promise<void>
}

const WEB = fileURLToPath(new URL('../../dist/web', import.meta.url))

const mailReader =
  (mailboxUrl: string): RouteParts['readMails'] =>
  async to => {
    const answer = await fetch(`${mailboxUrl}/mails?to=${encodeURIComponent(to ?? '')}`, {
      signal: AbortSignal.timeout(3000),
    })
    return ((await answer.json()) as { mails: Awaited<ReturnType<RouteParts['readMails']>> }).mails
  }

/** Milliseconds within which the head of a request, and the whole of it, have to be in (a file of 25 MB on a slow line among them). */
export interface Patience {
  readonly head: number
  readonly whole: number
}
const PATIENCE: Patience = { head: 20_000, whole: 300_000 }

/** Starts one web server process; any number can run on one database. */
export async function startWebServer(settings: Settings, patience = PATIENCE): Promise<Running> {
  wire()
  const logger = pino({ level: process.env.LOG_LEVEL ?? 'warn' })
  const db = connect(settings.databaseUrl, 14)
  const news = new News(settings.databaseUrl)
  await news.start()
  const limit = signInLimit(db)
  const app = createApp({
    db,
    clock: () => new Date().toISOString(),
    log: (message, details) => logger.error(details, message),
    identify: (token, now) => findSession(db, token, now),
    routes: allRoutes({ demo: settings.demo, readMails: mailReader(settings.mailboxUrl) }),
    before: application => {
      application.post('/api/session', limit)
    },
    extend: (application, identify) => {
      news.attach(application, async request => (await identify(request)).actor)
      application.get('/api/openapi.json', (_request, response) => {
        response.json(openApi())
      })
      application.use(express.static(WEB, { index: false, maxAge: '1y', immutable: true }))
      application.get(/^\/(?!api\/)/, (_request, response) => {
        response.set('cache-control', 'no-cache').sendFile('index.html', { root: WEB })
      })
    },
  })
  const server = createServer(
    {
      headersTimeout: patience.head,
      requestTimeout: patience.whole,
      connectionsCheckingInterval: Math.min(patience.head, 5000),
    },
    app,
  )
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(settings.port, '127.0.0.1', resolve)
  })
  const address = server.address()
  return {
    port: typeof address === 'object' && address ? address.port : settings.port,
    db,
    stop: async () => {
      await news.stop()
      server.closeAllConnections()
      await new Promise(resolve => server.close(resolve))
      await endThreads()
      await db.destroy()
    },
  }
}
