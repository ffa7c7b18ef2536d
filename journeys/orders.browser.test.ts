import { writeFileSync } from 'node:fs'
import { expect } from 'chai'
import exceljs from 'exceljs'
import { ReadAgreement } from '#contract/agreements/agreements.ts'
import { IssueOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { RespondToOrder } from '#contract/order/supplierOrders.ts'
import { ExchangeFile, MakeExchange } from '#contract/order/exchange.ts'
import { MakeWorkbook, WorkbookFile } from '#contract/order/workbook.ts'
import { addDays } from '#core/calendar/days.ts'
import { runLongJob } from '#server/jobs/longJobs.ts'
import { windDownJob } from '#server/agreements/windDownActs.ts'
import { approved, drafted, goodsLine, ordered, today } from '#test-helpers/steps.ts'
import { chooseFiles, fill, pick, press, says, typeDay, useBrowser, WALK } from '#test-helpers/browser.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('orders and agreements, in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open, file } = useBrowser(() => world.address)

  it('three needs become two drafts; an answer is taken in part and becomes the next revision; the old one takes no invoice', async () => {
    const ids: string[] = []
    for (const lines of [['PS-1200', 'PS-1220'], ['SH-1200']])
      ids.push(await approved(world, await Promise.all(lines.map(number => goodsLine(world, number, '24')))))
    const pilar = await world.as('Pilar')
    const { number } = (await world.db('requisitions').where({ id: ids[0]! }).first('number'))!
    const page = await open('Pilar', '/order/to-buy')
    await press(page, 'proposals')
    await says(page, 'Proposed orders')
    await page.waitForSelector(`[data-test="proposed-${number}"]`)
    // one line gets an order of its own, and is put together with the others again
    const before = (await page.$$('section.proposal')).length
    await pick(page, `move-${number}`, 'an order of its own')
    await page.waitForFunction((count: number) => document.querySelectorAll('section.proposal').length === count, {}, before + 1) // prettier-ignore
    await says(page, 'Put them together')
    const at = await page.$$eval('section.proposal', all => all.findIndex(one => one.textContent.includes('Put them together'))) // prettier-ignore
    await press(page, `together-${at + 1}`)
    await page.waitForFunction((count: number) => document.querySelectorAll('section.proposal').length < count, {}, before + 1) // prettier-ignore
    await press(page, 'draft-proposed')
    await page.waitForFunction(() => location.pathname.startsWith('/order') && !location.pathname.includes('proposals'))
    const orders = (await world.db('orders').join('orderLines', 'orderLines.orderId', 'orders.id').join('requisitionLines', 'requisitionLines.id', 'orderLines.requisitionLineId').whereIn('requisitionLines.requisitionId', ids).distinct('orders.id')) as { id: string }[] // prettier-ignore
    expect(orders).to.have.length(2)
    const both = await Promise.all(orders.map(one => pilar.do(ReadOrder, { params: { id: one.id } })))
    const order = both.find(one => one.lines.some(line => line.requisitionNumber === number))!
    // others that waited for the same supplier may stand on it, too
    const [first, second] = order.lines.filter(line => line.requisitionNumber === number)
    const [place, index] = [second!.position, order.lines.indexOf(second!)]
    await pilar.do(IssueOrder, { params: { id: order.id }, body: { version: order.version } })
    const later = addDays(first!.needBy!, 9)
    await (
      await world.as(`at ${order.supplier}`)
    ).do(RespondToOrder, {
      params: { id: order.id },
      body: {
        revision: 0,
        note: 'A casting broke.',
        lines: order.lines.map(line =>
          line.id === first!.id
            ? { lineId: line.id, quantity: '24', price: String(Number(line.price) * 1.05), date: later }
            : {
                lineId: line.id,
                quantity: line.id === second!.id ? '6' : line.quantity,
                price: line.price,
                date: line.needBy!,
              },
        ),
      },
    })
    await page.goto(`${world.address}/order/${order.id}`)
    await press(page, 'act-acceptAnswer')
    await press(page, `take-${place}`)
    await fill(page, 'reason', 'Six are too few.')
    await press(page, 'confirm')
    await says(page, ', revision 1')
    await says(page, 'Six are too few.')
    const now = await pilar.do(ReadOrder, { params: { id: order.id } })
    const line = (id: string) => now.lines.find(one => one.id === id)!
    expect([now.revision, now.state, line(first!.id).promisedDate, line(second!.id).quantity]).to.deep.equal([1, 'issued', later, '24']) // prettier-ignore
    // one line goes altogether
    await press(page, 'act-revise')
    await press(page, `cancel-line-${index}`)
    await says(page, 'What is cancelled is still needed')
    // what it does stands beside the order in force, and is not lost with the page
    await page.waitForSelector('[data-test="change-look"]')
    await says(page, 'Beside revision 1')
    await page.reload()
    await says(page, 'You are writing a change')
    await press(page, 'go-on-change')
    await says(page, 'What is cancelled is still needed')
    await fill(page, 'change-reason', 'We found some in the store.')
    await press(page, 'save-order')
    await says(page, ', revision 2')
    await says(page, 'cancelled')
    const supplier = await open(`at ${order.supplier}`, `/supplier/orders/${order.id}?revision=0`)
    await says(supplier, 'revision 0')
    await says(supplier, '2')
  })

  it('an order comes in two deliveries with freight and a clause; its supplier confirms each day; another installation takes it over', async () => {
    const steward = await open('Wren', '/setup/clauses')
    await press(steward, 'new-clause')
    await fill(steward, 'clause-name', 'Keep it cool')
    await fill(steward, 'clause-text-en', 'Between 2 and 8 °C all the way.')
    await press(steward, 'save-clause')
    await steward.waitForSelector('[data-test="clause-Keep it cool"]')
    const draft = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    const page = await open('Pilar', `/order/${draft.id}`)
    await press(page, 'act-edit')
    await press(page, 'schedule-0')
    await press(page, 'cut-evenly')
    await press(page, 'use-schedule')
    await says(page, '5 pcs by')
    await press(page, 'add-charge')
    await fill(page, 'charge-amount-0', '12.50')
    await press(page, 'save-order')
    await page.waitForSelector('[data-test="charge-0"]')
    await says(page, 'Keep it cool, version 1')
    await press(page, 'act-issue')
    await says(page, 'Sent to')
    const { supplier: company, number } = await (await world.as('Pilar')).do(ReadOrder, { params: { id: draft.id } })
    const supplier = await open(`at ${company}`, `/supplier/orders/${draft.id}`)
    await says(supplier, 'Keep it cool, version 1')
    await says(supplier, '12.50')
    await press(supplier, 'propose')
    await press(supplier, 'propose-1-add')
    await press(supplier, 'send-proposal')
    await says(supplier, 'waits for the buyer')
    await page.reload()
    await press(page, 'act-acceptAnswer')
    await says(page, 'deliveries')
    await press(page, 'confirm')
    await says(page, 'confirmed it in full')
    const line = (await (await world.as('Pilar')).do(ReadOrder, { params: { id: draft.id } })).lines[0]!
    expect([line.schedule.length, line.schedule[0]!.promised, line.schedule[1]!.promised! > line.schedule[1]!.date]).to.deep.equal([2, line.schedule[0]!.date, true]) // prettier-ignore
    // it leaves for another house and comes back under that house's names
    const who = await world.as('Pilar')
    const { id } = await who.do(MakeExchange, { body: { orderIds: [draft.id] } })
    const sent = JSON.parse((await who.bytes(ExchangeFile, { id }, {})).toString()) as { orders: { lines: object[] }[] }
    const lines = sent.orders[0]!.lines.map(one => ({ ...one, account: 'K-7' }))
    const path = file('orders.json')
    writeFileSync(path, JSON.stringify({ ...sent, sender: 'North house', orders: [{ ...sent.orders[0], number: `N ${number}`, lines }] })) // prettier-ignore
    await page.goto(`${world.address}/order`)
    await press(page, 'import-orders')
    await chooseFiles(page, '[data-test="take-exchange"]', path)
    await says(page, 'North house')
    await says(page, 'has to be said')
    await pick(page, 'map-account-K-7', 'LS-210 / 6210')
    await says(page, 'Take over 1 order')
    await press(page, 'load-exchange')
    await says(page, 'taken over as')
  })

  it('lines are pushed back through a workbook, with a conflict and a refusal, and a reminder is answered by its link', async () => {
    const pilar = await world.as('Pilar')
    const orders = []
    for (let at = 0; at < 3; at++) orders.push(await ordered(world, [await goodsLine(world, 'PS-1240', '4')]))
    const { id } = await pilar.do(MakeWorkbook, { body: { orderIds: orders.map(one => one.id) } })
    const book = new exceljs.Workbook()
    await book.xlsx.load((await pilar.bytes(WorkbookFile, { id }, {})) as never)
    const sheet = book.getWorksheet('Lines')!
    const headings = (sheet.getRow(1).values as string[]).map(String)
    for (const at of [2, 3]) sheet.getRow(at).getCell(headings.indexOf('Needed by')).value = addDays(today(), -2)
    sheet.getRow(4).getCell(headings.indexOf('Quantity')).value = 400
    const path = file('workbook.xlsx')
    writeFileSync(path, Buffer.from(await book.xlsx.writeBuffer()))
    const page = await open('Pilar', '/order')
    await press(page, 'workbook')
    await press(page, 'make-workbook')
    await page.waitForSelector('[data-test="workbook-file"]')
    await chooseFiles(page, '[data-test="take-workbook"]', path)
    await page.waitForSelector('[data-test="return-rows"]')
    await says(page, 'refused 1')
    await says(page, 'ready 2')
    await says(page, 'are approved and not yet ordered')
    await press(page, 'apply-return')
    await fill(page, 'reason', 'Needed sooner.')
    await press(page, 'confirm')
    await page.waitForSelector('[data-test="return-applying"]')
    const job = await world.db('longJobs').where({ kind: 'workbook' }).orderBy('createdAt', 'desc').first<{ id: string }>() // prettier-ignore
    await runLongJob(world.jobs, job!.id)
    await says(page, 'done 2')
    await page.goto(`${world.address}/order/following`)
    await press(page, `choose-${orders[0]!.number}`)
    await press(page, 'remind-chosen')
    await page.waitForSelector('[data-test="together-preview"]')
    await press(page, 'together-go')
    await page.waitForSelector('[data-test="together-done"]')
    const mail = await world.db('outbox').where({ documentId: orders[0]!.id, kind: 'mail' }).whereLike('key', 'chase:%').first<{ payload: { text: string } }>() // prettier-ignore
    const token = /\/day\/([\w-]+)/.exec(mail!.payload.text)![1]!
    const phone = await open('', `/day/${token}`, 390)
    await says(phone, 'When does it come?')
    await typeDay(phone, 'say-1', addDays(today(), 6))
    await press(phone, 'say-days')
    await says(phone, 'Thank you. The buyer knows.')
    expect((await pilar.do(ReadOrder, { params: { id: orders[0]!.id } })).lines[0]!.promisedDate).to.equal(addDays(today(), 6)) // prettier-ignore
  })

  it('an answer that was told is filled in from its file, and a list becomes drafts that somebody approves', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1240', '4')], { answer: false })
    const answer = file('answer.xml')
    writeFileSync(answer, `<OrderResponse xmlns="urn:oasis:names:specification:ubl:schema:xsd:OrderResponse-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2"><cbc:ID>1</cbc:ID><cbc:OrderResponseCode>CA</cbc:OrderResponseCode><cac:OrderReference><cbc:ID>${order.number}</cbc:ID></cac:OrderReference><cac:OrderLine><cac:LineItem><cbc:ID>1</cbc:ID><cbc:LineStatusCode>3</cbc:LineStatusCode><cbc:Quantity>3</cbc:Quantity></cac:LineItem></cac:OrderLine></OrderResponse>`) // prettier-ignore
    const page = await open('Pilar', `/order/${order.id}`)
    await press(page, 'act-recordAnswer')
    await chooseFiles(page, '[data-test="answer-file"]', answer)
    await page.waitForSelector('[data-test="answer-file-read"]')
    expect(await page.$eval('[data-test="told-quantity-1"] input, input[data-test="told-quantity-1"]', one => (one as { value?: string }).value)).to.equal('3') // prettier-ignore
    await press(page, 'record-answer')
    await says(page, 'Say who it was')
    await fill(page, 'told-who', 'Ms Berg')
    await press(page, 'record-answer')
    await page.waitForSelector('[data-test="told"]')
    await says(page, 'Ms Berg said so on')

    await page.goto(`${world.address}/order`)
    await press(page, 'workbook')
    await chooseFiles(page, '[data-test="take-list"]', new URL('../demo/new-orders.csv', import.meta.url).pathname)
    await page.waitForSelector('[data-test="list-rows"]')
    await says(page, 'There is no supplier “Nobody we know”')
    await press(page, 'leave-7')
    await says(page, 'left out 1')
    await fill(page, 'cell-6-price', '8.80')
    await page.keyboard.press('Enter')
    await says(page, 'ready 5')
    await press(page, 'make-listed')
    await says(page, 'drafted 5')
    const [made] = (await world
      .db('orders')
      .where({ direct: true, forInvoiceId: null })
      .orderBy('number')
      .select('id')) as { id: string }[]
    await page.goto(`${world.address}/order/${made!.id}`)
    await says(page, 'Ask for approval')
    await press(page, 'act-askExcess')
    await fill(page, 'reason', 'For the spring service.')
    await press(page, 'confirm')
    await page.waitForSelector('[data-test="excess"]')
  })

  it('an agreement is written, put in force, called off up to its ceiling, and wound down', async () => {
    const page = await open('Rasmus', '/source/agreements')
    await press(page, 'new-agreement')
    await pick(page, 'agreement-supplier', 'Nordhavn Pumpeverk')
    await fill(page, 'new-agreement-title', 'Pumps for two years')
    await press(page, 'make-agreement')
    await page.waitForSelector('[data-test="agreement-editor"]')
    const id = new URL(page.url()).pathname.split('/').at(-1)!
    await press(page, 'add-ceiling')
    await fill(page, 'agreement-title', 'Pumps and seals for two years')
    await says(page, 'kept ')
    await says(page, 'A ceiling is an amount, a quantity or both')
    await says(page, 'Not now: put in force')
    const amount = '[aria-label="Amount, ceiling 1"]'
    await page.waitForSelector(amount)
    await page.type(amount, '5000')
    const rasmus = await world.as('Rasmus')
    for (let turn = 0; turn < 50; turn++) {
      const { wanted, content } = await rasmus.do(ReadAgreement, { params: { id } })
      if ((wanted ?? content).ceilings[0]?.amount === '5000') break
      await new Promise(later => setTimeout(later, 200))
    }
    await page.goto(`${world.address}/source/agreements/${id}`)
    await press(page, 'act-putForward')
    await press(page, 'confirm')
    await says(page, 'In force until')
    await press(page, 'act-windDown')
    await says(page, 'Nothing hangs on it.')
    const { number } = await rasmus.do(ReadAgreement, { params: { id } })
    await fill(page, 'typed-number', number)
    await press(page, 'confirm')
    await page.waitForSelector('[data-test="wind-down"]')
    await windDownJob(world.jobs, id)
    await says(page, 'Sealed')
  })
})
