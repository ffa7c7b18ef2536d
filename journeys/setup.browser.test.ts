import { writeFileSync } from 'node:fs'
import { expect } from 'chai'
import type { Page } from 'puppeteer-core'
import { ReadHouse, SaveHouse } from '#contract/setup/house.ts'
import { addDays } from '#core/calendar/days.ts'
import { JOBS } from '#server/app/jobs.ts'
import { teamCalendar } from '#server/house/calendar.ts'
import { chooseFiles, fill, pick, press, says, textOf, useBrowser, WALK } from '#test-helpers/browser.ts'
import { agree } from '#test-helpers/ruleVersions.ts'
import { draft, goodsLine, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('Setup in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open, file } = useBrowser(() => world.address)

  /** Goes on with the Tab key until a marked element has the focus, then presses Enter. */
  async function enter(page: Page, test: string): Promise<void> {
    await page.waitForSelector(`[data-test="${test}"]:not([disabled])`, { visible: true })
    for (let count = 0; count < 120; count++) {
      const here = await page.evaluate(
        mark => document.activeElement?.closest(`[data-test="${mark}"]`) instanceof HTMLElement,
        test,
      )
      if (here) return await page.keyboard.press('Enter')
      await page.keyboard.press('Tab')
    }
    throw new Error(`The Tab key does not lead to ${test}`)
  }
  /** Opens a page of Setup by what it is called, from the field above all pages. */
  async function look(page: Page, words: string, subject: string): Promise<void> {
    await page.goto(`${world.address}/setup`)
    await page.waitForSelector('[data-test="setup-search"]')
    await page.focus('[data-test="setup-search"]')
    await page.keyboard.type(words)
    await page.keyboard.press('Enter')
    await page.waitForFunction(path => location.pathname === path, {}, `/setup/${subject}`)
  }
  async function add(page: Page, fields: readonly (readonly [string, string])[]): Promise<void> {
    await enter(page, 'new-entry')
    for (const [field, text] of fields) {
      const isList = await page
        .waitForSelector(`[data-test="field-${field}"]`, { visible: true })
        .then(found =>
          found!.evaluate(
            one => one.closest('.el-select') !== null || one.querySelector('input[role="combobox"]') !== null,
          ),
        )
      if (isList) await pick(page, `field-${field}`, text)
      else await fill(page, `field-${field}`, text)
    }
    await enter(page, 'save-entry')
  }

  it('a steward sets up a second site with holidays and a currency', async () => {
    const page = await open('Wren', '/setup')
    await look(page, 'business days', 'calendars')
    await add(page, [
      ['code', 'no'],
      ['name', 'Norway'],
      ['restDays', 'Sunday'],
    ])
    await says(page, 'Norway')
    const day = addDays(today(), 30)
    const calendar = file('norway.ics')
    writeFileSync(
      calendar,
      `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:${day.replaceAll('-', '')}\r\nSUMMARY:Constitution Day\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`,
    )
    await look(page, 'ical', 'holidays')
    await enter(page, 'import-days')
    await chooseFiles(page, 'input[data-test="import-file"]', calendar)
    await says(page, '1 rows (iCalendar, UTF-8): 1 good')
    await enter(page, 'import-load')
    await says(page, '1 loaded')
    await page.keyboard.press('Escape')
    await says(page, 'Constitution Day')
    expect((await teamCalendar({ trx: world.db })).holidays).to.include(day)
    await look(page, 'sites', 'sites')
    await add(page, [
      ['code', 'fjord'],
      ['name', 'Fjord station'],
      ['country', 'no'],
      ['zone', 'Europe/Oslo'],
      ['calendar', 'NO, Norway'],
    ])
    await says(page, 'FJORD')
    await look(page, 'opening', 'docks')
    await add(page, [
      ['code', 'pier'],
      ['name', 'Pier'],
      ['site', 'FJORD'],
      ['hours', 'whenever'],
    ])
    await says(page, 'Write opening hours as')
    await fill(page, 'field-hours', 'Mo-Fr 08:00-15:00')
    await enter(page, 'save-entry')
    await says(page, 'PIER')
    await look(page, 'exchange', 'rates')
    await enter(page, 'new-rate')
    await fill(page, 'rate', '0.85')
    await enter(page, 'save-organisation')
    await page.waitForFunction(() => document.querySelector('[data-test="rates"]')?.textContent?.includes('0.85'))
    const kept = await world.db('setupEntries').whereIn('code', ['NO', 'FJORD', 'PIER']).orderBy('code').select('code')
    expect(kept.map(row => row.code)).to.deep.equal(['FJORD', 'NO', 'PIER'])
  })

  it('keeps what is used, and says so', async () => {
    const page = await open('Wren', '/setup/sites')
    await press(page, 'entry-FJORD')
    await says(page, '1 others point to it')
    await press(page, 'close-entry')
    await says(page, 'closed')
  })

  it('of two who change the house, the second is told and writes over nothing', async () => {
    const page = await open('Wren', '/setup/house')
    await page.waitForFunction(
      () => (document.querySelector<HTMLInputElement>('[data-test="house-name"]')?.value ?? '') !== '',
    )
    const wren = await world.as('Wren')
    const { base: _, ...house } = await wren.do(ReadHouse)
    await wren.do(SaveHouse, { body: { ...house, street: 'Elsewhere 1' } })
    await fill(page, 'house-name', 'Another house')
    await press(page, 'save-house')
    await says(page, 'Somebody changed this meanwhile')
    expect((await wren.do(ReadHouse)).name).to.equal(house.name)
  })

  it('gives the house its sign, offers another unit, and has the day’s rates fetched', async () => {
    const page = await open('Wren', '/setup')
    await look(page, 'letterhead', 'house')
    await page.waitForSelector('[data-test="logo-file"]')
    await chooseFiles(page, '[data-test="logo-file"]', 'web/public/mark-48.png')
    await page.waitForSelector('[data-test="logo"]')
    await look(page, 'dozen', 'units')
    await add(page, [['code', 'dozen']])
    await says(page, 'dozen (DZN)')
    await look(page, 'reference', 'rates')
    await press(page, 'fetch-rates')
    await says(page, 'They are being fetched')
    await JOBS.fetchRates!(world.jobs, { id: 'asked' })
    await page.waitForFunction(() =>
      /\d+ new/.test(document.querySelector('[data-test="rates-last"]')?.textContent ?? ''),
    )
    await look(page, 'sender', 'mails')
    await fill(page, 'sender-reply', 'not an address')
    await press(page, 'save-sender')
    await page.waitForSelector('[data-place="replyTo"].is-error, [data-place="replyTo"] .el-form-item__error')
    await fill(page, 'sender-reply', 'buying@saltmere.example')
    await press(page, 'save-sender')
    await says(page, 'The next mail comes so')
  })

  it('hangs a category where it is dragged, and refuses a circle', async () => {
    const page = await open('Wren', '/setup/categories')
    /** Drags one category onto another, as a hand does. */
    const drag = (what: string, onto: string): Promise<void> =>
      page.evaluate(
        async (from, to) => {
          const data = new DataTransfer()
          const [source, target] = [from, to].map(name =>
            document.querySelector(`[data-test="branch-${name}"]`)!.closest('.el-tree-node')!,
          ) as [Element, Element]
          const box = target.querySelector('.el-tree-node__content')!.getBoundingClientRect()
          const where = {
            bubbles: true,
            cancelable: true,
            dataTransfer: data,
            clientX: box.left + 40,
            clientY: box.top + box.height / 2,
          }
          source.dispatchEvent(new DragEvent('dragstart', where))
          target.dispatchEvent(new DragEvent('dragover', where))
          await new Promise(resolve => setTimeout(resolve, 50))
          source.dispatchEvent(new DragEvent('dragend', where))
        },
        what,
        onto,
      )
    const parentOf = async (name: string): Promise<string | null> =>
      ((await world.db('supplyCategories').where({ name }).first('parent')) as { parent: string | null }).parent
    await page.waitForSelector('[data-test="branch-Feed"]')
    await drag('Feed', 'Visitors')
    await says(page, 'Feed hangs under Visitors')
    expect(await parentOf('Feed')).to.equal('Visitors')
    await drag('Visitors', 'Feed')
    await new Promise(resolve => setTimeout(resolve, 300))
    expect(await parentOf('Visitors'), 'not under itself').to.equal(null)
    await press(page, 'category-Feed')
    await pick(page, 'category-parent', 'Living stock')
    await press(page, 'save-category')
    await page.waitForFunction(() => document.querySelector('.el-dialog') === null)
    expect(await parentOf('Feed'), 'without a mouse').to.equal('Living stock')
  })

  it('sets what happens where budgets do not suffice, for several together', async () => {
    const page = await open('Wren', '/setup')
    await look(page, 'fiscal', 'budgetYears')
    await page.waitForSelector('[data-test="budget-years"]')
    await page.click('[data-test="choose-LS-210-6020"]')
    await page.click('[data-test="choose-LS-210-6210"]')
    await press(page, 'set-checks')
    await pick(page, 'check-level', 'stops')
    await fill(page, 'check-tolerance', '3')
    await press(page, 'save-checks')
    await page.waitForFunction(() =>
      [...document.querySelectorAll('tr')].some(row => /LS-210 \/ 6210[^]*stops[^]*3 %/.test(row.innerText)),
    )
  })

  it('writes a rule as a sentence, tries it on the past, puts it in force by two, and says beside a request why it asks', async () => {
    const wren = await open('Wren', '/setup/rules')
    await says(wren, 'Exhibit safety, 5 000 to 9 000')
    await press(wren, 'begin-rules')
    await press(wren, 'new-rule')
    await fill(wren, 'rule-name', 'Panels to the director')
    await press(wren, 'add-condition')
    await pick(wren, 'condition-0-values', 'LS-210')
    await fill(wren, 'rule-from', '100')
    await pick(wren, 'rule-who', 'somebody with a role')
    await pick(wren, 'rule-role', 'director')
    await pick(wren, 'rule-stage', '5')
    expect(await textOf(wren, 'rule-sentence')).to.match(
      /requests with cost centre LS-210 .* where the whole amount is 100.* ask one of: director/i,
    )
    await press(wren, 'keep-rule')
    await wren.waitForSelector('[data-test="rule-Panels to the director"]')
    await press(wren, 'try-rules')
    await says(wren, 'requests would have gone another way')
    expect(await textOf(wren, 'trial')).to.include('Henrik Solvang-Abe')
    await wren.keyboard.press('Escape')
    await press(wren, 'publish-rules')
    await press(wren, 'publish-go')
    await says(wren, 'Somebody whom it asks has no open account')
    await wren.keyboard.press('Escape')
    await press(wren, 'edit-Exhibit safety, 5 000 to 9 000')
    await pick(wren, 'rule-who', 'the holder of each cost centre')
    await press(wren, 'keep-rule')
    await wren.waitForFunction(() => !document.querySelector('.tone-stop'))
    await press(wren, 'publish-rules')
    await fill(wren, 'rules-note', 'The director wants to see panels.')
    await press(wren, 'publish-go')
    await says(wren, 'holds when a second person has agreed')
    await agree(world, 'rules')

    const { id } = await draft(world, [await goodsLine(world, 'PS-1200', '10')], 'Panels again')
    const joren = await open('Joren', `/request/${id}`)
    await says(joren, 'Panels to the director')
    await joren.$$eval('.step summary', all => {
      for (const one of all) one.click()
    })
    await says(joren, 'cost centre LS-210')
  })
})
