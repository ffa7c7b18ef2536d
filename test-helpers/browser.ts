import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadSession, SignInDemo } from '#contract/people/endpoints.ts'

const CHROMIUM = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find(existsSync)

/** How long a part of a walk may take, ms: each wait in it has a limit of its own, so this only ends what hangs. */
export const WALK = 600_000

export interface OurBrowser {
  readonly browser: Browser
  readonly open: (width?: number, height?: number) => Promise<Page>
  readonly close: () => Promise<void>
}

/** Debian's Chromium, headless, with a profile of its own that goes away. */
export async function startBrowser(): Promise<OurBrowser> {
  if (!CHROMIUM) throw new Error('Chromium is missing: apt-get install chromium.')
  const profile = mkdtempSync(join(tmpdir(), 'ivory-browser-'))
  const browser = await puppeteer.launch({
    executablePath: CHROMIUM,
    headless: true,
    userDataDir: profile,
    protocolTimeout: 120_000,
    timeout: 120_000,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--disable-dev-shm-usage',
      '--font-render-hinting=none',
    ],
  })
  return {
    browser,
    open: async (width = 1280, height = 800) => {
      const context = await browser.createBrowserContext()
      const page = await context.newPage()
      await page.setViewport({ width, height, deviceScaleFactor: 1, isMobile: width < 500, hasTouch: width < 500 })
      return page
    },
    close: async () => {
      await browser.close()
      rmSync(profile, { recursive: true, force: true })
    },
  }
}

/** Whether something else, such as a calendar that is just closing, would take a click on the element. */
const isCovered = (element: Element): boolean => {
  const { left, top, width, height } = element.getBoundingClientRect()
  const hit = document.elementFromPoint(left + width / 2, top + height / 2)
  const around =
    hit?.closest('.el-select, .el-input, .el-textarea, .el-date-editor, .el-checkbox, label, button, a') ?? hit
  return around !== null && !around.contains(element) && !element.contains(around)
}

/** Waits until an element stands still and is free: what comes in above it would otherwise take its click. */
async function standsStill(element: ElementHandle): Promise<void> {
  const box = async (): Promise<string> => JSON.stringify(await element.boundingBox())
  for (let before = '', now = await box(), tries = 0; tries < 50; tries++) {
    if (before === now && !(await element.evaluate(isCovered))) return
    await new Promise(resolve => setTimeout(resolve, 40))
    before = now
    now = await box()
  }
}

/** Clicks an element once it stands still: a page that is just being drawn anew would take the click elsewhere. */
export async function clickSteady(element: ElementHandle): Promise<void> {
  await element.evaluate(one => one.scrollIntoView({ block: 'center' }))
  await standsStill(element)
  await element.click()
}

/** Waits for something; what the page says instead is told, so that a failure can be understood from afar. */
async function orTell<T>(page: Page, wanted: string, wait: () => Promise<T>): Promise<T> {
  try {
    return await wait()
  } catch (error) {
    const instead = await page.evaluate(() => document.body.innerText.replace(/\s+/g, ' ').slice(0, 1500))
    throw new Error(`“${wanted}” did not come at ${page.url()}, which says: ${instead}`, { cause: error })
  }
}

/** Waits for a marked element and clicks it. */
export async function press(page: Page, test: string): Promise<void> {
  const selector = `[data-test="${test}"]:not([disabled])`
  const found = await orTell(page, test, () => page.waitForSelector(selector, { visible: true, timeout: 60_000 }))
  await clickSteady(found!)
}

/** Gives files to a file field, which may be hidden behind its label. */
export async function chooseFiles(page: Page, selector: string, ...paths: string[]): Promise<void> {
  const input = await (await page.waitForSelector(selector))!.toElement('input')
  await input.uploadFile(...paths)
}

/** Types into a marked field, or the field inside it, in place of what is there. */
export async function fill(page: Page, test: string, text: string): Promise<void> {
  const selector = `input[data-test="${test}"], textarea[data-test="${test}"], [data-test="${test}"] input, [data-test="${test}"] textarea`
  const field = await orTell(page, test, () => page.waitForSelector(selector, { visible: true, timeout: 60_000 }))
  await standsStill(field!)
  await field!.click()
  await field!.evaluate(element => (element as HTMLInputElement).select())
  await field!.type(text)
}

