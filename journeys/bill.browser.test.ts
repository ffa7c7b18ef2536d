import { writeFileSync } from 'node:fs'
import { expect } from 'chai'
import JSZip from 'jszip'
import { ReadInvoice } from '#contract/bill/endpoints.ts'
import { SaveBillingSettings } from '#contract/bill/settings.ts'
import { nextMonth } from '#core/calendar/months.ts'
import { lineAmount, formatAmount } from '#core/money/amount.ts'
import { vatOf } from '#demo/world.ts'
import { postUntouched } from '#server/bill/postUntouched.ts'
import { pdfmake } from '#server/formats/pdf.ts'
import { plainCii, plainInvoice } from '#test-helpers/invoices.ts'
import { goodsLine, ordered, posted, received, today } from '#test-helpers/steps.ts'
import { chooseFiles, fill, pick, press, says, textOf, useBrowser, WALK } from '#test-helpers/browser.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('bills, in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open, file } = useBrowser(() => world.address)
  const kept = (name: string, bytes: string | Buffer): string => (writeFileSync(file(name), bytes), file(name))

  it('forty at once: the clean ones post untouched, each other one says what stops it and who can clear it; one is cleared each way', async () => {
    await (await world.as('Adaeze')).do(SaveBillingSettings, { body: { postUntouched: true, ruleSets: [], remindHours: 0, escalateHours: 0 } }) // prettier-ignore
    const buy = async (quantity: string, come: string) => {
      const order = await ordered(world, [await goodsLine(world, 'SW-1200', quantity)])
      if (come !== '0') await received(world, order, come)
      const line = (await world.db('orderLines').where({ id: order.lines[0]!.id }).first('unit', 'description'))!
      return { ...order, ...line, price: order.lines[0]!.price }
    }
    const [here, away, few] = [await buy('60', '50'), await buy('20', '0'), await buy('1', '1')]
    type Bought = typeof here
    const saying = ({ number: order, unit, price: ordered }: Bought, number: string, quantity: string, price = ordered) => ({ number, order, unit, quantity, price, orderLine: '1', issueDate: today(), vat: vatOf('salines'), net: formatAmount(lineAmount({ quantity, price, priceBase: '1', currency: 'EUR' }), 'EUR') }) // prettier-ignore
    const zip = new JSZip()
    for (let at = 1; at <= 30; at++) {
      const said = saying(here, `ZIP-${at}`, (1 + at / 100).toFixed(2))
      zip.file(`${String(at).padStart(2, '0')}.xml`, at % 2 ? plainInvoice(said) : plainCii(said))
    }
    const dearer = (Number(here.price) + 40).toFixed(2)
    const held = [saying(here, 'DEAR-1', '1.51', dearer), saying(here, 'DEAR-2', '1.52', dearer), saying(away, 'AWAY-1', '1.61'), saying(away, 'AWAY-2', '1.62'), saying(away, 'AWAY-3', '1.63'), saying(few, 'MANY-1', '1.71'), { ...saying(here, 'LOOSE-1', '1.81', '3.33'), order: '', orderLine: '', name: 'A thing that nobody knows' }] // prettier-ignore
    held.forEach((said, at) => zip.file(`held-${at}.xml`, plainInvoice(said)))
    zip.file('twice.xml', plainInvoice(saying(here, 'zip 1', '1.91'))).file('sum.xml', plainInvoice({ ...saying(here, 'SUM-1', '1.92'), net: '1.00' })).file('what.xml', '<Order/>') // prettier-ignore
    const page = await open('Leonie', '/bill')
    await press(page, 'read-invoices')
    await chooseFiles(page, '[data-test="invoice-files"] input, input[data-test="invoice-files"]', kept('all.zip', await zip.generateAsync({ type: 'nodebuffer' }))) // prettier-ignore
    await page.waitForFunction(() => document.querySelectorAll('[data-test="invoice-outcome"]').length === 40, { timeout: 120_000 }) // prettier-ignore
    expect(await textOf(page, 'invoice-summary')).to.match(/30 .*, 7 .*, 3 refused/)
    await postUntouched(world.jobs)
    const rows = await world.db('invoices').whereIn('supplierNumber', ['ZIP-1', 'ZIP-30', ...held.map(one => one.number)]).select('id', 'supplierNumber', 'state') // prettier-ignore
    const of = (number: string) => rows.find(one => one.supplierNumber === number)!
    expect(await world.db('invoices').where('supplierNumber', 'like', 'ZIP-%').where({ state: 'cleared' })).to.have.length(30) // prettier-ignore
    const leonie = await world.as('Leonie')
    const holds = async (number: string) => (await leonie.do(ReadInvoice, { params: { id: of(number).id } })).holds.filter(one => one.endedAt === null) // prettier-ignore
    const told = await Promise.all(held.map(async ({ number }) => [number, ...(await holds(number)).map(one => `${one.kind} ${one.clearers.length > 0}`)].join(' '))) // prettier-ignore
    expect(told).to.deep.equal(['DEAR-1 price true', 'DEAR-2 price true', 'AWAY-1 proof true', 'AWAY-2 proof true', 'AWAY-3 proof true', 'MANY-1 quantity true proof true', 'LOOSE-1 noOrderLine true']) // prettier-ignore

    // all that its file says is there
    await page.goto(`${world.address}/bill/${of('ZIP-30').id}`)
    await press(page, 'all-it-says')
    await says(page, 'BT-131')
    // it comes in while the sheet is open
    await page.goto(`${world.address}/bill/${of('AWAY-1').id}`)
    await page.waitForSelector('[data-test="hold"]')
    await received(world, away, '5')
    await page.waitForFunction(() => document.querySelector('[data-test="hold"]') === null)
    // accepted with a reason by whom it says
    const pilar = await open('Pilar', `/bill/${of('DEAR-1').id}`)
    await press(pilar, 'clear-hold')
    await fill(pilar, 'reason', 'The new list is in force.')
    await press(pilar, 'confirm')
    await pilar.waitForFunction(() => document.querySelector('[data-test="clear-hold"]') === null)
    // the rest is paid, the difference taken off
    await pilar.goto(`${world.address}/bill/${of('DEAR-2').id}`)
    await press(pilar, 'debit-hold')
    await fill(pilar, 'debit-reason', 'The ordered price stands.')
    await press(pilar, 'make-debit')
    await pilar.waitForFunction(() => document.querySelector('[data-test="hold"]') === null)
    await says(pilar, 'Debit note')
    // sent back
    await page.goto(`${world.address}/bill/${of('LOOSE-1').id}`)
    await press(page, 'act-reject')
    await fill(page, 'reason', 'We know no such thing.')
    await press(page, 'confirm')
    await page.waitForFunction(() => document.querySelector('[data-test="act-reject"]') === null)
    const states = await world.db('invoices').whereIn('supplierNumber', ['DEAR-1', 'DEAR-2', 'LOOSE-1']).orderBy('supplierNumber').pluck<string[]>('state') // prettier-ignore
    expect(states).to.deep.equal(['matched', 'matched', 'rejected'])
  })

  it('a paper is typed beside what it shows: its marks are taken with a click', async () => {
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '3')])
    await received(world, order)
    const net = Number(order.lines[0]!.price) * 3
    const german = (amount: number): string => amount.toFixed(2).replace('.', ',')
    const document = pdfmake().createPdf({ defaultStyle: { font: 'Roboto' }, content: [{ text: 'Facture n° PAP-77' }, `Date ${today()}, votre commande ${order.number}`, `Total ${german(net)} EUR, TVA 0`, 'IBAN DE89 3704 0044 0532 0130 00'] }) // prettier-ignore
    const page = await open('Leonie', '/bill')
    await press(page, 'enter-paper')
    await chooseFiles(page, '[data-test="paper-file"]', kept('paper.pdf', await document.getBuffer()))
    await press(page, 'mark-order')
    await says(page, 'What is open of it stands below')
    await press(page, 'mark-invoiceNumber')
    await press(page, 'mark-day')
    await page.waitForSelector('[data-test="taken"] button')
    await page.click('[data-test="taken"] button')
    await press(page, 'mark-amount')
    await page.waitForSelector('[data-test="taken"] button')
    await page.click('[data-test="taken"] button')
    await says(page, 'the paper asks for')
    await pick(page, 'vat-1', 'AE')
    await says(page, 'as on the paper')
    await press(page, 'enter-invoice')
    await says(page, 'typed from the paper')
    const made = (await world.db('invoices').where({ supplierNumber: 'PAP-77' }).first('state', 'source', 'iban', 'issueDate'))! // prettier-ignore
    expect([made.state, made.source, made.iban, made.issueDate]).to.deep.equal(['matched', 'entered', '', today()])
  })

  it('a supplier begins an invoice, goes on with it, and credits it by quantity and by price', async () => {
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '6')])
    await received(world, order, '4')
    const page = await open(`at ${order.company}`, `/supplier/orders/${order.id}`)
    await press(page, 'make-invoice')
    await says(page, 'waits for the receipt')
    await press(page, 'bill-ready')
    await fill(page, 'invoice-number', 'BEGUN-1')
    await press(page, 'keep-invoice')
    await page.waitForSelector('[data-test="invoice-draft"]')
    await press(page, 'make-invoice')
    await press(page, 'send-invoice')
    await page.waitForSelector('[data-test="invoice-made"]')
    const invoice = (await world.db('invoices').where({ supplierNumber: 'BEGUN-1' }).first('id', 'state'))!
    const [line] = await world.db('invoiceLines').where({ invoiceId: invoice.id }).select('quantity')
    expect([invoice.state, line!.quantity]).to.deep.equal(['matched', '4'])
    await posted(world, invoice.id)
    for (const [number, way, quantity, priceOff] of [
      ['CN-1', 'quantity', '1', ''],
      ['CN-2', 'price', '2', '0.50'],
    ] as const) {
      await page.goto(`${world.address}/supplier/invoices/${invoice.id}`)
      await press(page, 'write-credit')
      await pick(page, 'way-1', way === 'price' ? 'make each cheaper' : 'take off pieces')
      await fill(page, 'credit-quantity-1', quantity)
      if (priceOff) await fill(page, 'credit-price-1', priceOff)
      await fill(page, 'credit-number', number)
      await press(page, 'send-credit')
      await page.waitForSelector('[data-test="credit-said"]')
    }
    const notes = await world.db('creditNotes').where({ invoiceId: invoice.id }).orderBy('supplierNumber').select('supplierNumber', 'state') // prettier-ignore
    expect(notes.map(one => `${one.supplierNumber} ${one.state}`)).to.deep.equal(['CN-1 waiting', 'CN-2 waiting'])
  })

  it('months are closed one after the other, and say that they re-add', async () => {
    const page = await open('Adaeze', '/bill/journal')
    const { rows } = await world.db.raw<{ rows: { month: string }[] }>(`select to_char(min(at) at time zone 'Europe/Amsterdam', 'YYYY-MM') as month from budget_entries`) // prettier-ignore
    const last = today().slice(0, 7)
    const shown = (await page.$$eval('[data-test^="month-"]', all => all.map(one => one.getAttribute('data-test')!.slice(6)))).sort() // prettier-ignore
    // those before what the page offers are closed by themselves
    for (let month = rows[0]!.month; month < last; month = nextMonth(month)) {
      if (!shown.includes(month)) {
        await page.evaluate(async (which: string) => {
          await fetch(`/api/journal/${which}/close`, { method: 'POST', headers: { 'content-type': 'application/json', 'x-ivory-order': '1' }, body: '{}' }) // prettier-ignore
        }, month)
        continue
      }
      await press(page, `month-${month}`)
      await press(page, 'closePeriod')
      await page.waitForSelector('[data-test="reopenPeriod"]')
    }
    await says(page, 'Adaeze')
    expect((await world.db('bookPeriods').where({ state: 'closed' })).length).to.be.greaterThan(0)
  })
})
