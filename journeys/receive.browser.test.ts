import { join } from 'node:path'
import { expect } from 'chai'
import { ReadDelivery, Receive } from '#contract/receive/endpoints.ts'
import { SaveDespatch } from '#contract/receive/despatch.ts'
import { ROOT } from '#scripts/cluster.ts'
import { addDays } from '#core/calendar/days.ts'
import { account, billed, goodsLine, ordered, PLACE, posted, today } from '#test-helpers/steps.ts'
import { playScans, readScans } from '#stand-ins/scanner.ts'
import { chooseFiles, fill, pick, press, says, useBrowser, WALK } from '#test-helpers/browser.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('receiving, in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open } = useBrowser(() => world.address)

  it('five pieces: announced, three counted at a desk with tags, two on a handheld without network, once in the books; two go back with a debit note', async () => {
    await world.db('suppliers').update({ defaults: world.db.raw(`defaults || '{"debitOnReturn": "yes"}'`) as never })
    const order = await ordered(world, [await goodsLine(world, 'DV-1240', '5')])
    const sheet = async () => (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })
    const [first] = (await sheet()).lines
    // announced on the supplier's pages
    await (
      await world.as(`at ${order.company}`)
    ).do(SaveDespatch, {
      params: { id: order.id },
      body: { despatchId: null, version: 0, revision: 0, send: true, entry: { number: 'LS-9', despatchedOn: today(), arrivesOn: addDays(today(), 1), carrier: 'Norsped', tracking: 'N-9', note: '', packages: [], lines: [{ lineId: first!.id, quantity: '5', batch: '', bestBefore: null, serials: [], package: null }] } }, // prettier-ignore
    })
    const page = await open('Yuki', `/receive/${order.id}`)
    await says(page, 'It came as announced')
    // three of five at the desk, two of them with tag and serial number now
    await fill(page, 'count-1', '3')
    await press(page, 'receive-counted')
    await says(page, '1 of 3')
    for (const serial of ['D-1', 'D-2']) {
      await fill(page, 'piece-serial', serial)
      await press(page, 'piece-next')
      await page.waitForFunction((gone: string) => (document.querySelector('[data-test="piece-serial"]') as HTMLInputElement | null)?.value !== gone, {}, serial) // prettier-ignore
    }
    await press(page, 'piece-later')
    await says(page, '2 finished, 1 wait in the list of the unfinished')
    // the rest in the hand, without a network
    const dock = await open('Yuki', '/handheld/', 390)
    await dock.waitForSelector('[data-test="line"]')
    await dock.evaluate(async (place: string) => {
      const { ready } = navigator.serviceWorker
      await ready
      localStorage.setItem('place', place)
    }, PLACE)
    await says(dock, 'Saltmere Quay, Quay gate')
    await dock.evaluate(() => [...document.querySelectorAll<HTMLElement>('.places button')].find(one => one.textContent.includes('Quay gate'))!.click()) // prettier-ignore
    await says(dock, 'lines are loaded')
    await dock.setOfflineMode(true)
    // a page that is being closed has its network back for a moment: none of it is used
    await dock.evaluate(() => {
      window.fetch = () => Promise.reject(new TypeError('Failed to fetch'))
    })
    await says(dock, order.number)
    // a scan that came while the page was drawn anew is made again, as at a dock
    for (let tries = 0; tries < 4 && !(await dock.$('[data-test="card"]')); tries++) {
      await dock.focus('[data-test="find"] input, input[data-test="find"]')
      await playScans(readScans(order.number), dock.keyboard)
      await dock.waitForSelector('[data-test="card"]', { timeout: 5_000 }).catch(() => undefined)
    }
    await dock.waitForSelector('[data-test="card"]')
    await fill(dock, 'serial', 'D-4')
    await press(dock, 'next-piece')
    await fill(dock, 'serial', 'D-5')
    await chooseFiles(dock, '[data-test="photo"]', join(ROOT, 'docs', 'screenshots', 'handheld.png'))
    await says(dock, '1 photos')
    await press(dock, 'count')
    await says(dock, '1 not sent')
    const context = dock.browserContext()
    await dock.close()
    // closed and opened again, still without a network: nothing is lost
    const again = await context.newPage()
    await again.setOfflineMode(true)
    // a page that is opened anew can have its network for a moment before the browser takes it: none of it is used until the line is back
    await again.evaluateOnNewDocument(() => {
      const real = window.fetch.bind(window)
      window.fetch = (...asked) => Reflect.get(window, 'lineIsBack') === true ? real(...asked) : Promise.reject(new TypeError('Failed to fetch')) // prettier-ignore
    })
    await again.goto(`${world.address}/handheld/`)
    await says(again, '1 not sent')
    expect((await sheet()).lines[0]!.done).to.equal('3')
    // the line is back, and the first answer is lost
    await again.evaluate(() => {
      const real = window.fetch.bind(window)
      let lost = false
      window.fetch = async (...asked: Parameters<typeof fetch>) => {
        const answer = await real(...asked)
        if (String(asked[0]).includes('/handheld/acts') && !lost) {
          lost = true
          throw new TypeError('Failed to fetch')
        }
        return answer
      }
    })
    await again.setOfflineMode(false)
    await again.evaluate(() => {
      Reflect.set(window, 'lineIsBack', true)
      window.dispatchEvent(new Event('online'))
    })
    await again.waitForFunction(() => document.body.textContent.includes('counted G-'), { timeout: 60_000 })
    const after = await sheet()
    expect([after.lines[0]!.done, after.receipts.length]).to.deep.equal(['5', 2])
    for (let tries = 0; (await sheet()).attachments.length === 0 && tries < 50; tries++) await new Promise(resolve => setTimeout(resolve, 200)) // prettier-ignore
    expect((await sheet()).attachments.map(one => one.name)).to.deep.equal(['handheld.png'])
    expect(after.receipts.map(one => one.source).sort()).to.deep.equal(['desk', 'handheld'])
    await again.close()
    // billed and posted; two pieces go back
    await posted(world, (await billed(world, order, { quantity: '5' })).id)
    await page.goto(`${world.address}/receive/${order.id}`)
    await press(page, 'return')
    await pick(page, 'return-pieces-1', 'D-1')
    await pick(page, 'return-pieces-1', 'D-2')
    await fill(page, 'return-reason', 'The hoses leak.')
    await press(page, 'send-return')
    await says(page, 'Debit note DN-')
    expect((await sheet()).lines[0]!.open).to.equal('2')
  })

  it('a bill of work makes the report: refused, told anew, accepted in part; the bill waits for the rest', async () => {
    const goods = await goodsLine(world, 'PS-1200', '1')
    const split = [{ accountId: await account(world, 'LS-210', '6220'), share: '1' }]
    const order = await ordered(world, [{ ...goods, kind: 'workByRate', itemId: null, offerId: null, description: 'Welding hours', quantity: '10', unit: 'HUR', price: '70', priceBase: '1', splits: split } as never]) // prettier-ignore
    await world.db('orderLines').where({ orderId: order.id }).update({ proof: 'billFirst' })
    const invoice = await billed(world, order, { quantity: '10' })
    expect(invoice.state).to.equal('onHold')
    const page = await open('Joren', `/receive/${order.id}`)
    await says(page, 'The invoice makes the report')
    const { number } = (await world.db('workReports').where({ orderId: order.id }).first('number')) as {
      number: string
    }
    await press(page, `refuse-${number}`)
    await fill(page, 'reason', 'Nobody was here on Friday.')
    await press(page, 'confirm')
    await says(page, 'refused')
    const supplier = await open(`at ${order.company}`, `/supplier/orders/${order.id}`)
    await press(supplier, `again-${number}`)
    await fill(supplier, 'report-quantity', '10')
    await press(supplier, 'send-report')
    await says(supplier, 'waits to be accepted')
    await page.reload()
    await press(page, `accept-${number}`)
    await fill(page, 'accepted', '6')
    await fill(page, 'reason', 'Four hours were for the other hall.')
    await press(page, 'confirm')
    await says(page, 'accepted in part: 6')
    expect((await world.db('invoices').where({ id: invoice.id }).first('state'))!.state).to.equal('onHold')
  })

  it('flanges are measured and taken in part; whoever asked for them says from the mail that one is damaged; the buyer settles it', async () => {
    const goods = await goodsLine(world, 'PT-1260', '3')
    const order = await ordered(world, [goods])
    await (await world.as('Yuki')).do(Receive, { params: { id: order.id }, body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity: '3' }] } }) // prettier-ignore
    const page = await open('Yuki', `/receive/${order.id}`)
    await page.waitForSelector('[data-test="inspection"]')
    await page.evaluate(() => document.querySelector<HTMLElement>('[data-test="inspection"]')!.click())
    await says(page, 'look at 3, of which 0 may fail')
    for (const [row, bore] of ['90', '90.1', '92'].entries()) await fill(page, `reading-${row}-0`, bore)
    await says(page, '1 failed, 0 may: it does not pass.')
    await fill(page, 'rejected', '1')
    await press(page, 'conclude')
    await says(page, 'Say why not all is taken as it is.')
    await fill(page, 'finding-reason', 'One is too wide.')
    await press(page, 'conclude')
    await says(page, 'Taken: 2. Not taken, and to go back: 1.')
    const { text } = (await world.db.raw<{ rows: [{ text: string }] }>(`select payload->>'text' as text from outbox where document_id = ? and key like 'arrival:%'`, [order.id])).rows[0] // prettier-ignore
    await page.setViewport({ width: 390, height: 844 })
    await page.goto(`${world.address}${/\/arrived\/[\w-]+/.exec(text)![0]}`)
    await press(page, 'arrival-damaged')
    await fill(page, 'arrival-note', 'The second one is cracked.')
    await press(page, 'arrival-go')
    await says(page, 'Thank you. It is kept.')
    await page.reload()
    await says(page, 'link')
    const buyer = await open('Pilar', `/receive/${order.id}`)
    await says(buyer, 'The second one is cracked.')
    await press(buyer, 'settle-arrival')
    await fill(buyer, 'reason', 'It goes back with the other one.')
    await press(buyer, 'confirm')
    await says(buyer, 'settled')
  })
})
