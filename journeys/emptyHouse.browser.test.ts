import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect } from 'chai'
import type { Page } from 'puppeteer-core'
import { addDays } from '#core/calendar/days.ts'
import { inventedIban, inventedVat } from '#demo/identifiers.ts'
import { auditDatabase } from '#server/insight/audit.ts'
import { fetchBankAnswers } from '#server/pay/bankTransfer.ts'
import { firstLink } from '#server/setup/houseActs.ts'
import { chooseFiles, fill, type OurBrowser, pick, press, says, startBrowser, WALK } from '#test-helpers/browser.ts'
import { writtenOutside } from '#test-helpers/eInvoice.ts'
import { runJobs } from '#test-helpers/suppliers.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

const PASSWORD = 'nine lamps by the quay'
const TODAY = new Date().toISOString().slice(0, 10)
const YEAR = TODAY.slice(0, 4)

describe('an empty house, from nothing to the first paid invoice', function () {
  this.timeout(WALK)
  this.bail(true)
  const world = useWorld(true)
  const folder = mkdtempSync(join(tmpdir(), 'ivory-empty-'))
  let browser: OurBrowser
  const faults: string[] = []
  const pages = new Map<string, Page>()
  before(async () => {
    browser = await startBrowser()
  })
  after(async () => {
    await browser.close()
    rmSync(folder, { recursive: true, force: true })
  })

  const file = (name: string, text: string): string => {
    const path = join(folder, name)
    writeFileSync(path, text)
    return path
  }
  async function open(who: string, path: string): Promise<Page> {
    const page = pages.get(who) ?? (await browser.open())
    if (!pages.has(who)) page.on('pageerror', error => faults.push(`${who}: ${String(error)}`))
    pages.set(who, page)
    await page.goto(`${world.address}${path}`)
    return page
  }
  /** Takes a file in through its dialog: tried out, then loaded. */
  async function takeIn(page: Page, button: string, path: string, good: string): Promise<void> {
    await press(page, button)
    await chooseFiles(page, 'input[data-test="import-file"]', path)
    await says(page, good)
    await press(page, 'import-load')
    await says(page, 'loaded.')
    await page.keyboard.press('Escape')
  }
  /** Follows the link that was mailed to somebody, and chooses a password. */
  async function followLink(who: string, email: string): Promise<void> {
    const { payload } = (await world.db('outbox').whereRaw(`payload ->> 'to' = ?`, [email]).first('payload')) as {
      payload: { text: string }
    }
    const page = await open(who, /\/password\/[\w-]+/.exec(payload.text)![0])
    await fill(page, 'new-password', PASSWORD)
    await press(page, 'use-link')
    await page.waitForFunction(() => location.pathname === '/desk')
  }
  const idIn = (page: Page): string => page.url().split('/').at(-1)!.split('?')[0]!
  const atSheet = (page: Page, stage: string): Promise<unknown> =>
    page.waitForFunction(one => new RegExp(`/${one}/[0-9a-f-]{36}$`).test(location.pathname), {}, stage)

  it('says that nobody has set it up, and asks who one is by the link that was shown', async () => {
    const page = await open('Ada', '/')
    await says(page, 'Nobody has set this house up yet')
    const link = await firstLink({ trx: world.db, now: new Date().toISOString() })
    await page.goto(`${world.address}${link}`)
    for (const [field, text] of [
      ['house-name', 'Harbour Lights Museum'],
      ['house-street', 'Quay 4'],
      ['house-postal', '1000 AA'],
      ['house-city', 'Portside'],
      ['house-country', 'nl'],
      ['house-vat', inventedVat('NL', 4711)],
      ['centre-code-0', 'ops-1'],
      ['centre-name-0', 'Operations'],
      ['account-code-0', '6010'],
      ['account-name-0', 'materials'],
      ['admin-name', 'Ada Brook'],
      ['admin-email', 'ada@harbour.example'],
      ['admin-password', 'short'],
    ] as const)
      await fill(page, field, text)
    await press(page, 'set-up')
    await says(page, 'At least 12 letters')
    await fill(page, 'admin-password', PASSWORD)
    await press(page, 'set-up')
    await page.waitForFunction(() => location.pathname === '/setup')
    await page.goto(`${world.address}/setup/centres`)
    await says(page, 'nobody: requests would stall')
    await page.goto(`${world.address}${link}`)
    await says(page, 'This link does not open')
  })

  it('has people from a file, who choose their passwords by the links that are mailed to them', async () => {
    const page = await open('Ada', '/setup/people')
    const rows = [
      'name;email;roles;manager',
      'Ben Carter;ben@harbour.example;buyer|receiver|requester;ada@harbour.example',
      'Cy Dunn;cy@harbour.example;budgetHolder|invoiceClerk|requester;',
      'Di Evans;di@harbour.example;treasurer;',
      'Ed Frost;ed@harbour.example;financeController;',
    ]
    await takeIn(page, 'import-people', file('people.csv', rows.join('\n')), '4 rows (semicolon, utf-8): 4 good')
    for (const who of ['Ben', 'Cy', 'Di', 'Ed']) await followLink(who, `${who.toLowerCase()}@harbour.example`)
  })

  it('gives power over money by two people', async () => {
    const page = await open('Ada', '/setup/centres')
    await press(page, 'centre-OPS-1')
    await pick(page, 'centre-holder', 'Cy Dunn')
    await press(page, 'save-organisation')
    await says(page, 'The holder changes when a second person has agreed.')
    const ed = await open('Ed', '/desk')
    await says(ed, 'Ada Brook gives power over money: OPS-1 Operations')
    await ed.goto(`${world.address}/setup`)
    await press(ed, 'power-agree')
    await press(ed, 'confirm')
    await ed.waitForFunction(() => document.querySelector('[data-test="power"]') === null)
    await ed.goto(`${world.address}/setup/centres`)
    await says(ed, 'Cy Dunn')
    expect((await world.db('costCentres').first('holderId'))!.holderId).to.be.a('string')
  })

  it('has a budget, an account to pay from, suppliers and items from files', async () => {
    const ed = await open('Ed', '/insight')
    const budgets = `cost_centre;account;year;amount;check\nOPS-1;6010;${YEAR};20000;check\n`
    await takeIn(ed, 'import-budgets', file('budgets.csv', budgets), '1 rows (semicolon, utf-8): 1 good')
    const ada = await open('Ada', '/setup/ownAccounts')
    await press(ada, 'new-entry')
    await fill(ada, 'field-code', 'main')
    await fill(ada, 'field-name', 'Harbour Lights Museum')
    await fill(ada, 'field-iban', inventedIban('NL', 88_001))
    await pick(ada, 'field-currency', 'EUR')
    await press(ada, 'save-entry')
    await says(ada, 'MAIN')
    const ben = await open('Ben', '/source')
    const suppliers = `name;country;vat;terms_days;city;contact_name;email;iban\nLumen Works;NL;${inventedVat('NL', 7300)};14;Fennick;Lou Marsh;orders@lumen.example;${inventedIban('NL', 31338)}\n`
    await press(ben, 'import')
    await chooseFiles(ben, 'input[data-test="import-file"]', file('suppliers.csv', suppliers))
    await press(ben, 'import-try')
    await says(ben, 'starts in a moment')
    await runJobs(world)
    await says(ben, '1 rows, 1 good, 0 faults')
    await press(ben, 'import-load')
    await says(ben, 'starts in a moment')
    await runJobs(world)
    await says(ben, '1 loaded.')
    await ben.goto(`${world.address}/request/catalogue`)
    const items = 'number;name;category;unit;supplier;price\nLA-1;Ship lantern, brass;Lamps;C62;Lumen Works;120.00\n'
    await takeIn(ben, 'import', file('items.csv', items), '1 rows (semicolon, utf-8): 1 good')
    await ben.goto(`${world.address}/order`)
    const orders = `order;supplier;description;quantity;price;need_by;cost_centre;account\nB-2207;Lumen Works;Wicks, 8 mm;40;1,15;${YEAR}-12-28;OPS-1;6010\n`
    await takeIn(ben, 'import-orders', file('orders.csv', orders), '1 rows (semicolon, utf-8): 1 good')
    await ben.goto(`${world.address}/order?view=all`)
    await says(ben, 'B-2207: Wicks, 8 mm')
  })

  it('buys: a request is decided, ordered, received, billed by an e-invoice and paid', async () => {
    const ben = await open('Ben', '/request/catalogue')
    await fill(ben, 'catalogue-search', 'lantern')
    await press(ben, 'item-LA-1')
    await fill(ben, 'want', '3')
    await ben.waitForSelector('[data-test^="put-"]')
    await ben.click('[data-test^="put-"]')
    await press(ben, 'request-basket')
    await atSheet(ben, 'request')
    const requestId = idIn(ben)
    await fill(ben, 'title', 'Lanterns for the entrance')
    await press(ben, 'add-account-0')
    await pick(ben, 'account-0-0', 'OPS-1 / 6010')
    await pick(ben, 'address-0', 'Harbour Lights Museum')
    await fill(ben, 'need-by-0', `28 Dec ${YEAR}`)
    await ben.keyboard.press('Enter')
    await says(ben, 'Cy Dunn')
    await press(ben, 'act-submit')
    await says(ben, 'Waiting for Cy Dunn')

    const cy = await open('Cy', `/decide/${requestId}`)
    await says(cy, 'Waiting for you')
    await cy.keyboard.down('Control')
    await cy.keyboard.press('Enter')
    await cy.keyboard.up('Control')
    await says(cy, 'purchasing has not bought it yet')

    await ben.goto(`${world.address}/order/to-buy`)
    await ben.waitForSelector('.row .el-checkbox')
    await ben.click('.row .el-checkbox')
    await press(ben, 'draft-orders')
    await atSheet(ben, 'order')
    const orderId = idIn(ben)
    await press(ben, 'act-issue')
    await says(ben, 'no answer yet')
    await sendAll(world)
    await ben.goto(`${world.address}/receive/${orderId}`)
    await fill(ben, 'count-1', '3')
    await press(ben, 'receive-counted')
    await says(ben, 'All of it is in.')

    const { number } = (await world.db('orders').where({ id: orderId }).first('number'))!
    const xml = await writtenOutside({
      number: 'LW-0001',
      order: number,
      issueDate: TODAY,
      dueDate: addDays(TODAY, 14),
      seller: { name: 'Lumen Works', vat: inventedVat('NL', 7300), city: 'Fennick', country: 'NL' },
      lines: [
        { name: 'Ship lantern, brass', quantity: '3', unit: 'C62', price: '120.00', net: '360.00', orderLine: '1' },
      ],
      buyer: { name: 'Harbour Lights Museum', vat: inventedVat('NL', 4711) },
      freight: '0.00',
      linesTotal: '360.00',
      net: '360.00',
    })
    await cy.goto(`${world.address}/bill`)
    await press(cy, 'read-invoices')
    await chooseFiles(cy, 'input[data-test="invoice-files"]', file('lumen.xml', xml))
    await cy.waitForSelector('[data-test="invoice-outcome"] a')
    await cy.click('[data-test="invoice-outcome"] a')
    await press(cy, 'act-post')
    await says(cy, 'Posted; due on')

    const supplier = (await world.db('suppliers').first('id'))!
    const di = await open('Di', `/source/${supplier.id}`)
    await press(di, 'act-prove')
    await fill(di, 'reason', 'Called the number in their contract.')
    await press(di, 'confirm')
    await di.goto(`${world.address}/pay?list=payables`)
    await fill(di, 'due-until', `28 Dec ${YEAR}`)
    await di.keyboard.press('Enter')
    await press(di, 'propose')
    await atSheet(di, 'pay')
    const runId = idIn(di)
    const ed = await open('Ed', `/pay/${runId}`)
    await press(ed, 'act-approve')
    await says(ed, 'its file is handed to the bank next')
    await sendAll(world)
    await fetchBankAnswers(world.jobs)
    expect((await world.db('invoices').first('state'))!.state).to.equal('paid')
    await ben.goto(`${world.address}/order/${orderId}`)
    await says(ben, 'all paid')
    expect((await auditDatabase(world.db)).differences).to.deep.equal([])
  })

  it('knows no person, text or rate of the demo, and no page threw', async () => {
    expect(faults).to.deep.equal([])
    const { rows } = await world.db.raw<{ rows: { n: number }[] }>(
      `select (select count(*) from people where email not like '%@harbour.example' and email <> 'jobs@localhost')::int
        + (select count(*) from exchange_rates)::int + (select count(*) from settings where value::text ilike '%saltmere%')::int as n`,
    )
    expect(rows[0]!.n).to.equal(0)
    const page = await open('nobody', '/sign-in')
    await says(page, 'Mail address')
    expect(await page.$('[aria-label="People of the demo"]')).to.equal(null)
  })
})
