import type { Page } from 'puppeteer-core'
import { startBrowser } from '#test-helpers/browser.ts'
import type { World } from '#test-helpers/world.ts'
import { type Figure, figure } from '#bench/figures.ts'

/** Kilobytes and requests of the first page that somebody sees, and kilobytes of a later visit. */
const FIRST_KB = 250
const FIRST_REQUESTS = 15
const LATER_KB = 20

interface Visit {
  readonly bytes: number
  readonly requests: number
}

/** What Chromium takes over the wire for the Desk, everything counted: pages, scripts, styles, fonts, pictures, answers, with their heads. */
export function firstRoute(world: World): Promise<Figure> {
  return inBrowser(world, async page => {
    const wire = await page.createCDPSession()
    await wire.send('Network.enable')
    let seen = { bytes: 0, requests: 0 }
    wire.on('Network.loadingFinished', one => {
      if (one.encodedDataLength > 0) seen = { bytes: seen.bytes + one.encodedDataLength, requests: seen.requests + 1 }
    })
    const visit = async (): Promise<Visit> => {
      seen = { bytes: 0, requests: 0 }
      await page.goto(`${world.address}/`)
      await page.waitForSelector('.desk-page h1, .desk-page h2')
      await page.evaluate(() => document.fonts.ready.then(() => undefined))
      await new Promise(resolve => setTimeout(resolve, 1500))
      return seen
    }
    const first = await visit()
    const later = await visit()
    const kb = (bytes: number): number => Math.round(bytes / 102.4) / 10
    const measured = figure('web.first-route-kb', first.bytes / 1024, FIRST_KB, 1, 'kB')
    return {
      ...measured,
      ok: measured.ok && first.requests <= FIRST_REQUESTS && later.bytes <= LATER_KB * 1024,
      note: `${first.requests} requests (${FIRST_REQUESTS}); a later visit ${kb(later.bytes)} kB (${LATER_KB})`,
    }
  })
}

/** A page of Chromium in which a buyer is signed in, for as long as the work takes. */
async function inBrowser<T>(world: World, work: (page: Page) => Promise<T>): Promise<T> {
  const { cookie } = await world.as('Pilar')
  const browser = await startBrowser()
  try {
    const page = await browser.open()
    const [name, value] = cookie.split('=') as [string, string]
    await page.browserContext().setCookie({ name, value, domain: new URL(world.address).hostname })
    return await work(page)
  } finally {
    await browser.close()
  }
}

const LIMIT = 3
const middle = (times: readonly number[]): number => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]!

/** From the click on a row to its Sheet, painted, against the bare answer with the same data that the same page fetches. */
export function openSheet(world: World, runs: number): Promise<Figure> {
  return inBrowser(world, async page => {
    await page.goto(`${world.address}/order?view=all`)
    await page.waitForSelector('.row')
    const times: { painted: number; bare: number }[] = []
    for (let run = -2; run < Math.min(runs, 12); run++) {
      const one = await page.evaluate(async index => {
        const row = document.querySelectorAll<HTMLElement>('.rows .row')[index]!
        const number = row.dataset.test!.slice(4)
        const start = performance.now()
        row.click()
        while (!document.querySelector('.sheet .kind')?.textContent.includes(number))
          await new Promise(resolve => requestAnimationFrame(resolve))
        // the frame in which it was found is painted before any timer runs
        await new Promise(resolve => setTimeout(resolve))
        const painted = performance.now() - start
        await new Promise(resolve => setTimeout(resolve, 600))
        const from = performance.now()
        await (await fetch(`/api/orders/${location.pathname.split('/').at(-1)}`)).json()
        return { painted, bare: performance.now() - from }
      }, run + 2)
      if (run >= 0) times.push(one)
    }
    return figure('web.open-sheet', middle(times.map(one => one.painted)), middle(times.map(one => one.bare)), LIMIT)
  })
}

/** From a key in the search of a list to its rows, painted, against the bare answer with the same rows. */
export function filterList(world: World, runs: number): Promise<Figure> {
  return inBrowser(world, async page => {
    await page.goto(`${world.address}/order?view=all`)
    await page.waitForSelector('.row')
    const times: { painted: number; bare: number }[] = []
    const { orders } = (
      await world.db.raw<{ rows: { orders: string[] }[] }>(
        "select array(select number from orders where number like 'O-9%' order by number limit 40) as orders",
      )
    ).rows[0]!
    for (let run = -2; run < Math.min(runs, 12); run++) {
      const one = await page.evaluate(
        async wanted => {
          const field = document.querySelector<HTMLInputElement>(
            '[data-test="list-search"] input, input[data-test="list-search"]',
          )!
          field.focus()
          const start = performance.now()
          field.value = wanted
          field.dispatchEvent(new Event('input', { bubbles: true }))
          while (document.querySelector<HTMLElement>('.rows .row')?.dataset.test !== `row-${wanted}`) {
            if (performance.now() - start > 10_000) throw new Error(`${wanted} is not found`)
            await new Promise(resolve => requestAnimationFrame(resolve))
          }
          await new Promise(resolve => setTimeout(resolve))
          const painted = performance.now() - start
          await new Promise(resolve => setTimeout(resolve, 600))
          const from = performance.now()
          await (await fetch(`/api/orders?view=all&q=${wanted}&limit=80`)).json()
          return { painted, bare: performance.now() - from }
        },
        orders[run + 2]!,
      )
      if (run >= 0) times.push(one)
    }
    return figure('web.filter-list', middle(times.map(one => one.painted)), middle(times.map(one => one.bare)), LIMIT)
  })
}

/** No frame may take longer, in milliseconds. */
const FRAME = 50
const SECONDS = 6

/** The longest frame while the widened list of all orders is scrolled through, page after page. */
export function scrollList(world: World): Promise<Figure> {
  return inBrowser(world, async page => {
    await page.goto(`${world.address}/order?view=all`)
    await page.waitForSelector('.row')
    await page.click('[data-test="widen"]')
    await page.waitForSelector('.data-table [data-test^="row-"]')
    await new Promise(resolve => setTimeout(resolve, 1500))
    const { longest, frames, rows } = await page.evaluate(async seconds => {
      const box = document.querySelector<HTMLElement>('.data-table')!
      const until = performance.now() + seconds * 1000
      let before = await new Promise<number>(resolve => requestAnimationFrame(resolve))
      let longest = 0
      let frames = 0
      while (performance.now() < until) {
        box.scrollTop += 60
        const now = await new Promise<number>(resolve => requestAnimationFrame(resolve))
        longest = Math.max(longest, now - before)
        before = now
        frames++
      }
      return { longest, frames, rows: Math.round(box.scrollHeight / 32) }
    }, SECONDS)
    return {
      ...figure('web.scroll-200k', longest, FRAME, 1),
      note: `${Math.round(frames / SECONDS)} frames a second; ${rows} rows read`,
    }
  })
}
