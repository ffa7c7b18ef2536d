import { createServer, type Server, type ServerResponse } from 'node:http'
import { fileURLToPath } from 'node:url'
import express from 'express'
import expressStaticGzip from 'express-static-gzip'
import type { Knex } from 'knex'
import { addSingleSignOn } from '#server/account/singleSignOn.ts'
import { log } from '#server/app/log.ts'
import { openApi } from '#server/app/openApi.ts'
import { addProbes } from '#server/app/probes.ts'
import { allRoutes, type RouteParts } from '#server/app/routes.ts'
import { wire } from '#server/app/wiring.ts'
import { endThreads } from '#server/compute/compute.ts'
import { dayOf, reading } from '#server/call.ts'
import type { Settings } from '#server/configuration.ts'
import { connect } from '#server/database/connect.ts'
import { createApp, toldOf } from '#server/http/app.ts'
import { heardBy } from '#server/documents/heard.ts'
import { News } from '#server/news/news.ts'
import { findSession } from '#server/people/sessions.ts'

export interface Running {
  readonly port: number
  readonly db: Knex
  /** Takes nothing new, lets what is under way end, then ends. */
  readonly stop: () => Promise<void>
}

const WEB = fileURLToPath(new URL('../../dist/web', import.meta.url))

const mailAnswerer =
  (mailboxUrl: string): RouteParts['answerMail'] =>
  async body => {
    const answer = await fetch(`${mailboxUrl}/answers`, {
      method: 'POST',
      body: JSON.stringify(body),
      signal: AbortSignal.timeout(5000),
    })
    return answer.ok
  }

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

/** Milliseconds that requests under way have to end, once no new ones are taken. */
const DRAIN = 30_000

async function drained(server: Server): Promise<void> {
  const closed = new Promise(resolve => server.close(resolve))
  const late = setTimeout(() => server.closeAllConnections(), DRAIN)
  const idle = setInterval(() => server.closeIdleConnections(), 50)
  await closed
  clearTimeout(late)
  clearInterval(idle)
}

/** Starts one web server process; any number can run on one database. */
export async function startWebServer(settings: Settings, patience = PATIENCE): Promise<Running> {
  wire()
  const db = connect(settings.databaseUrl, 14)
  const news = new News(settings.databaseUrl)
  await news.start()
  let leaving = false
  const app = createApp({
    db,
    clock: () => new Date().toISOString(),
    log: (message, details) => log().error(details, message),
    access: line => log().info(line, line.file === undefined ? 'request' : 'file sent'),
    identify: (token, now) => findSession(db, token, now),
    routes: allRoutes({
      single: settings.singleSignOn?.name ?? null,
      readMails: mailReader(settings.mailboxUrl),
      answerMail: mailAnswerer(settings.mailboxUrl),
    }),
    trustProxy: settings.trustProxy,
    https: settings.publicUrl.startsWith('https:'),
    leaving: () => leaving,
    before: application => {
      addProbes(application, db, () => leaving, settings.metricsToken)
    },
    extend: (application, identify) => {
      news.attach(application, identify, async ({ actor, house }, topics) => {
        const now = new Date().toISOString()
        const setting = { house, now, today: dayOf(now, house.zone), channel: 'web', base: house.base } as const
        return await heardBy(reading(db, { actor, ...setting }), topics)
      })
      if (settings.singleSignOn)
        addSingleSignOn(
          application,
          db,
          settings.singleSignOn,
          settings.publicUrl,
          (request, response) => toldOf(request, response, settings.publicUrl.startsWith('https:')),
          (message, details) => log().error(details, message),
        )
      application.get('/api/openapi.json', (_request, response) => {
        response.json(openApi())
      })
      /** What a page may do is said with pages and scripts; pictures, styles and types do nothing. */
      const setHeaders = (response: ServerResponse, path: string): void => {
        if (!/\.(js|html)(\.\w+)?$/.test(path)) response.removeHeader('content-security-policy')
      }
      // a built file's name changes with what is in it, the names of the others do not
      const kept = { maxAge: '1y', immutable: true, setHeaders } as const
      for (const folder of ['/assets', '/handheld/assets'])
        application.use(
          folder,
          expressStaticGzip(`${WEB}${folder}`, {
            enableBrotli: true,
            orderPreference: ['br', 'gzip'],
            index: false,
            serveStatic: kept,
          }),
        )
      // the handheld asks for its worker whenever there is a network: a new one is found at once
      application.get(/^\/handheld\/(sw\.js|manifest\.webmanifest)$/, (request, response) => {
        response.set('cache-control', 'no-cache').sendFile(request.path.slice(1), { root: WEB })
      })
      application.use(express.static(WEB, { index: false, redirect: false, maxAge: '1d', setHeaders }))
      application.get(/^\/handheld(\/|$)/, (_request, response) => {
        response.set('cache-control', 'no-cache').sendFile('handheld/index.html', { root: WEB })
      })
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
    server.listen(settings.port, settings.host, resolve)
  })
  const address = server.address()
  return {
    port: typeof address === 'object' && address ? address.port : settings.port,
    db,
    stop: async () => {
      leaving = true
      await news.stop()
      await drained(server)
      await endThreads()
      await db.destroy()
    },
  }
}
