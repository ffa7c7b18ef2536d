import { writeFileSync } from 'node:fs'
import { expect } from 'chai'
import type { Page } from 'puppeteer-core'
import { chooseFiles, fill, pick, press, says, textOf, useBrowser, WALK } from '#test-helpers/browser.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('the catalogue in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open, file } = useBrowser(() => world.address)

  /** A drawing of forty million dots, made by the browser itself. */
  async function hugePicture(page: Page): Promise<Buffer> {
    const text = await page.evaluate(async () => {
      const canvas = new OffscreenCanvas(8000, 5000)
      const pen = canvas.getContext('2d')!
      pen.fillStyle = '#0e5a63'
      pen.fillRect(0, 0, 4000, 2500)
      const blob = await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.3 })
      const bytes = new Uint8Array(await blob.arrayBuffer())
      return btoa(bytes.reduce((letters, byte) => letters + String.fromCharCode(byte), ''))
    })
    return Buffer.from(text, 'base64')
  }

  it('a buyer adds an item with a photograph and an offer, and it is found', async () => {
    const page = await open('Pilar', '/request/catalogue')
    await press(page, 'new-item')
    await fill(page, 'item-number', 'PF-1')
    await press(page, 'save-item')
    await says(page, 'Give it a name.')
    await says(page, 'Choose one of the categories')
    await fill(page, 'item-name', 'Pleated filter cartridge')
    await pick(page, 'item-category', 'Pumps')
    await press(page, 'save-item')
    await says(page, 'Nobody offers this at the moment')
    const path = file('filter.jpg')
    writeFileSync(path, await hugePicture(page))
    await chooseFiles(page, 'input[data-test="item-picture"]', path)
    await page.waitForSelector('.item-head img[src^="data:image/jpeg"]')
    const dots = await page.$eval('.item-head img', image => (image as HTMLImageElement).naturalWidth)
    expect(dots).to.equal(320)
    await press(page, 'new-offer')
    await pick(page, 'offer-supplier', 'Nordhavn')
    await fill(page, 'offer-number', 'NO-PF1')
    await fill(page, 'tier-price-0', '12,40')
    await press(page, 'save-offer')
    await says(page, 'Nordhavn Pumpeverk')
    await page.goto(`${world.address}/request/catalogue?q=pleated+cartridge`)
    await page.waitForSelector('[data-test="item-PF-1"]')
    await says(page, 'EUR 12.40')
    await page.browserContext().close()
  })

  it('a buyer takes a price list in, after seeing what is wrong with it and what it changes', async () => {
    const page = await open('Pilar', '/request/catalogue')
    await press(page, 'to-prices')
    await pick(page, 'prices-supplier', 'Seefelder')
    const bad = file('bad.csv')
    writeFileSync(
      bad,
      'supplier_item;price;currency\nSECP1200;2150;EUR\nSECP1200;2160;\nSECP1240;1,500;\nSECP1220;99;USD\n',
    )
    await chooseFiles(page, 'input[data-test="price-list"]', bad)
    await says(page, 'Rows that cannot be taken')
    const faults = await textOf(page, 'price-faults')
    expect(faults).to.include('The same stands in row 2 already.')
    expect(faults).to.include('could be 1500 / 1.500')
    expect(faults).to.include('The list says USD, the offer is in EUR.')
    const good = file('good.csv')
    writeFileSync(good, 'supplier_item;price\nSECP1200;2150.00\nSEXX;12.00\n')
    await chooseFiles(page, 'input[data-test="price-list"]', good)
    await says(page, 'not among our offers')
    expect((await textOf(page, 'differences')).replace(/\s+/g, ' ')).to.match(
      /2 085\.00 2 150\.00 EUR pcs \+3\.1 dearer/,
    )
    await fill(page, 'prices-reason', 'Their list of January')
    await press(page, 'take-prices')
    expect(await textOf(page, 'prices-done')).to.equal('New prices of 1 offers hold from today.')
    await page.goto(`${world.address}/request/catalogue?q=CP-1200`)
    await press(page, 'item-CP-1200')
    await press(page, 'prices-SECP1200')
    const history = (await textOf(page, 'price-history')).replace(/\s+/g, ' ')
    expect(history).to.match(
      /in force 2 150\.00 the supplier’s price list Pilar Quenneville, just now Their list of January/,
    )
    expect(history).to.include('2 085.00')
    await page.browserContext().close()
  })

  it('a steward makes a role of the house’s own and sees who may what', async () => {
    const page = await open('Wren', '/setup/roles')
    await press(page, 'new-role')
    await fill(page, 'role-name', 'Dock lead')
    await press(page, 'right-order.read')
    await press(page, 'save-role')
    await page.waitForSelector('[data-test="role-Dock lead"]')
    await press(page, 'role-steward')
    await press(page, 'right-setup.write')
    await press(page, 'save-role')
    await says(page, 'Nobody could change Setup any more.')
    await page.browserContext().close()
  })
})
