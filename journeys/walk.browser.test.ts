import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect } from 'chai'
import type { Page } from 'puppeteer-core'
import { addDays } from '#core/calendar/days.ts'
import { inventedIban, inventedVat } from '#demo/identifiers.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import { fetchBankAnswers } from '#server/pay/bankTransfer.ts'
import {
  chooseFiles,
  comeInAs,
  fill,
  pick,
  press,
  says,
  startBrowser,
  textOf,
  type OurBrowser,
  typeDay,
  WALK,
} from '#test-helpers/browser.ts'
import { writtenOutside } from '#test-helpers/eInvoice.ts'
import { goodsLine, ordered, received, today } from '#test-helpers/steps.ts'
import { runJobs } from '#test-helpers/suppliers.ts'
import { sendAll, useWorld, type World } from '#test-helpers/world.ts'

let browser: OurBrowser
before(async () => {
  browser = await startBrowser()
})
after(async () => {
  await browser.close()
})

const faults: string[] = []
async function personsPage(world: World, who: string, at = false, path = '/'): Promise<Page> {
  const page = await browser.open()
  page.on('pageerror', error => faults.push(`${who}: ${String(error)}`))
  page.on('console', message => {
    if (message.type() === 'error' && !/status of (4\d\d|503)/.test(message.text()))
      faults.push(`${who}: ${message.text()}`)
  })
  await comeInAs(page, world.address, who, at, path)
  return page
}
const idIn = (page: Page): string => page.url().split('/').at(-1)!.split('?')[0]!

