import { writeFileSync } from 'node:fs'
import { expect } from 'chai'
import exceljs from 'exceljs'
import type { Page } from 'puppeteer-core'
import { ReadRequisition } from '#contract/request/endpoints.ts'
import { AskedPaper, ReadAsked } from '#contract/source/asked.ts'
import { ReadDay } from '#contract/source/day.ts'
import { watchEvents } from '#server/source/watchEvents.ts'
import { chooseFiles, clickSteady, fill, pick, press, says, textOf, useBrowser, WALK } from '#test-helpers/browser.ts'
import { answers, eventDraft, eventSent, inDays, kindWith, lineBody, sheetOf } from '#test-helpers/events.ts'
import { approved, goodsLine } from '#test-helpers/steps.ts'
import { runJobs } from '#test-helpers/suppliers.ts'
import { useWorld } from '#test-helpers/world.ts'

// suppliers of the demo whose people can sign in, so that their pages can be opened
const NORD = 'Nordhavn Pumpeverk'
const ORRIN = 'Orrin Valve Company'
const PELTIER = 'Peltier & Soane Acrylics'
const SEE = 'Seefelder Pumpen GmbH'

/** Types into the field of that name, as a person does. */
async function typeIn(page: Page, label: string, text: string): Promise<void> {
  const field = await page.waitForSelector(`input[aria-label="${label}"], textarea[aria-label="${label}"]`)
  await clickSteady(field!)
  await page.keyboard.down('Control')
  await page.keyboard.press('KeyA')
  await page.keyboard.up('Control')
  await page.keyboard.type(text)
}
const confirm = async (page: Page, reason = ''): Promise<void> => {
  if (reason) await fill(page, 'reason', reason)
  await press(page, 'confirm')
}

