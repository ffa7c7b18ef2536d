import { expect } from 'chai'
import { KeepPreference } from '#contract/people/preferences.ts'
import type { Page } from 'puppeteer-core'
import {
  comeInAs,
  fill,
  type OurBrowser,
  pick,
  press,
  says,
  startBrowser,
  textOf,
  WALK,
} from '#test-helpers/browser.ts'
import { addDays } from '#core/calendar/days.ts'
import { goodsLine, ordered, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('lists in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  let browser: OurBrowser
  let page: Page
  const faults: string[] = []
  before(async () => {
    browser = await startBrowser()
    page = await browser.open()
    page.on('pageerror', error => faults.push(String(error)))
    await comeInAs(page, world.address, 'Pilar')
  })
  const wide = async (who: string) =>
    await (await world.as(who)).do(KeepPreference, { body: { key: 'wide', subject: 'order', value: true } })

  after(() => browser.close())

  const sentence = (): Promise<string> =>
    textOf(page, 'filter-sentence').then(text => text.replace(/\s+/g, ' ').replaceAll(' ×', ''))
  const where = (): Promise<string | null> => page.evaluate(() => new URL(location.href).searchParams.get('where'))
  const rows = (): Promise<string[]> =>
    page.$$eval('[data-test^="row-"]', all => all.map(row => (row as HTMLElement).dataset.test!.slice(4)))

  /** Chooses in a list field by the keyboard: its words, then Enter. */
  async function choose(field: string, words: string): Promise<void> {
    await fill(page, field, words)
    await page.waitForFunction(
      text => {
        const shown = [...document.querySelectorAll<HTMLElement>('.el-select-dropdown__item')].filter(
          item => item.offsetParent !== null,
        )
        return shown.length > 0 && shown.every(item => item.innerText.includes(text))
      },
      {},
      words,
    )
    await page.keyboard.press('Enter')
  }

  it('are asked in a sentence, piece by piece, and the address keeps it', async () => {
    await page.goto(`${world.address}/order?view=all`)
    await press(page, 'add-condition')
    await choose('condition-column', 'Supplier')
    await fill(page, 'condition-values', 'nord')
    await page.keyboard.press('Enter')
    await says(page, 'Supplier contains nord')
    expect(await where()).to.equal('supplier.has:nord')
    await press(page, 'add-condition')
    await choose('condition-column', 'State')
    await pick(page, 'condition-values', 'draft')
    await press(page, 'condition-or')
    await says(page, 'State is draft')
    expect(await where()).to.equal('supplier.has:nord|state.is:draft')
    const asked = await world
      .db('orders')
      .join('suppliers', 'suppliers.id', 'orders.supplierId')
      .where(query => void query.whereILike('suppliers.name', '%nord%').orWhere('orders.state', 'draft'))
      .orderBy('orders.createdAt', 'desc')
      .pluck<string[]>('orders.number')
    expect((await rows()).sort()).to.deep.equal([...asked].sort())
    await page.reload()
    await says(page, 'Supplier contains nord')
    expect((await rows()).sort(), 'the address names it').to.deep.equal([...asked].sort())
    await page.focus('[data-test="drop-condition"]')
    await page.keyboard.press('Enter')
    await page.waitForFunction(() => new URL(location.href).searchParams.get('where') === 'state.is:draft')
    // the sentence says what the rows were asked, a moment after the address
    await page.waitForFunction(
      () => !document.querySelector('[data-test="filter-sentence"]')?.textContent.includes('Supplier'),
    )
    expect(await sentence()).to.include('State is draft')
  })

  it('say what of a kept address cannot be asked any more, and show the rest', async () => {
    await page.goto(`${world.address}/order?view=all&where=colour.is:red;state.is:draft`)
    await says(page, 'left out, because it cannot be asked here: colour')
    expect((await rows()).length).to.be.above(0)
  })

  it('are ordered by their columns, one beside the other with Shift', async () => {
    await wide('Pilar')
    await page.goto(`${world.address}/order?view=all`)
    await press(page, 'order-supplier')
    await page.waitForFunction(() => new URL(location.href).searchParams.get('sort') === 'supplier')
    await page.waitForSelector('[aria-sort="ascending"]')
    await page.keyboard.down('Shift')
    await press(page, 'order-needBy')
    await press(page, 'order-needBy')
    await page.keyboard.up('Shift')
    await page.waitForFunction(() => new URL(location.href).searchParams.get('sort') === 'supplier,-needBy')
    await page.waitForSelector('[aria-sort="descending"]')
    const names = await world
      .db('orders')
      .join('suppliers', 'suppliers.id', 'orders.supplierId')
      .orderByRaw(`lower(suppliers.name), coalesce(need_by, '0001-01-01') desc, orders.id desc`)
      .limit(8)
      .pluck<string[]>('orders.number')
    await page.waitForFunction(
      first => document.querySelector<HTMLElement>('[data-test^="row-"]')?.dataset.test === `row-${first}`,
      {},
      names[0]!,
    )
    expect((await rows()).slice(0, 8)).to.deep.equal(names)
    expect(faults).to.deep.equal([])
  })

  /** Goes on with the Tab key until a marked element has the focus. */
  async function tabTo(test: string): Promise<void> {
    for (let count = 0; count < 80; count++) {
      const here = await page.evaluate(
        mark =>
          document.activeElement?.closest(`[data-test="${mark}"]`) !== null && document.activeElement !== document.body,
        test,
      )
      if (here) return
      await page.keyboard.press('Tab')
    }
    throw new Error(`The Tab key does not lead to ${test}`)
  }
  async function enter(test: string): Promise<void> {
    await page.waitForSelector(`[data-test="${test}"]:not([disabled])`, { visible: true })
    await tabTo(test)
    await page.keyboard.press('Enter')
  }
  const groups = (): Promise<string[]> =>
    page.$$eval('[data-test="group"]', all =>
      all.map(row => (row as HTMLElement).innerText.replace(/\s+/g, ' ').trim()),
    )

  it('are made a view by the keyboard alone, late by supplier with sums, shared, and opened by a colleague', async () => {
    await wide('Pilar')
    const days = `needBy.between:,${addDays(today(), -1)}`
    await page.goto(`${world.address}/order?view=all&where=${days};received.is:none,part;state.is:issued,acknowledged`)
    await page.waitForSelector('[data-test="table"]')
    await page.evaluate(() => (document.activeElement as HTMLElement).blur())
    await enter('groups')
    await page.waitForSelector('[data-test="group-by"]', { visible: true })
    await choose('group-by', 'Supplier')
    await page.waitForFunction(() => new URL(location.href).searchParams.get('group') === 'supplier')
    await page.waitForSelector('[data-test="group"]')
    const late = await world
      .db('orders')
      .whereIn('state', ['issued', 'acknowledged'])
      .whereIn('receiveExtent', ['none', 'part'])
      .where('needBy', '<', today())
      .select('supplierId', 'baseTotal')
    const shown = await groups()
    expect(shown).to.have.length(new Set(late.map(order => order.supplierId)).size)
    const total = late.reduce((sum, order) => sum + order.baseTotal, 0n)
    const totals = (await textOf(page, 'totals')).replace(/\s/g, '')
    expect(totals).to.include(`${late.length}rows`)
    expect(totals).to.include(`${String(total / 100n)}.`)
    await page.keyboard.press('Escape')
    await page.waitForSelector('[data-test="group-by"]', { hidden: true })
    // the first group is unfolded where one stands
    await page.focus('[data-test="table"]')
    await page.keyboard.press('Enter')
    await page.waitForSelector('[data-test^="row-O-"]')

    await enter('view')
    await page.waitForSelector('[data-test="keep-view"]', { visible: true })
    await enter('keep-view')
    await fill(page, 'view-name', 'Late, by supplier')
    await choose('view-people', 'Rasmus')
    await page.keyboard.press('Escape')
    await page.focus('[data-test="view-name"] input, input[data-test="view-name"]')
    await page.keyboard.press('Enter')
    await page.waitForFunction(() => new URL(location.href).searchParams.has('saved'))
    await says(page, 'Late, by supplier')
    expect(await page.$('[data-test="view-changed"]')).to.equal(null)

    const colleague = await browser.open()
    await comeInAs(colleague, world.address, 'Rasmus')
    await wide('Rasmus')
    const saved = await page.evaluate(() => new URL(location.href).searchParams.get('saved'))
    await colleague.goto(`${world.address}/order?saved=${saved}`)
    await says(colleague, 'Late, by supplier')
    await colleague.waitForSelector('[data-test="group"]')
    const seen = await colleague.$$eval('[data-test="group"]', all =>
      all.map(row => (row as HTMLElement).innerText.replace(/\s+/g, ' ').trim()),
    )
    expect(seen).to.deep.equal(shown)
    await press(colleague, 'view')
    expect(await colleague.$('[data-test="share-view"]'), 'it is not theirs to share').to.equal(null)
    await colleague.goto(`${world.address}/order?saved=${crypto.randomUUID()}`)
    await says(colleague, 'is gone, or is not shared with you')

    // what is changed and not kept is said
    await page.goto(`${world.address}/order?saved=${saved}`)
    await page.waitForSelector('[data-test="group"]')
    await press(page, 'groups')
    await press(page, 'groups-none')
    await page.waitForSelector('[data-test="view-changed"]')
    await press(page, 'reopen-view')
    await page.waitForSelector('[data-test="group"]')
    expect(await page.$('[data-test="view-changed"]')).to.equal(null)
  })

  it('lead to a Sheet where one is chased by itself, with a sentence of one’s own, and not twice', async () => {
    const { id } = await ordered(world, [await goodsLine(world, 'PS-1200', '1')], { answer: false })
    await page.goto(`${world.address}/order/${id}`)
    await press(page, 'act-chase')
    await fill(page, 'reason', 'We need it for the opening.')
    await press(page, 'confirm')
    await says(page, 'Chased')
    await page.waitForFunction(() => document.querySelector('[data-test="act-chase"]') === null)
    await press(page, 'not-now')
    await says(page, 'Give the supplier a day.')
    const mail = await world.db('outbox').where({ documentId: id }).whereRaw("key like 'chase:%'").first('payload')
    expect(JSON.stringify(mail?.payload)).to.include('We need it for the opening.')
  })

  it('let forty be chased at once, seen before, by the keyboard', async () => {
    await wide('Pilar')
    for (let count = 0; count < 34; count++)
      await ordered(world, [await goodsLine(world, 'PS-1200', '1')], { answer: false })
    await page.goto(`${world.address}/order?view=all&where=state.is:issued,acknowledged`)
    // the news of thirty-four orders may still draw the list anew
    await page.waitForFunction(() => {
      const table = document.querySelector<HTMLElement>('[data-test="table"]')
      table?.focus()
      return table !== null && document.activeElement === table
    })
    await page.keyboard.down('Control')
    await page.keyboard.press('a')
    await page.keyboard.up('Control')
    await enter('together-chase')
    await page.waitForSelector('[data-test="together-preview"]')
    const before = await world.db('outbox').whereRaw("key like 'chase:%'").distinct('documentId')
    await page.focus('[data-test="together-reason"]')
    await page.keyboard.type('Please tell us when it comes.')
    await tabTo('together-go')
    await page.keyboard.press('Enter')
    const said = await textOf(page, 'together-done')
    const done = Number(/^(\d+) done/.exec(said)?.[1])
    expect(done).to.be.at.least(40)
    const after = await world.db('outbox').whereRaw("key like 'chase:%'").distinct('documentId')
    expect(after.length - before.length).to.equal(done)
    expect(faults).to.deep.equal([])
  })
})