describe('one need, from the catalogue to the bank, by seven people and a supplier', function () {
  this.timeout(WALK)
  this.bail(true)
  const world = useWorld()
  let orderId = ''
  let requestId = ''

  it('Ines finds salt, puts it into the basket and submits the request with the budget before her eyes', async () => {
    const page = await personsPage(world, 'Ines', false, `/request/catalogue`)
    await fill(page, 'catalogue-search', 'synthtic salt')
    await press(page, 'item-SW-1200')
    await fill(page, 'want', '40')
    await press(page, 'put-SASW1200')
    await press(page, 'request-basket')
    await page.waitForFunction(() => /\/request\/[0-9a-f-]{36}$/.test(location.pathname))
    requestId = idIn(page)
    await fill(page, 'title', 'Salt for the seal pool')
    await pick(page, 'account-0-0', 'LS-210 / 6020')
    await pick(page, 'address-0', 'Saltmere Quay')
    await typeDay(page, 'need-by-0', addDays(today(), 30))
    await says(page, 'kept')
    await says(page, '924.00')
    await says(page, 'Marit Oland')
    await press(page, 'act-submit')
    await says(page, 'Waiting for Marit Oland')
    await page.browserContext().close()
  })

  it('Marit decides it on her Desk with one key', async () => {
    const page = await personsPage(world, 'Marit')
    await says(page, 'Ines Castellane asks for Salt for the seal pool')
    await page.goto(`${world.address}/decide/${requestId}`)
    await says(page, 'Waiting for you')
    await page.keyboard.down('Control')
    await page.keyboard.press('Enter')
    await page.keyboard.up('Control')
    await says(page, 'purchasing has not bought it yet')
    await page.browserContext().close()
  })

  it('Pilar makes the order and issues it', async () => {
    const page = await personsPage(world, 'Pilar', false, `/order/to-buy?q=synthetic`)
    await page.waitForSelector('.row .el-checkbox')
    await page.click('.row .el-checkbox')
    await press(page, 'draft-orders')
    await page.waitForFunction(() => /\/order\/[0-9a-f-]{36}$/.test(location.pathname))
    orderId = idIn(page)
    await says(page, 'A draft: the supplier does not know of it yet.')
    await press(page, 'act-issue')
    await says(page, 'no answer yet')
    await says(page, 'Revision 0')
    await page.browserContext().close()
    await sendAll(world)
  })

  it('Maëlle at the supplier confirms it in full', async () => {
    const page = await personsPage(world, 'Salines du Grand Pré-Vert', true, `/supplier/orders/${orderId}`)
    await press(page, 'confirm-full')
    await says(page, 'You confirmed it in full.')
    await page.browserContext().close()
  })

  it('and bills it before it has arrived: the invoice is held and says by what', async () => {
    const page = await personsPage(world, 'Salines du Grand Pré-Vert', true, `/supplier/orders/${orderId}`)
    await press(page, 'make-invoice')
    await fill(page, 'invoice-number', 'SGP-2026-118')
    await press(page, 'send-invoice')
    await says(page, 'Invoice SGP-2026-118 was taken in.')
    await page.browserContext().close()
    const clerk = await personsPage(world, 'Leonie')
    const invoice = (await world.db('invoices').where({ supplierNumber: 'SGP-2026-118' }).first('id')) as { id: string }
    await clerk.goto(`${world.address}/bill/${invoice.id}`)
    await says(clerk, 'Billed before it came in')
    await says(clerk, '40 bag, EUR 924.00')
    expect(await clerk.$('[data-test="act-post"]')).to.equal(null)
    await clerk.browserContext().close()
  })

  it('Yuki counts it in at the gate', async () => {
    const page = await personsPage(world, 'Yuki', false, `/receive/${orderId}`)
    await fill(page, 'count-1', '40')
    await press(page, 'receive-counted')
    await says(page, 'All of it is in.')
    expect(await textOf(page, 'received')).to.match(/Receipt G-\d+ is made/)
    await page.browserContext().close()
  })

  it('Leonie posts the invoice, which has cleared by itself', async () => {
    const page = await personsPage(world, 'Leonie')
    const invoice = (await world.db('invoices').where({ supplierNumber: 'SGP-2026-118' }).first('id')) as { id: string }
    await page.goto(`${world.address}/bill/${invoice.id}`)
    await says(page, 'Everything agrees with order and receipt.')
    await says(page, 'ended by itself')
    await press(page, 'act-post')
    await says(page, 'Posted; due on')
    await page.browserContext().close()
  })

  it('Casimir proposes a run and cannot approve his own', async () => {
    const page = await personsPage(world, 'Casimir', false, `/pay?list=payables`)
    await typeDay(page, 'due-until', addDays(today(), 31)).catch(() => undefined)
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur())
    await press(page, 'propose')
    await page.waitForFunction(() => /\/pay\/[0-9a-f-]{36}$/.test(location.pathname))
    await says(page, 'Not now: approve')
    await press(page, 'not-now')
    await says(page, 'Whoever proposed a run cannot approve it.')
    await page.browserContext().close()
  })

  it('Adaeze approves it; the bank pays, and the books re-add', async () => {
    const run = (await world
      .db('paymentRuns')
      .where({ state: 'proposed' })
      .orderBy('createdAt', 'desc')
      .first('id')) as { id: string }
    const page = await personsPage(world, 'Adaeze', false, `/pay/${run.id}`)
    await press(page, 'act-approve')
    await says(page, 'its file is handed to the bank next')
    await sendAll(world)
    await fetchBankAnswers(world.jobs)
    const invoice = (await world.db('invoices').where({ supplierNumber: 'SGP-2026-118' }).first('id', 'state')) as {
      id: string
      state: string
    }
    expect(invoice.state).to.equal('paid')
    await page.goto(`${world.address}/order/${orderId}`)
    await says(page, 'all paid')
    await page.goto(`${world.address}/insight?audit=1`)
    await says(page, 'The books re-add')
    expect((await auditDatabase(world.db)).differences).to.deep.equal([])
    await page.browserContext().close()
  })

  it('no page threw or was stopped by the content security policy', () => {
    expect(faults).to.deep.equal([])
  })
})

