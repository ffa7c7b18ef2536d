import { once } from 'node:events'
import { type ClientRequest, get, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import express from 'express'
import { type Figure, fetchPage, figure, median, select, WARM } from '#bench/figures.ts'
import { UNNAMED } from '#server/house/house.ts'
import { News } from '#server/news/news.ts'
import { documentTopic, kindTopic } from '#server/news/tell.ts'
import { getActor } from '#server/people/sessions.ts'
import type { World } from '#test-helpers/world.ts'

/** One person's counts, as the Course asks for them, among all that is open, against a plain count over the index of what waits. */
export async function deskCounts(world: World, runs: number): Promise<Figure> {
  const pilar = await world.as('Pilar')
  const { id } = (await world.db('people').where('name', 'like', 'Pilar%').first('id')) as { id: string }
  const audience = `person:${id}`
  const ours = await median(4 * runs, () => fetchPage(world, pilar, '/counts'), WARM)
  const baseline = await median(
    4 * runs,
    () =>
      select(world.db, 'select count(*) from desk_entries where audience = ? and from_day <= current_date', [audience]),
    WARM,
  )
  const [all, own] = await Promise.all([
    world.db('deskEntries').count<{ count: bigint }[]>('* as count'),
    world.db('deskEntries').where({ audience }).count<{ count: bigint }[]>('* as count'),
  ])
  return {
    ...figure('desk.counts', ours, baseline, 3),
    note: `${own[0]!.count} of ${all[0]!.count} wait for this person`,
  }
}

const PAGES = 500
const CHANGES_A_SECOND = 20
/** Milliseconds of the server's own work that one change may cost. */
const ALLOWED = 2

interface Page {
  readonly document: string
  readonly request: ClientRequest
  heard: number
}

/** What one change costs the server while five hundred pages are open, against two milliseconds; each page hears only of what it shows. */
export async function newsFanOut(world: World, _runs: number, small: boolean): Promise<Figure> {
  const { id } = (await world.db('people').where('name', 'like', 'Pilar%').first('id')) as { id: string }
  const actor = await getActor(world.db, id, new Date().toISOString())
  const news = new News(world.url)
  const app = express()
  news.attach(
    app,
    () => Promise.resolve({ actor, house: UNNAMED }),
    (_reader, topics) => Promise.resolve(topics),
  )
  const server = app.listen(0, '127.0.0.1')
  await once(server, 'listening')
  const pages = await Promise.all(Array.from({ length: PAGES }, (_, index) => openPage(server, index)))
  const times: number[] = []
  const changes = CHANGES_A_SECOND * (small ? 1 : 5)
  for (let change = 0; change < changes; change++) {
    const at = pages[(change * 37) % PAGES]!
    const start = performance.now()
    news.hear([documentTopic(at.document), kindTopic('invoice')])
    times.push(performance.now() - start)
    await new Promise(resolve => setTimeout(resolve, 1000 / CHANGES_A_SECOND))
  }
  const heard = pages.reduce((sum, page) => sum + page.heard, 0)
  for (const page of pages) page.request.destroy()
  await news.stop()
  server.close()
  const mean = times.reduce((sum, time) => sum + time, 0) / times.length
  if (heard !== changes) throw new Error(`${heard} pages heard of ${changes} changes that one page each shows.`)
  return {
    ...figure('news.fan-out', mean, ALLOWED, 1),
    note: `${PAGES} pages open, ${CHANGES_A_SECOND} changes a second; slowest ${Math.max(...times).toFixed(2)} ms; each told the one page that shows it`,
  }
}

/** A page that shows one document, a list of orders and the person's Desk. */
async function openPage(server: Server, index: number): Promise<Page> {
  const document = `00000000-0000-4000-8000-${String(index).padStart(12, '0')}`
  const topics = [documentTopic(document), kindTopic('order'), 'desk'].join(',')
  const request = get(`http://127.0.0.1:${(server.address() as AddressInfo).port}/api/events?topics=${topics}`, {
    agent: false,
  })
  const [response] = (await once(request, 'response')) as [IncomingMessage]
  const page: Page = { document, request, heard: 0 }
  request.on('error', () => undefined)
  response.on('error', () => undefined)
  response.on('data', (part: Buffer) => {
    page.heard += part.toString().split('event: changed').length - 1
  })
  return page
}
