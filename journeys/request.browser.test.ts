import { writeFileSync } from 'node:fs'
import { expect } from 'chai'
import type { Page } from 'puppeteer-core'
import { ReadRequisition } from '#contract/request/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { chooseFiles, fill, pick, press, says, textOf, typeDay, useBrowser, WALK } from '#test-helpers/browser.ts'
import { account, draft, figures, goodsLine, moved, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

const attach = async (page: Page, paths: readonly string[]): Promise<void> => {
  await chooseFiles(page, '[data-test="attach"]', ...paths)
}

/** So many days from now, or the last day of the year: what is needed in the next one is paid by the budgets of that. */
const thisYear = (days: number): string => [addDays(today(), days), `${today().slice(0, 4)}-12-31`].sort()[0]!

describe('asking for what is needed, in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open, file } = useBrowser(() => world.address)

  it('a sentence in the find-or-do field is a submitted request in four keystrokes more', async () => {
    const page = await open('Ines', '/desk')
    const both = async (key: 'KeyK' | 'Enter'): Promise<void> => {
      await page.keyboard.down('Control')
      await page.keyboard.press(key)
      await page.keyboard.up('Control')
    }
    await page.waitForSelector('[data-test="find"]')
    await both('KeyK')
    await page.keyboard.type(`12 x SW-1200 to Fennick by ${thisYear(20)} on AC-110/6020`)
    await says(page, 'Ask for: 12 x SW-1200')
    await says(page, '12 · Synthetic sea salt 25 kg bag, SW-1200 · Fennick Point Hatchery')
    await page.keyboard.press('Enter')
    await page.waitForSelector('[data-test="quick-ready"]')
    await page.keyboard.press('Enter')
    await says(page, 'kept ')
    await both('Enter')
    await says(page, 'Waiting for Tomas')
    await page.browserContext().close()
  })

  it('a split, over-budget request of five kinds, with a proposed supplier and two files; figures as the ledger has them', async () => {
    const [a, b] = [await account(world, 'LS-210', '6210'), await account(world, 'LS-210', '6220')]
    const before = [await figures(world, a), await figures(world, b)]
    const page = await open('Joren', '/request/new')
    await fill(page, 'title', 'Pump pit, all of it')
    await fill(page, 'quick-line', `2 x PS-1200 to Quay by ${thisYear(30)} on LS-210/6210`)
    await page.waitForSelector('[data-test="quick-ready"]')
    await page.keyboard.press('Enter')
    await says(page, 'from the catalogue, price as offered')
    await press(page, 'add-account-0')
    await pick(page, 'account-0-1', 'LS-210 / 6220')
    await fill(page, 'share-0-0', '60')
    await says(page, 'adds up')
    await press(page, 'add-goodsByAmount')
    await fill(page, 'description-1', 'Sealant and small parts')
    await fill(page, 'price-1', '250')
    await press(page, 'propose-1')
    await fill(page, 'propose-name', 'Tidepool Masonry')
    await fill(page, 'propose-country', 'NL')
    await fill(page, 'propose-contact', 'Jip Waterman')
    await fill(page, 'propose-mail', 'jip@tidepool.example')
    await fill(page, 'propose-need', 'Sealing of the pit.')
    await press(page, 'do-propose')
    await says(page, 'Tidepool Masonry is proposed')
    await press(page, 'close-propose')
    await page.waitForFunction(() => !document.querySelector('.el-overlay:not([style*="display: none"])'))
    await says(page, 'Tidepool Masonry')
    await press(page, 'add-fixedPriceWork')
    await fill(page, 'description-2', 'Sealing of the pump pit')
    await fill(page, 'price-2', '90000')
    await pick(page, 'supplier-2', 'Brightwater')
    await press(page, 'more-2')
    await press(page, 'route-askForQuotes-2')
    await press(page, 'add-workByRate')
    await fill(page, 'description-3', 'Night watch during the work')
    await fill(page, 'quantity-3', '10')
    await fill(page, 'price-3', '38,50')
    await fill(page, 'expected-3', '8')
    await pick(page, 'supplier-3', 'Nightlamp')
    await press(page, 'add-personalFee')
    await fill(page, 'description-4', 'Talk on cold-water corrosion')
    await fill(page, 'price-4', '300')
    await fill(page, 'person-4', 'Linde Kvistgaard')
    await pick(page, 'tax-4', 'self-employed')
    await pick(page, 'supplier-4', 'Linde Kvistgaard')
    const files = ['plan.txt', 'offer.txt'].map(name => file(name))
    for (const path of files) writeFileSync(path, `Sample ${path.length}`)
    await attach(page, files)
    await says(page, 'offer.txt')
    await says(page, 'would be overdrawn')
    await fill(page, 'check-reason', 'The pit leaks; the budget is moved next week.')
    await page.keyboard.down('Control')
    await page.keyboard.press('Enter')
    await page.keyboard.up('Control')
    await says(page, 'Waiting for Marit')
    await says(page, 'Joren Vaskuil: “The pit leaks; the budget is moved next week.”')
    const id = new URL(page.url()).pathname.split('/').at(-1)!
    const sheet = await (await world.as('Joren')).do(ReadRequisition, { params: { id } })
    expect(sheet.lines.map(line => line.kind)).to.deep.equal([
      'goods',
      'goodsByAmount',
      'fixedPriceWork',
      'workByRate',
      'personalFee',
    ])
    expect(sheet.attachments.map(file => file.name).sort()).to.deep.equal(['offer.txt', 'plan.txt'])
    const taken = [moved(before[0]!, await figures(world, a)), moved(before[1]!, await figures(world, b))]
    expect(taken[0]!.reserved + taken[1]!.reserved).to.equal(BigInt(Math.round(Number(sheet.total) * 100)))
    const shown = sheet.budgets.find(one => one.accountId === a)!
    const { reserved } = await figures(world, a)
    expect(shown.reserved).to.equal((Number(reserved) / 100).toFixed(2))
    await press(page, 'act-withdraw')
    await press(page, 'confirm')
    await says(page, 'Withdrawn')
    expect(
      moved(before[0]!, await figures(world, a)).reserved + moved(before[1]!, await figures(world, b)).reserved,
    ).to.equal(0n)
    await page.browserContext().close()
  })

  it('the same need is asked for again from a repeat list', async () => {
    const page = await open('Joren', '/request/lists')
    await press(page, 'list-Fittings for one skid')
    await press(page, 'use-list')
    await page.waitForSelector('[data-test="line-3"]')
    for (const index of [0, 1, 2, 3]) await (await page.$$('.line-row .el-checkbox'))[index]!.click()
    await page.waitForSelector('[data-test="bulk"]')
    await pick(page, 'bulk-account', 'SKID-26')
    const days = await page.$('[data-test="bulk"] .el-date-editor input')
    const date = new Date(`${addDays(today(), 40)}T00:00:00Z`)
    await days!.type(
      `${date.getUTCDate()} ${date.toLocaleString('en-US', { month: 'short', timeZone: 'UTC' })} ${date.getUTCFullYear()}`,
    )
    // into the field itself: a page that is drawn anew may have taken the focus elsewhere
    await days!.press('Enter')
    await press(page, 'bulk-apply')
    const requisitionId = page.url().split('/').at(-1)!
    const dated = async (): Promise<number> => (await world.db('requisitionLines').where({ requisitionId, needBy: addDays(today(), 40) }).select('id')).length // prettier-ignore
    for (let tries = 0; (await dated()) < 4 && tries < 100; tries++) await new Promise(done => setTimeout(done, 200))
    expect(await dated()).to.equal(4)
    await press(page, 'act-submit')
    await says(page, 'Waiting for Marit')
    await page.browserContext().close()
  })

  it('two windows on one draft keep what is typed in both', async () => {
    const made = await draft(world, [await goodsLine(world, 'PS-1200', '1')], 'Two windows')
    const first = await open('Joren', `/request/${made.id}`)
    const second = await open('Joren', `/request/${made.id}`)
    await second.waitForSelector('[data-test="quantity-0"]')
    // what the first one does is not heard of before something is typed here
    await second.setOfflineMode(true)
    await fill(first, 'title', 'Named in the first')
    await says(first, 'kept ')
    await fill(second, 'quantity-0', '7')
    await second.setOfflineMode(false)
    await second.waitForSelector('[data-test="merged"]')
    await says(second, 'title: taken over')
    await says(second, 'kept ')
    const sheet = await (await world.as('Joren')).do(ReadRequisition, { params: { id: made.id } })
    expect([sheet.title, sheet.lines[0]!.quantity]).to.deep.equal(['Named in the first', '7'])
    await first.browserContext().close()
    await second.browserContext().close()
  })

  it('at 390 wide: found, put into the basket, requested and submitted', async () => {
    const page = await open('Ines', '/request/catalogue', 390)
    await fill(page, 'catalogue-search', 'nitrate test')
    await page.waitForFunction(
      () => document.querySelector('.found li a')?.getAttribute('data-test') === 'item-LB-1200',
    )
    await press(page, 'item-LB-1200')
    await press(page, 'put-MALB1200')
    await says(page, 'It is in the basket.')
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).to.be.at.most(390)
    await press(page, 'request-basket')
    await typeDay(page, 'need-by-0', addDays(today(), 30))
    await press(page, 'account-0-0')
    await page.waitForFunction(() =>
      [...document.querySelectorAll<HTMLElement>('.el-select-dropdown__item')].some(item => item.offsetParent !== null),
    )
    expect(await page.evaluate(() => document.documentElement.scrollWidth), 'with the list open').to.be.at.most(390)
    await page.keyboard.press('Escape')
    await pick(page, 'account-0-0', 'RS-710 / 6110')
    await says(page, 'kept ')
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).to.be.at.most(390)
    await press(page, 'act-submit')
    await says(page, 'Waiting for Tomas')
    await page.browserContext().close()
  })

  it('a turned, re-coloured and blurred copy of an item’s picture finds it, and nothing is sent', async () => {
    const page = await open('Ines', '/request/catalogue')
    const { picture } = (await world.db('items').where({ number: 'BV-1240' }).first('picture')) as { picture: string }
    const copy = await page.evaluate(async svg => {
      const image = new Image()
      image.src = `data:image/svg+xml,${encodeURIComponent(svg.replace(/#D5E4E2|#E9DCC0|#DDE3CF|#E6D3CC|#D6DCE6|#E4DDEA/g, '#f0a0a0'))}`
      await image.decode()
      const canvas = document.createElement('canvas')
      canvas.width = canvas.height = 300
      const context = canvas.getContext('2d')!
      context.fillStyle = '#fff'
      context.fillRect(0, 0, 300, 300)
      context.filter = 'blur(2px)'
      context.translate(150, 150)
      context.rotate(0.6)
      context.drawImage(image, -100, -100, 200, 200)
      return canvas.toDataURL('image/png').split(',')[1]!
    }, picture)
    const path = file('photo.png')
    writeFileSync(path, Buffer.from(copy, 'base64'))
    const sent: string[] = []
    page.on('request', request => {
      if (request.method() !== 'GET') sent.push(request.url())
    })
    await press(page, 'by-picture')
    await chooseFiles(page, '[data-test="picture-file"]', path)
    await page.waitForSelector('[data-test="alike"] li', { timeout: 60_000 })
    const found = await page.$$eval('[data-test="alike"] li a', links =>
      links.map(link => link.getAttribute('data-test')),
    )
    expect(
      found.slice(0, 6).some(name => name!.startsWith('alike-BV-') || name!.startsWith('alike-PT-')),
      found.join(' '),
    ).to.equal(true)
    expect(sent.filter(url => !url.includes('/notices'))).to.deep.equal([])
    await page.browserContext().close()
  })

  it('items are compared, with what differs marked', async () => {
    const page = await open('Ines', '/request/catalogue?q=circulation+pump')
    await press(page, 'compare-CP-1200')
    await press(page, 'compare-CP-1240')
    await press(page, 'to-compare')
    await says(page, 'In all, with carriage')
    await press(page, 'only-different')
    expect(
      await page.$$eval('tbody tr', rows => rows.every(row => (row as HTMLElement).dataset.test === 'differs')),
    ).to.equal(true)
    await page.browserContext().close()
  })

  it('purchasing asks, the requester answers, and the line goes on', async () => {
    const pilar = await open('Pilar', '/order/to-buy')
    await pilar.waitForSelector('[data-test^="row-R-"]')
    await fill(pilar, 'list-search', 'Badge sheet')
    await pilar.waitForFunction(() => document.querySelectorAll('[data-test^="row-R-"]').length === 1)
    await (await pilar.$('.row .el-checkbox'))!.click()
    await press(pilar, 'pool-ask')
    await fill(pilar, 'reason', 'Round corners or square ones?')
    await press(pilar, 'confirm')
    await says(pilar, 'waits for an')
    const { requisitionId } = (await world
      .db('requisitionLines')
      .where({ description: 'Badge sheet', asked: true })
      .first('requisitionId')) as { requisitionId: string }
    const ines = await open('Ines', `/request/${requisitionId}`)
    await says(ines, 'Pilar Quenneville waits for your answer')
    await fill(ines, 'answer', 'Round ones.')
    await press(ines, 'send-answer')
    await says(ines, '“Round ones.”')
    expect(await textOf(ines, 'state')).to.not.include('Paused')
    await pilar.browserContext().close()
    await ines.browserContext().close()
  })
})