describe('asking many, in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open, file } = useBrowser(() => world.address)

  it('three requests become one quote request: answered by page, workbook and on behalf, declined, extended, compared, shared, ordered', async () => {
    const routes = { routes: ['orderNow' as const, 'askForQuotes' as const], routeReason: 'Prices rose.' }
    const requests: string[] = []
    for (const number of ['PS-1200', 'PS-1220', 'PS-1200'])
      requests.push(await approved(world, [await goodsLine(world, number, '4', routes)], 'Pumps for three skids'))
    const lines = await world.db('requisitionLines').whereIn('requisitionId', requests).select('id')
    const page = await open('Rasmus', '/order/to-buy')
    for (const { id } of lines) await clickSteady((await page.waitForSelector(`[id="line-${id}"] .margin`))!)
    await press(page, 'ask-suppliers')
    await pick(page, 'event-kind', 'Quote request')
    await fill(page, 'new-event-title', 'Pumps for three skids')
    await press(page, 'make-event')
    await says(page, 'Not sent yet')
    const id = new URL(page.url()).pathname.split('/').at(-1)!
    await press(page, 'choose-suppliers')
    await press(page, `propose-${NORD}`)
    await press(page, `propose-${SEE}`)
    await press(page, 'ask-them')
    await page.waitForSelector(`[data-test="invited-${SEE}"]`)
    await page.waitForSelector('.el-dialog', { hidden: true })
    for (const name of [ORRIN, PELTIER]) {
      await press(page, 'choose-suppliers')
      await pick(page, 'other-supplier', name)
      await press(page, 'ask-them')
      await page.waitForSelector(`[data-test="invited-${name}"]`)
      await page.waitForSelector('.el-dialog', { hidden: true })
    }
    await press(page, 'act-send')
    await confirm(page, 'It is what we need.')
    await says(page, 'Open until')

    const nord = await open(`at ${NORD}`, `/supplier/asked/${id}`)
    await press(nord, 'accept-terms')
    for (const [index, price] of ['101', '210', '99'].entries()) await typeIn(nord, `Price ${index + 1}`, price)
    await says(nord, 'draft kept')
    await press(nord, 'submit-answer')
    await nord.waitForSelector('[data-test="handed-in"]')

    const orrin = await open(`at ${ORRIN}`, `/supplier/asked/${id}`)
    await press(orrin, 'accept-terms')
    await orrin.waitForSelector('[data-test="answer-file"]')
    const client = await world.as(`at ${ORRIN}`)
    const book = new exceljs.Workbook()
    await book.xlsx.load((await client.bytes(AskedPaper, { id }, { format: 'xlsx' })) as never)
    const sheet = book.worksheets[0]!
    const column = (sheet.getRow(1).values as string[]).indexOf('Price')
    for (const [index, price] of [112, 190, 98].entries()) sheet.getRow(index + 2).getCell(column).value = price
    const path = file('answer.xlsx')
    writeFileSync(path, Buffer.from(await book.xlsx.writeBuffer()))
    await chooseFiles(orrin, 'input[type=file][accept=".xlsx,.xml"]', path)
    await press(orrin, 'take-file')
    await press(orrin, 'submit-answer')
    await orrin.waitForSelector('[data-test="handed-in"]')
    expect((await client.do(ReadAsked, { params: { id } })).answer.lines.map(line => line.price)).to.deep.equal(['112', '190', '98']) // prettier-ignore

    const peltier = await open(`at ${PELTIER}`, `/supplier/asked/${id}`)
    await press(peltier, 'decline')
    await confirm(peltier, 'We make panels, not pumps.')
    await says(peltier, 'Bevor Sie antworten')

    await press(page, `behalf-${SEE}`)
    await fill(page, 'told-who', 'Lorenz Aigner')
    await press(page, 'record-consent')
    await says(page, `On behalf of ${SEE}`)
    await press(page, 'accept-terms')
    for (const [index, price] of ['103', '205', '97.5'].entries()) await typeIn(page, `Price ${index + 1}`, price)
    await press(page, 'submit-answer')
    await says(page, 'entered on behalf')
    await says(page, 'We make panels, not pumps.')

    await press(page, 'act-extend')
    await fill(page, 'end-reason', 'One more week.')
    await press(page, 'move-end')
    await says(page, 'Given more time')
    await world
      .db('events')
      .where({ id })
      .update({ endsAt: new Date(Date.now() - 1000).toISOString() })
    await watchEvents(world.jobs)

    await page.goto(`${world.address}/source/events/${id}/compare`)
    await press(page, 'award-cheapest')
    await press(page, 'landed-1-0')
    await says(page, 'landed')
    await page.keyboard.press('Escape')
    const { suppliers, lines: compared } = await (await world.as('Rasmus')).do((await import('#contract/source/comparing.ts')).CompareEvent, { params: { id } }) // prettier-ignore
    const other = suppliers.findIndex((one, index) => one.standing === 'answered' && !compared[2]!.cells[index]!.best)
    await press(page, `share-3-${other}`)
    await fill(page, 'award-reason', 'Two makers for the third.')
    await says(page, 'above the cheapest')
    await press(page, 'propose-award')
    await page.waitForSelector('[data-test="award"]')
    for (let turn = 0; turn < 3; turn++) {
      const { steps, state } = await sheetOf(world, id)
      if (state !== 'deciding') break
      const who = steps.find(step => step.state === 'open')!.approvers[0]!.name.split(' ')[0]!
      const decider = await open(who, `/source/events/${id}`)
      await press(decider, 'act-approveAward')
      await confirm(decider)
      await says(decider, 'The award')
      await decider.close()
    }
    await page.goto(`${world.address}/source/events/${id}`)
    await press(page, 'act-placeAward')
    await press(page, 'place-award')
    await page.waitForSelector('[data-test="award-orders"]')
    expect((await sheetOf(world, id)).state).to.equal('settled')
    const seen = await (await world.as('Joren')).do(ReadRequisition, { params: { id: requests[2]! } })
    const documents = seen.thread!.steps.flatMap(step => step.documents)
    expect(documents.filter(one => one.kind === 'order')).to.have.lengthOf(2)
    expect(documents.find(one => one.kind === 'event')!.path).to.equal(null)
  })

  it('an auction with three browsers at once: bids, an end that moves, a bid taken out, a suspension, a pause, the server restarted, its end and the award', async () => {
    const kindId = await kindWith(world, { format: 'auction', partQuantity: false, alternatives: false })
    const id = await eventSent(world, kindId, [NORD, ORRIN], body => ({ opensAt: inDays(1), endsAt: null, lines: [lineBody(body.lots[0]!.id, { reference: '20' })] })) // prettier-ignore
    const day = await open('Rasmus', `/source/events/${id}/day`)
    const [nord, orrin] = [await open(`at ${NORD}`, `/supplier/asked/${id}/day`, 390), await open(`at ${ORRIN}`, `/supplier/asked/${id}/day`)] // prettier-ignore
    await press(day, 'day-start')
    await confirm(day)
    await says(day, 'is open')
    const bid = async (page: Page, price: string): Promise<void> => {
      await typeIn(page, 'Circulation pump', price)
      await press(page, 'bid')
    }
    await says(nord, 'still open')
    await bid(nord, '19')
    await nord.waitForSelector('[data-test="bid-taken"]')
    await says(day, `${NORD} leads with EUR 190.00`)
    await says(orrin, 'still open')
    await bid(orrin, '18')
    await says(day, `${ORRIN} leads with EUR 180.00`)
    await says(nord, 'You are number 2')
    // pressed twice, it is one bid
    await typeIn(nord, 'Circulation pump', '17.5')
    await nord.evaluate(() => {
      const button = document.querySelector<HTMLButtonElement>('[data-test="bid"]')!
      button.click()
      button.click()
    })
    await says(nord, 'You are number 1')
    const lead = await world.as('Rasmus')
    expect((await lead.do(ReadDay, { params: { id } })).lots[0]!.bids).to.have.lengthOf(3)
    await says(day, `${NORD} leads with EUR 175.00`)
    await day.waitForSelector(`[data-test="place-1"] [data-test="remove-${NORD}"]`)
    await press(day, `remove-${NORD}`)
    await confirm(day, 'Typed wrongly.')
    await says(day, `${ORRIN} leads with EUR 180.00`)
    await says(nord, 'You are number 2')
    await press(day, 'day-pause')
    await confirm(day, 'A question from a bidder.')
    await says(orrin, 'paused, still')
    // what was typed is still there when the server is back; standing, clock and order of bids come from the log
    await typeIn(orrin, 'Circulation pump', '17.9')
    const stood = (await lead.do(ReadDay, { params: { id } })).lots[0]!
    await world.restart()
    const stands = (await lead.do(ReadDay, { params: { id } })).lots[0]!
    expect([stands.bids, stands.standing, stands.phase, stands.left]).to.deep.equal([stood.bids, stood.standing, 'paused', stood.left]) // prettier-ignore
    await press(day, 'day-resume')
    await confirm(day)
    await says(orrin, 'still open')
    await press(orrin, 'bid')
    await says(day, `${ORRIN} leads with EUR 179.00`)
    const sheet = await open('Rasmus', `/source/events/${id}`)
    await press(sheet, `more-${ORRIN}`)
    await press(sheet, `suspend-${ORRIN}`)
    await confirm(sheet, 'Talks to the other.')
    await says(day, `${NORD} leads with EUR 190.00`)
    await says(orrin, 'You cannot answer for now')
    await press(day, 'day-end')
    await confirm(day, 'Nobody bids any more.')
    await says(day, 'is over')
    await says(nord, 'It is over')
    await day.goto(`${world.address}/source/events/${id}/compare`)
    await press(day, `all-to-${NORD}`)
    await day.waitForSelector('[data-test="award-cost"]')
    expect(await textOf(day, 'award-cost')).to.include('190.00')
    await press(day, 'propose-award')
    await day.waitForSelector('[data-test="award"]')
    expect(['deciding', 'awarded']).to.include((await sheetOf(world, id)).state)
  })

  it('bids become a plan with proof: a wish dropped for its price, wishes that contradict each other, the award, approved, ordered', async () => {
    const kind = await kindWith(world, { pricing: 'one' })
    const id = await eventSent(world, kind, [NORD, SEE, ORRIN], body => ({
      category: 'Pumps',
      lines: ['Pump', 'Valve', 'Pipe'].map(description => lineBody(body.lots[0]!.id, { description, quantity: '10' })),
    }))
    for (const [name, prices] of [
      [NORD, ['800', '260', '50']],
      [SEE, ['90', '12', '5']],
      [ORRIN, ['80', '18', '3']],
    ] as const)
      // prettier-ignore
      expect((await answers(await world.as(`at ${name}`), id, prices)).status, name).to.equal(200)
    await world
      .db('events')
      .where({ id })
      .update({ endsAt: new Date(Date.now() - 1000).toISOString() })
    await watchEvents(world.jobs)
    /** Waits until the computation that was asked for is there, and does it. */
    const computed = async (): Promise<void> => {
      while (!(await world.db('longJobs').where({ kind: 'awardPlan', state: 'waiting' }).first('id'))) await new Promise(resolve => setTimeout(resolve, 50)) // prettier-ignore
      await runJobs(world)
    }
    const page = await open('Rasmus', `/source/events/${id}/compare`)
    await press(page, 'to-plan')
    await says(page, 'Nothing is planned yet')
    await press(page, 'plan-compute')
    await computed()
    await page.waitForSelector('[data-test="plan-row-best"]')
    expect(await textOf(page, 'plan-title')).to.match(
      /^EUR\s[\d\s]+\.\d\d, and no plan can be cheaper by more than 0\.01\s%$/,
    )
    await press(page, 'plan-recheck')
    await says(page, 'come to the same cent')
    // a wish, and what it costs
    await press(page, 'add-wish')
    await typeIn(page, 'How many suppliers', '1')
    await page.keyboard.press('Tab')
    await press(page, 'keep-wish')
    await computed()
    await says(page, 'Your wishes cost EUR')
    await press(page, 'without-mostSuppliers')
    await computed()
    await page.waitForSelector('[data-test="wish-mostSuppliers"]', { hidden: true })
    await says(page, 'The last change made it')
    // wishes that contradict each other, in words; one is left out
    for (const supplier of [NORD, SEE, ORRIN]) {
      await press(page, 'add-wish')
      await pick(page, 'wish-kind', 'without a supplier')
      await pick(page, 'wish-suppliers', supplier)
      await press(page, 'keep-wish')
      await page.waitForSelector('[data-test="keep-wish"]', { hidden: true })
      await computed()
    }
    await says(page, 'These wishes contradict each other')
    await press(page, 'ease-without')
    await computed()
    await page.waitForSelector('[data-test="plan-conflict"]', { hidden: true })
    for (let left = 2; left > 0; left--) {
      await press(page, 'without-without')
      await computed()
      await page.waitForFunction(count => document.querySelectorAll('[data-test="wish-without"]').length === count, {}, left - 1) // prettier-ignore
    }
    await page.waitForFunction(() => document.querySelector('[data-test="plan-row-best"]') !== null)
    await press(page, 'award-plan')
    await says(page, 'Award plan: EUR')
    await press(page, 'confirm')
    await page.waitForFunction(() => location.pathname.split('/').length === 4)
    const { state } = await sheetOf(world, id)
    expect(['awarded', 'deciding']).to.include(state)
  })

  it('prices that are known are compared without asking: pasted with tiers, refused with the row, awarded; or made a draft again', async () => {
    const { id } = await eventDraft(world, await kindWith(world, {}), [], body => ({ title: 'Known', lines: [lineBody(body.lots[0]!.id)] })) // prettier-ignore
    const page = await open('Rasmus', `/source/events/${id}`)
    await press(page, 'act-compareKnown')
    await fill(page, 'known-pasted', `supplier;line;price;from\n${NORD};9;20;`)
    await press(page, 'known-go')
    await says(page, 'no line, or more than one, is called 9')
    await fill(
      page,
      'known-pasted',
      `supplier;line;price;from\n${NORD};1;20;\n${SEE};Circulation pump;22;\n${SEE};1;18;10`,
    )
    await press(page, 'known-go')
    await says(page, 'known prices, not asked')
    await press(page, `all-to-${SEE}`)
    await page.waitForSelector('[data-test="award-cost"]')
    expect(await textOf(page, 'award-cost')).to.include('180.00')
    await page.goto(`${world.address}/source/events/${id}`)
    await press(page, 'act-takeUp')
    await confirm(page)
    await page.waitForSelector('[data-test="act-send"]')
    expect((await sheetOf(world, id)).state).to.equal('draft')
  })
})