describe('a walk that starts from files only', function () {
  this.timeout(WALK)
  const world = useWorld()
  const folder = mkdtempSync(join(tmpdir(), 'ivory-files-'))
  after(() => rmSync(folder, { recursive: true, force: true }))
  const file = (name: string, text: string): string => {
    const path = join(folder, name)
    writeFileSync(path, text)
    return path
  }
  const choose = async (page: Page, test: string, path: string): Promise<void> => {
    await chooseFiles(page, `input[data-test="${test}"]`, path)
  }

  it('suppliers.csv and items.csv are tried out and loaded', async () => {
    const page = await personsPage(world, 'Pilar', false, `/source`)
    await press(page, 'import')
    await choose(
      page,
      'import-file',
      file(
        'suppliers.csv',
        `name;country;vat;terms_days;city;contact_name;email;iban\nKelpline Cordage;NL;${inventedVat('NL', 7100)};14;Fennick;Anouk Rietveld;orders@kelpline.example;${inventedIban('NL', 31337)}\n`,
      ),
    )
    await press(page, 'import-try')
    await says(page, 'starts in a moment')
    await runJobs(world)
    await says(page, '1 rows, 1 good, 0 faults')
    await press(page, 'import-load')
    await says(page, 'starts in a moment')
    await runJobs(world)
    await says(page, '1 loaded.')
    await page.goto(`${world.address}/request/catalogue`)
    await press(page, 'import')
    await choose(
      page,
      'import-file',
      file(
        'items.csv',
        'number;name;category;unit;supplier;price;tiers\nKC-1;Kelp line 8 mm;Rope;MTR;Kelpline Cordage;2,40;100=2.10\n',
      ),
    )
    await says(page, '1 rows (semicolon, utf-8): 1 good')
    await press(page, 'import-load')
    await says(page, '1 loaded.')
    await page.browserContext().close()
  })

  it('the item is asked for, decided, ordered and received, and an invoice written by another library settles it', async () => {
    const { approved, account, ordered: _unused, PLACE, ...steps } = { ...(await import('#test-helpers/steps.ts')) }
    const line = await steps.goodsLine(world, 'KC-1', '120', {
      splits: [{ accountId: await account(world, 'EX-310', '6210'), share: '1' }],
    })
    const requisitionId = await approved(world, [line], 'Line for the kelp hall')
    const { DraftOrders, IssueOrder, ReadOrder } = await import('#contract/order/endpoints.ts')
    const { Receive } = await import('#contract/receive/endpoints.ts')
    const pilar = await world.as('Pilar')
    const ids = ((await world.db('requisitionLines').where({ requisitionId }).select('id')) as { id: string }[]).map(
      row => row.id,
    )
    const { orders } = await pilar.do(DraftOrders, { body: { lineIds: ids } })
    await pilar.do(IssueOrder, { params: { id: orders[0]!.id }, body: { version: orders[0]!.version } })
    const order = await pilar.do(ReadOrder, { params: { id: orders[0]!.id } })
    await (
      await world.as('Yuki')
    ).do(Receive, {
      params: { id: order.id },
      body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity: '120' }] },
    })
    const seller = { name: 'Kelpline Cordage', vat: inventedVat('NL', 7100), city: 'Fennick', country: 'NL' }
    const xml = await writtenOutside({
      number: 'KC-0001',
      order: order.number,
      issueDate: today(),
      dueDate: addDays(today(), 14),
      seller,
      lines: [{ name: 'Kelp line 8 mm', quantity: '120', unit: 'MTR', price: '2.10', net: '252.00', orderLine: '1' }],
      freight: '12.00',
      linesTotal: '252.00',
      net: '264.00',
    })
    const page = await personsPage(world, 'Leonie', false, `/bill`)
    await press(page, 'read-invoices')
    await choose(page, 'invoice-files', file('kelpline.xml', xml))
    await page.waitForSelector('[data-test="invoice-outcome"] a')
    expect(await textOf(page, 'invoice-outcome')).to.match(/kelpline\.xml\s+I-\d+\s+agrees/)
    await page.click('[data-test="invoice-outcome"] a')
    await press(page, 'act-post')
    await says(page, 'Posted; due on')
    await page.browserContext().close()
  })
})

