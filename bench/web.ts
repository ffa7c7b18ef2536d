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
export async function firstRoute(world: World): Promise<Figure> {
  const { cookie } = await world.as('Pilar')
  const browser = await startBrowser()
  try {
    const page = await browser.open()
    const [name, value] = cookie.split('=') as [string, string]
    await page.browserContext().setCookie({ name, value, domain: new URL(world.address).hostname })
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
  } finally {
    await browser.close()
  }
}
