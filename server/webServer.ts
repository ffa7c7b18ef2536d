import type { Server } from 'node:http'
import { fileURLToPath } from 'node:url'
import express from 'express'
import type { Knex } from 'knex'
import { pino } from 'pino'
import type { Settings } from '#server/configuration.ts'
import { connect } from '#server/database/connect.ts'
import { News } from '#server/events.ts'
import { createApp } from '#server/http/app.ts'
import { openApi } from '#server/http/openApi.ts'
import { signInLimit } from '#server/people/signIn.ts'
import { allRoutes } from '#server/routes.ts'

export interface Running {
  readonly port: number
  readonly db: Knex
  readonly stop: () => Promise<void>
}

const WEB = fileURLToPath(new URL('../dist/web', import.meta.url))

async function readMails(mailboxUrl: string, to: string | undefined): Promise<never[]> {
  const answer = await fetch(`${mailboxUrl}/mails?to=${encodeURIComponent(to ?? '')}`, { signal: AbortSignal.timeout(3000) })
  return ((await answer.json()) as { mails: never[] }).mails
}

/** Starts one web server process; any number can run on one database. */
export async function startWebServer(settings: Settings, clock: () => string = () => new Date().toISOString()): Promise<Running> {
  const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' })
  const db = connect(settings.databaseUrl, 14)
  const news = new News(settings.databaseUrl)
  await news.start()
  const limit = signInLimit(db)
  const app = createApp({
    db,
    clock,
    base: settings.base,
    demo: settings.demo,
    log: (message, details) => log.error({ details: details instanceof Error ? { message: details.message, stack: details.stack } : details }, message),
    routes: allRoutes({ demo: settings.demo, readMails: to => readMails(settings.mailboxUrl, to) }),
    before: application => {
      application.post('/api/session', limit)
    },
    extend: (application, actorOf) => {
      news.attach(application, actorOf)
      application.get('/api/openapi.json', (_request, response) => {
        response.json(openApi())
      })
      application.use(express.static(WEB, { index: false, maxAge: '1y', immutable: true }))
      application.get(/^\/(?!api\/)/, (_request, response) => {
        response.set('cache-control', 'no-cache').sendFile('index.html', { root: WEB })
      })
    },
  })
  const server = await new Promise<Server>((resolve, reject) => {
    const listening = app.listen(settings.port, '127.0.0.1', (error?: Error) => (error ? reject(error) : resolve(listening)))
  })
  const address = server.address()
  return {
    port: typeof address === 'object' && address ? address.port : settings.port,
    db,
    stop: async () => {
      await news.stop()
      server.closeAllConnections()
      await new Promise(resolve => server.close(resolve))
      await db.destroy()
    },
  }
}
