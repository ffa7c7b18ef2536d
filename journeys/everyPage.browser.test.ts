import axe from 'axe-core'
import { expect } from 'chai'
import type { Page } from 'puppeteer-core'
import { SUBJECT_GROUPS } from '#web/setup/subjects.ts'
import { comeInAs, type OurBrowser, startBrowser, WALK } from '#test-helpers/browser.ts'
import { useWorld, type World } from '#test-helpers/world.ts'

/** Whose pages are looked at. `+` after an address: the first of its list is opened, too. */
const PAGES: Readonly<Record<string, readonly string[]>> = {
  Pilar: [
    '/desk', '/source', '/source+', '/source/new', '/source/onboardings+', '/source/duplicates', '/order', '/order+', '/order/to-buy', '/order/proposals', '/order/following', '/order/following?whose=all', '/source/agreements', '/source/agreements+', '/source/price-indices',
    '/request/catalogue+', '/request/prices', '/account',
  ], // prettier-ignore
  Joren: ['/source/builds', '/source/builds+', '/request', '/request+', '/request/catalogue', '/request/lists', '/request/needs', '/request/notices', '/receive+'], // prettier-ignore
  Marit: ['/decide', '/decide?view=waiting+', '/decide/away', '/insight', '/insight+'],
  Yuki: ['/receive', '/receive+', '/receive/{Regulators for}', '/receive/expected', '/receive/settle', '/receive/set-aside', '/receive/overdue', '/receive/overdue+', '/receive/inspections', '/receive/inspections+', '/receive/assets', '/receive/assets+', '/receive/stock', '/receive/stock+'], // prettier-ignore
  Leonie: ['/bill', '/bill+', '/bill/credits', '/bill/credits+', '/bill/enter'],
  Casimir: ['/pay', '/pay+', '/pay/bank-messages'],
  Adaeze: ['/bill/journal', '/bill/recurring', '/receive/accrued', '/insight/transfers', '/insight/years'],
  Wren: [
    '/decide/evidence',
    '/setup',
    ...SUBJECT_GROUPS.flatMap(group => group.subjects.map(one => `/setup/${one.key}`)),
  ],
  Rasmus: [
    '/source/events', '/source/events+', '/source/events/{Probes for}', '/source/events/{Titanium}', '/source/events/{Valves and}',
    '/source/events/{Inspection of}/compare', '/source/events/{Acrylic}/compare', '/source/events/{Circulation}/day',
  ], // prettier-ignore
  'at Brightwater Diving': ['/supplier/orders/{Masks for}'],
  'at Toshima Probe Works': ['/supplier', '/supplier/asked/{Probes for}'],
  'at Nordhavn Pumpeverk': [
    '/supplier/asked/{Circulation}',
    '/supplier/asked/{Circulation}/day',
    '/supplier',
    '/supplier/company',
    '/supplier/invoices',
    '/supplier/invoices/{NOR-}',
    '/supplier/people',
  ],
}

/** Everything that the rules find on the page, of whatever weight. */
async function faultsOn(page: Page): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source)
  const { violations } = await page.evaluate(() =>
    (window as Window & { axe?: typeof axe }).axe!.run(
      { exclude: ['.splitpanes__splitter'] },
      { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] },
    ),
  )
  return violations.map(one => `${one.id}: ${one.nodes.slice(0, 2).map(node => node.html.slice(0, 160)).join(' | ')}`) // prettier-ignore
}

/** The id of the event or order whose title begins so, in an address. */
async function placed(world: World, path: string): Promise<string> {
  const [found, title] = /\{([^}]+)\}/.exec(path) ?? []
  if (!found) return path
  const [table, column] = path.startsWith('/supplier/invoices/') ? ['invoices', 'supplier_number'] : [/^\/(receive|supplier\/orders)\//.test(path) ? 'orders' : 'events', 'title'] // prettier-ignore
  const { rows } = await world.db.raw<{ rows: [{ id: string }] }>('select id from ?? where ?? like ? limit 1', [
    table,
    column,
    `${title}%`,
  ])
  return path.replace(found, rows[0].id)
}

/** To another page of the same visit, as a link goes there. */
const goTo = (page: Page, path: string): Promise<void> =>
  page.evaluate(to => {
    const state = { ...(history.state as object), current: to }
    history.pushState(state, '', to)
    dispatchEvent(new PopStateEvent('popstate', { state }))
  }, path)

/** Until nothing more is asked of the server; the stream of news stays open. */
const settled = (page: Page): Promise<unknown> =>
  page.waitForNetworkIdle({ idleTime: 200, concurrency: 1, timeout: 15_000 }).catch(() => undefined)

describe('every page', function () {
  this.timeout(2 * WALK)
  const world = useWorld()
  let browser: OurBrowser
  before(async () => {
    browser = await startBrowser()
  })
  after(() => browser.close())

  for (const width of [1280, 390])
    it(`has no accessibility fault and no error at ${width}, and nothing stands beside the screen`, async () => {
      const found: string[] = []
      for (const [who, paths] of Object.entries(PAGES)) {
        const page = await browser.open(width)
        await comeInAs(page, world.address, who.replace('at ', ''), who.startsWith('at '))
        let at = ''
        page.on('pageerror', error => found.push(`${at}: ${String(error)}`))
        for (const path of paths) {
          at = path
          await goTo(page, await placed(world, path.replace('+', '')))
          await settled(page)
          if (path.endsWith('+')) {
            const first = await page.waitForSelector('.row, .found li a', { timeout: 5_000 }).catch(() => null)
            if (!first) found.push(`${path}: nothing is in the list`)
            await first?.click()
            await settled(page)
          }
          for (const fault of await faultsOn(page)) found.push(`${path}: ${fault}`)
          const wide = await page.evaluate(() => document.documentElement.scrollWidth)
          if (wide > width) found.push(`${path}: ${wide} wide`)
        }
        await page.browserContext().close()
      }
      expect([...new Set(found)]).to.deep.equal([])
    })
})
