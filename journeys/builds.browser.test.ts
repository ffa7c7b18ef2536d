import { expect } from 'chai'
import type { Page } from 'puppeteer-core'
import { ReadCosting } from '#contract/build/costings.ts'
import { SKID_LIST } from '#demo/skid.ts'
import { clickSteady, fill, pick, press, says, textOf, useBrowser, WALK } from '#test-helpers/browser.ts'
import { sheetOf } from '#test-helpers/events.ts'
import { useWorld } from '#test-helpers/world.ts'

/** A list as it comes out of a spreadsheet: tabs between the cells, commas in figures, a merged cell, a total. */
const PASTED = SKID_LIST.replaceAll(';', '\t')
  .replace('1\tSKID-26', '1\tSKID-27')
  .replace('3\tMG-1201\tPressure gauge 0–6 bar', '3\t\tpressure gauge 0-6 bar')

const paste = (page: Page, test: string, text: string): Promise<void> =>
  page.$eval(
    `textarea[data-test="${test}"]`,
    (field, value) => {
      const area = field as HTMLTextAreaElement
      area.value = value
      area.dispatchEvent(new Event('input', { bubbles: true }))
    },
    text,
  )
const closeDialog = async (page: Page): Promise<void> => {
  await page.keyboard.press('Escape')
  await page.waitForSelector('[data-test="part-dialog"]', { hidden: true })
}
/** The sum in the title, as a figure. */
const total = async (page: Page): Promise<number> =>
  Number(
    /, EUR ([\d\s\u00a0\u202f.]+) for/.exec(await textOf(page, 'costing-title'))![1]!.replace(/[\s\u00a0\u202f]/g, ''),
  )
const kept = (page: Page, before: string): Promise<unknown> =>
  page.waitForFunction(
    text => document.querySelector<HTMLElement>('[data-test="costing-title"]')!.innerText !== text,
    { timeout: 30_000 },
    before,
  )

describe('what a build costs, in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open } = useBrowser(() => world.address)

  it('is read from a messy list, follows the slider, loses its dominating minimum, is shared, and asks for what has no price', async () => {
    const page = await open('Joren', '/source/builds')
    await press(page, 'new-costing')
    await fill(page, 'list-sender', 'Workshop, second drawing')
    await fill(page, 'costing-name', 'Life-support skid, revision D')
    await paste(page, 'paste-list', PASTED)
    await press(page, 'read-list')
    await says(page, '74 lines on 3 levels')
    await says(page, 'Left out: row 79 (a total)')
    await press(page, 'make-costing')
    await page.waitForSelector('[data-test="cost-curve"] path')
    const id = new URL(page.url()).pathname.split('/').at(-1)!
    await says(page, '6 of 60 parts; the sum is without them.')
    // one build: two thousand seal rings for twelve
    await says(page, 'A minimum of 2000 for a need of 12')
    const one = await total(page)

    // the slider, by keys: sums follow at once, and what is left is kept
    const slider = await page.waitForSelector('[data-test="builds-slider"] .el-slider__button-wrapper')
    await slider!.focus()
    for (let more = 0; more < 7; more++) await page.keyboard.press('ArrowRight')
    await page.waitForFunction(() =>
      /for 8$/.test(document.querySelector<HTMLElement>('[data-test="costing-title"]')!.innerText.trim()),
    )
    const eight = await total(page)
    expect(eight).to.be.within(one * 3, one * 8)
    await page.waitForFunction(() => document.querySelector('[data-test="better-builds"]') !== null)
    await press(page, 'find-part')
    await page.keyboard.type('SR-1212')

    // the minimum is solved by what may take its place
    await press(page, 'part-SR-1212')
    await pick(page, 'alternate-item', 'SR-1213')
    await press(page, 'add-alternate')
    await press(page, 'take-alternate')
    await page.waitForFunction(() => !document.body.innerText.includes('A minimum of 2000'))
    await closeDialog(page)
    await page.waitForFunction(() => document.querySelector('[data-test="part-SR-1213"]') !== null)
    expect(await total(page)).to.be.below(eight - 5000)

    // a pump that is not made any more gives way to the one that took its place
    await fill(page, 'find-part', 'CP-1190')
    await press(page, 'part-CP-1190')
    await press(page, 'take-replacement')
    await says(page, '5 of 59 parts; the sum is without them.')
    await page.waitForFunction(() => document.querySelector('[data-test="take-replacement"]') === null)
    if (await page.$('[data-test="part-dialog"]')) await closeDialog(page)
    // words are offered with how alike they are
    await fill(page, 'find-part', 'gauge')
    const before = await textOf(page, 'costing-title')
    await clickSteady((await page.waitForSelector('[data-test="part-table"] .name'))!)
    await says(page, 'like words')
    await press(page, 'offered-MG-1201')
    await kept(page, before)
    await closeDialog(page)

    // other settings, held beside
    await press(page, 'said-policy')
    await pick(page, 'build-policy', 'whoever delivers first')
    await press(page, 'keep-settings')
    await says(page, 'whoever delivers first')
    await says(page, 'the cheapest of all')

    // shared: a colleague reads it and changes nothing
    await press(page, 'share-costing')
    await press(page, 'do-act')
    const link = await page.waitForSelector('[data-test="share-link"]')
    const address = await link!.evaluate(field => (field as HTMLInputElement).value)
    await press(page, 'share-done')
    const ines = await open('Ines', new URL(address).pathname)
    await says(ines, 'tried here only')
    expect(await ines.$('[data-test="share-costing"]')).to.equal(null)
    await says(page, 'read by Ines Castellane')

    // what has no price is asked for, nothing typed twice
    const rasmus = await open('Rasmus', `/source/builds/${id}`)
    await press(rasmus, 'ask-unpriced')
    await press(rasmus, 'do-act')
    await says(rasmus, 'Not sent yet')
    const event = await sheetOf(world, new URL(rasmus.url()).pathname.split('/').at(-1)!)
    expect(event.body.lines.map(line => line.description)).to.include.members([
      'Control box, welded, IP65',
      'Wiring harness, skid 26',
      'Frame, stainless, 1.8 × 0.9 m',
    ])
    expect(event.body.lines.every(line => line.quantity === '8' || line.quantity === '16')).to.equal(true)

    // what is priced is requested, a draft for each supplier
    await page.reload()
    await press(page, 'request-parts')
    await fill(page, 'act-text', 'For the fourth skid.')
    await press(page, 'do-act')
    await page.waitForFunction(() => location.pathname === '/request')
    const costing = await (await world.as('Joren')).do(ReadCosting, { params: { id } })
    expect(costing.history.map(one => one.action)).to.include.members([
      'requested',
      'quotesAsked',
      'linkOpened',
      'linesMatched',
    ])
  })
})