describe('the frame', function () {
  this.timeout(WALK)
  const world = useWorld()

  it('is reached by keys: stages, lists, find by exact number, help', async () => {
    const page = await personsPage(world, 'Pilar')
    await says(page, 'things wait for you')
    await page.keyboard.down('Alt')
    await page.keyboard.press('4')
    await page.keyboard.up('Alt')
    await page.waitForFunction(() => location.pathname === '/order')
    await page.waitForSelector('.row')
    await page.keyboard.press('j')
    await page.waitForFunction(() => /\/order\/[0-9a-f-]{36}/.test(location.pathname))
    await page.keyboard.press('Escape')
    await page.waitForFunction(() => location.pathname === '/order')
    await page.keyboard.press('?')
    await says(page, 'the first action of the Sheet')
    await page.keyboard.press('Escape')
    await new Promise(resolve => setTimeout(resolve, 400))
    await page.keyboard.down('Control')
    await page.keyboard.press('k')
    await page.keyboard.up('Control')
    await page.keyboard.type('O-4034')
    await new Promise(resolve => setTimeout(resolve, 500))
    await page.keyboard.press('Enter')
    await says(page, 'Order O-4034')
    await page.browserContext().close()
  })

  it('shows a change by somebody else without being asked to', async () => {
    const page = await personsPage(world, 'Pilar')
    const order = (await world.db('orders').where({ number: 'O-4034' }).first('id')) as { id: string }
    await page.goto(`${world.address}/order/${order.id}`)
    await says(page, 'Order O-4034')
    const { WriteNote } = await import('#contract/files/endpoints.ts')
    await (
      await world.as('Rasmus')
    ).do(WriteNote, {
      body: { documentKind: 'order', documentId: order.id, text: 'They called: the casting is done.' },
    })
    await says(page, 'They called: the casting is done.')
    await page.browserContext().close()
  })

  it('opens what is clicked while the search is still being typed, and keeps the search', async () => {
    const page = await personsPage(world, 'Leonie', false, `/bill`)
    await page.waitForSelector('.row')
    await page.type('[data-test="list-search"]', 'b')
    // at once, as a hand does: the list may be drawn anew between finding a row and clicking it
    await page.$eval('.row', row => (row as HTMLElement).click())
    await page.waitForFunction(() => /^\/bill\/[0-9a-f-]{36}$/.test(location.pathname))
    expect(new URL(page.url()).searchParams.get('q')).to.equal('b')
    await new Promise(resolve => setTimeout(resolve, 500))
    expect(page.url()).to.match(/\/bill\/[0-9a-f-]{36}\?q=b$/)
    await page.browserContext().close()
  })

  it('shows a supplier what became of its own order without being asked to', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '7')])
    const page = await personsPage(world, order.company, true, `/supplier/orders/${order.id}`)
    await says(page, order.number)
    expect(await page.evaluate(() => document.body.innerText)).to.not.include('taken in')
    await received(world, order)
    await says(page, '7 pcs taken in')
    await page.browserContext().close()
  })

  it('sends whoever is not signed in to the door and on to where they wanted; strange addresses help', async () => {
    const page = await browser.open()
    await page.goto(`${world.address}/bill`)
    await says(page, 'Saltmere Aquarium Trust')
    await press(page, 'as-Leonie')
    await page.waitForFunction(() => location.pathname === '/bill')
    await page.goto(`${world.address}/bill/11111111-1111-4111-8111-111111111111`)
    await says(page, 'There is nothing here, or it is not yours to see.')
    await page.goto(`${world.address}/no/such/place`)
    await says(page, 'There is nothing here')
    await page.browserContext().close()
  })

  it('keeps a supplier’s people to their own pages', async () => {
    const page = await personsPage(world, 'Nordhavn Pumpeverk', true, `/order`)
    await page.waitForFunction(() => location.pathname === '/supplier')
    await page.browserContext().close()
  })

  it('fits a phone where people decide, receive and answer orders', async () => {
    const page = await browser.open(390, 800)
    await comeInAs(page, world.address, 'Marit')
    const request = (await world
      .db('consentSteps as step')
      .join('consents', 'consents.id', 'step.consentId')
      .joinRaw('join people on people.id = any(step.approver_ids)')
      .where({ 'people.name': 'Marit Oland', 'step.state': 'open', 'consents.purpose': 'approval' })
      .first('documentId')) as { documentId: string }
    for (const path of ['/desk', `/decide/${request.documentId}`, '/decide']) {
      await page.goto(`${world.address}${path}`)
      await new Promise(resolve => setTimeout(resolve, 900))
      expect(await page.evaluate(() => document.documentElement.scrollWidth), path).to.be.at.most(390)
    }
    await page.goto(`${world.address}/decide/${request.documentId}`)
    await press(page, 'act-approve')
    await says(page, 'Marit Oland')
    await page.browserContext().close()
  })
})
