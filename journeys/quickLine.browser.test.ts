import { expect } from 'chai'
import { addDays } from '#core/calendar/days.ts'
import { clickSteady, comeInAs, fill, type OurBrowser, press, says, startBrowser, WALK } from '#test-helpers/browser.ts'
import { today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('a sentence in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  let browser: OurBrowser
  before(async () => {
    browser = await startBrowser()
  })
  after(() => browser.close())

  for (const width of [1280, 390])
    it(`becomes a line and a submitted request with two keys, ${width} wide`, async () => {
      const page = await browser.open(width)
      await comeInAs(page, world.address, 'Ines', false, '/request/new')
      await fill(page, 'quick-line', `12 x SW-1200 to Fennick by ${addDays(today(), 20)} on AC-110/6020`)
      await page.waitForSelector('[data-test="quick-ready"]')
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).to.be.at.most(width)
      await page.keyboard.press('Enter')
      await says(page, 'from the catalogue, price as offered')
      await says(page, 'kept ')
      await page.keyboard.down('Control')
      await page.keyboard.press('Enter')
      await page.keyboard.up('Control')
      await says(page, 'Waiting for Tomas')
      await page.browserContext().close()
    })

  it('offers the meanings of an unsure part, and Enter does nothing until one is chosen', async () => {
    const page = await browser.open()
    await comeInAs(page, world.address, 'Ines', false, '/request/new')
    await fill(page, 'quick-line', '2 x circulation pump to Fennick')
    await page.waitForSelector('[data-test="choose-item"]')
    await page.keyboard.press('Enter')
    await new Promise(resolve => setTimeout(resolve, 600))
    expect(await page.$('[data-test="quantity-0"]')).to.equal(null)
    await press(page, 'choose-item')
    const option = await page.waitForFunction(() =>
      [...document.querySelectorAll<HTMLElement>('.el-select-dropdown__item')].find(
        item => item.offsetParent !== null && item.innerText.includes('24 m³/h'),
      ),
    )
    await clickSteady(await option.asElement()!.toElement('li'))
    await page.waitForSelector('[data-test="quick-ready"]')
    await page.focus('[data-test="quick-line"]')
    await page.keyboard.press('Enter')
    await says(page, 'from the catalogue, price as offered')
    await press(page, 'act-cancel')
    await page.browserContext().close()
  })

  it('leads by Enter to what is still to be chosen, where a digit chooses', async () => {
    const page = await browser.open()
    await comeInAs(page, world.address, 'Ines', false, '/request/new')
    await fill(page, 'quick-line', '2 x circulation pump to Fennick')
    await page.waitForSelector('[data-test="choose-item"]')
    await page.keyboard.press('Enter')
    await page.waitForFunction(() => document.activeElement?.closest('.part')?.classList.contains('unsure'))
    await page.keyboard.press('2')
    await page.waitForSelector('[data-test="quick-ready"]')
    await page.waitForFunction(() => document.activeElement?.tagName === 'TEXTAREA')
    await page.keyboard.press('Enter')
    await says(page, 'from the catalogue, price as offered')
    await press(page, 'act-cancel')
    await page.browserContext().close()
  })

  it('lets a part be corrected where it was typed', async () => {
    const page = await browser.open()
    await comeInAs(page, world.address, 'Ines', false, '/request/new')
    await fill(page, 'quick-line', '4 x SW-1200 to Fennick')
    await page.waitForSelector('[data-test="quick-ready"]')
    await press(page, 'correct-place')
    await page.keyboard.type('to Ropeworks')
    await says(page, 'The Old Ropeworks, Store')
    await page.browserContext().close()
  })
})
