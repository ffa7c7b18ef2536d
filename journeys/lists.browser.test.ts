import { expect } from 'chai'
import type { Page } from 'puppeteer-core'
import { comeInAs, fill, type OurBrowser, pick, press, says, startBrowser, textOf } from '#test-helpers/browser.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('lists in the browser', function () {
  this.timeout(120_000)
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
    expect(await sentence()).to.not.include('Supplier')
  })

  it('say what of a kept address cannot be asked any more, and show the rest', async () => {
    await page.goto(`${world.address}/order?view=all&where=colour.is:red;state.is:draft`)
    await says(page, 'left out, because it cannot be asked here: colour')
    expect((await rows()).length).to.be.above(0)
  })

  it('are ordered by their columns, one beside the other with Shift', async () => {
    await page.evaluate(() => localStorage.setItem('wide order', '1'))
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
})