/** A list of several choices stays open over the fields below it and would take the next click: one leaves it. */
async function closeOpenList(page: Page): Promise<void> {
  const isClosed = (): boolean =>
    ![...document.querySelectorAll<HTMLElement>('.el-select-dropdown.is-multiple')].some(
      list => list.offsetParent !== null,
    )
  if (await page.evaluate(isClosed)) return
  await page.evaluate(() => (document.activeElement as HTMLElement).blur())
  await page.waitForFunction(isClosed, { timeout: 5_000 })
}

/** Chooses an option of a list field by a part of its words. */
export async function pick(page: Page, test: string, words: string): Promise<void> {
  const field = await page.waitForSelector(`[data-test="${test}"] input, input[data-test="${test}"]`, {
    timeout: 30_000,
  })
  await field!.evaluate(element => element.scrollIntoView({ block: 'center' }))
  await standsStill(field!)
  await field!.click()
  await field!.type(words)
  for (let attempt = 1; ; attempt++) {
    const option = await page.waitForFunction(
      text =>
        [...document.querySelectorAll<HTMLElement>('.el-select-dropdown__item')].find(
          item => item.offsetParent !== null && item.innerText.includes(text),
        ),
      { timeout: 30_000 },
      words,
    )
    try {
      // the list comes in by growing: clicked in its middle, the neighbour would be taken
      const item = await option.asElement()!.toElement('li')
      await item.evaluate(element => element.scrollIntoView({ block: 'nearest' }))
      await standsStill(item)
      await item.click()
      return await closeOpenList(page)
    } catch (error) {
      /** A list that is searched on the server may be drawn anew at this moment. */
      if (attempt === 4) throw error
      await new Promise(resolve => setTimeout(resolve, 200 * attempt))
    }
  }
}

/** Types a day into a day field. */
export async function typeDay(page: Page, test: string, day: string): Promise<void> {
  const date = new Date(`${day}T00:00:00Z`)
  const month = date.toLocaleString('en-GB', { month: 'short', timeZone: 'UTC' })
  await fill(page, test, `${date.getUTCDate()} ${month === 'Sept' ? 'Sep' : month} ${date.getUTCFullYear()}`)
  // into the field itself: a page that is drawn anew may have taken the focus elsewhere
  const field = await page.waitForSelector(`input[data-test="${test}"], [data-test="${test}"] input`)
  await field!.press('Enter')
}

export const textOf = async (page: Page, test: string): Promise<string> => {
  const found = await page.waitForSelector(`[data-test="${test}"]`, { timeout: 30_000 })
  return await found!.evaluate(element => (element as HTMLElement).innerText)
}

/** Waits until the page says something. */
export const says = (page: Page, text: string): Promise<unknown> =>
  orTell(page, text, () =>
    page.waitForFunction(
      wanted => document.body.innerText.replace(/\s+/g, ' ').includes(wanted),
      { timeout: 60_000 },
      text,
    ),
  )

/** Signs a page in as a person of the demo, by first name, or at a supplier, and opens a page of theirs. Walks of the door itself press its buttons. */
export async function comeInAs(page: Page, address: string, who: string, at = false, path = '/'): Promise<void> {
  const { demoPeople } = (await (await fetch(`${address}/api${ReadSession.path}`)).json()) as ResponseOf<
    typeof ReadSession
  >
  const person = demoPeople.find(one => (at ? one.company === who : !one.company && one.name.startsWith(`${who} `)))
  if (!person) throw new Error(`Nobody in the demo is called ${who}.`)
  const response = await fetch(`${address}/api${SignInDemo.path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-ivory-order': '1' },
    body: JSON.stringify({ personId: person.id }),
  })
  const [name, value] = response.headers.getSetCookie()[0]!.split(';')[0]!.split('=') as [string, string]
  await page.setCookie({ name, value, url: address, httpOnly: true, sameSite: 'Strict' })
  await page.goto(`${address}${path}`)
}

/** A browser for a suite, a folder for its files, and pages that are signed in and on their way. */
export function useBrowser(address: () => string): {
  open: (who: string, path: string, width?: number) => Promise<Page>
  file: (name: string) => string
} {
  let browser: OurBrowser
  let folder = ''
  before(async () => {
    browser = await startBrowser()
    folder = mkdtempSync(join(tmpdir(), 'ivory-walk-'))
  })
  after(async () => {
    await browser.close()
    rmSync(folder, { recursive: true, force: true })
  })
  const open = async (who: string, path: string, width = 1280): Promise<Page> => {
    const page = await browser.open(width)
    // nobody: whoever has only a link
    if (who === '') await page.goto(`${address()}${path}`)
    else await comeInAs(page, address(), who.replace(/^at /, ''), who.startsWith('at '), path)
    return page
  }
  return { open, file: name => join(folder, name) }
}
