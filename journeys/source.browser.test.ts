import { expect } from 'chai'
import type { Page } from 'puppeteer-core'
import { addDays } from '#core/calendar/days.ts'
import { inventedIban, inventedVat } from '#demo/identifiers.ts'
import { nightly } from '#server/app/jobs.ts'
import {
  clickSteady,
  comeInAs,
  fill,
  type OurBrowser,
  pick,
  press,
  says,
  startBrowser,
  textOf,
  WALK,
} from '#test-helpers/browser.ts'
import { billed, drafted, goodsLine, ordered, posted, received, today } from '#test-helpers/steps.ts'
import { runJobs } from '#test-helpers/suppliers.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('suppliers in the browser', function () {
  this.timeout(WALK)
  const world = useWorld()
  let browser: OurBrowser
  before(async () => {
    browser = await startBrowser()
  })
  after(() => browser.close())

  const as = async (who: string, path: string, at = false): Promise<Page> => {
    const page = await browser.open()
    await comeInAs(page, world.address, who, at, path)
    return page
  }
  const idOf = async (table: string, where: Record<string, unknown>): Promise<string> =>
    ((await world.db(table).where(where).first('id')) as { id: string }).id
  const done = (page: Page): Promise<void> => page.browserContext().close()
  const choose = async (page: Page, question: string, words: string): Promise<void> => {
    const option = await page.waitForFunction(
      (key, text) =>
        [...document.querySelectorAll<HTMLElement>(`[data-test="q-${key}"] label`)].find(
          label => label.innerText.trim() === text,
        ),
      {},
      question,
      words,
    )
    await clickSteady(await option.asElement()!.toElement('label'))
  }

  it('a proposal is told from its near-duplicate, invited, answers, is asked back, approved and ordered from', async () => {
    const ines = await as('Ines', '/source')
    await press(ines, 'propose')
    await fill(ines, 'propose-name', 'Ropeline Access Riggers')
    await fill(ines, 'propose-country', 'IE')
    await ines.waitForSelector('[data-test^="candidate-"]')
    expect(await ines.$eval('.candidates', list => (list as HTMLElement).innerText)).to.include('Ropeline Access Crew')
    await fill(ines, 'propose-contact', 'Deirdre Quill')
    await fill(ines, 'propose-mail', 'deirdre@rigging.example')
    await pick(ines, 'propose-categories', 'Valves & pipe')
    await fill(ines, 'propose-need', 'Pipe hangers for the gallery.')
    await press(ines, 'do-propose')
    await says(ines, 'Ropeline Access Riggers is proposed')
    await done(ines)

    const id = await idOf('onboardings', { state: 'proposed', invitedEmail: 'deirdre@rigging.example' })
    const pilar = await as('Pilar', `/source/onboardings/${id}`)
    await says(pilar, 'Is it here already?')
    await press(pilar, 'act-invite')
    await press(pilar, 'send-invitation')
    await says(pilar, 'was invited; the link works until')
    const mail = (await world.db('outbox').where({ documentId: id }).orderBy('createdAt', 'desc').first('payload')) as {
      payload: { text: string }
    }
    const link = /\/welcome\/[\w-]+/.exec(mail.payload.text)![0]

    const deirdre = await browser.open(390, 800)
    await deirdre.goto(`${world.address}${link}`)
    await says(deirdre, 'Welcome, Ropeline Access Riggers')
    await fill(deirdre, 'register-password', 'hanger-and-hook')
    await press(deirdre, 'register')
    await says(deirdre, 'Tell us about yourselves')
    expect(await deirdre.evaluate(() => document.documentElement.scrollWidth)).to.be.at.most(390)
    await fill(deirdre, 'q-vat', inventedVat('IE', 7200))
    await says(deirdre, 'kept ')
    await deirdre.reload()
    await says(deirdre, 'Tell us about yourselves')
    expect(await deirdre.$eval('[data-test="q-vat"] input', field => (field as HTMLInputElement).value)).to.include(
      'IE',
    )
    await press(deirdre, 'submit-answers')
    await says(deirdre, 'needs an answer')
    for (const [key, text] of [
      ['street', 'Slip Road 2'],
      ['postalCode', 'Z97 Z971'],
      ['city', 'Carrowbeg'],
      ['contactPhone', '+99 555 0181'],
      ['iban', inventedIban('IE', 90_001)],
      ['holder', 'Ropeline Access Riggers'],
    ] as const)
      await fill(deirdre, `q-${key}`, text)
    await choose(deirdre, 'sells', 'Equipment')
    await choose(deirdre, 'conduct', 'yes')
    await press(deirdre, 'submit-answers')
    await says(deirdre, 'Your answers are with Saltmere Aquarium Trust')

    await pilar.reload()
    await press(pilar, 'act-askBack')
    await press(pilar, 'ask-street')
    await fill(pilar, 'question-street', 'Is this where orders go?')
    await press(pilar, 'send-asks')
    await says(pilar, '1 questions wait for Deirdre')
    await deirdre.reload()
    await says(deirdre, 'Is this where orders go?')
    await fill(deirdre, 'q-street', 'Slip Road 2, office')
    await press(deirdre, 'submit-answers')
    await says(deirdre, 'Your answers are with')
    await done(deirdre)
    await pilar.reload()
    await press(pilar, 'act-acceptAnswers')
    await says(pilar, 'Waiting for finance to decide')
    await done(pilar)

    const adaeze = await as('Adaeze', '/desk')
    await says(adaeze, 'Ropeline Access Riggers waits for your decision')
    await adaeze.goto(`${world.address}/source/onboardings/${id}`)
    await press(adaeze, 'act-decide')
    await says(adaeze, 'Approved: it can be ordered from.')
    await done(adaeze)

    const supplierId = await idOf('suppliers', { name: 'Ropeline Access Riggers', state: 'active' })
    const order = await drafted(world, [
      await goodsLine(world, 'PT-1200', '10', { itemId: null, offerId: null, supplierId, price: '2', currency: 'EUR' }),
    ])
    const buyer = await as('Pilar', `/order/${order.id}`)
    await press(buyer, 'act-issue')
    await says(buyer, 'revision 0')
    expect(await buyer.$eval('.kind', line => (line as HTMLElement).innerText)).to.include('Ropeline Access Riggers')
    await done(buyer)
  })

  it('a duplicate is found, merged and unmerged', async () => {
    const pilar = await as('Pilar', '/source/duplicates')
    await press(pilar, 'start-search')
    await says(pilar, 'starts in a moment')
    await runJobs(world)
    const [kept, merged] = (await Promise.all(
      ['Tangwald Seile GmbH', 'TANGWALD SEIL'].map(name => world.db('suppliers').where({ name }).first('id', 'number')),
    )) as { id: string; number: string }[]
    const pair = await pilar.waitForSelector(
      `[data-test="pair-${kept!.number}-${merged!.number}"], [data-test="pair-${merged!.number}-${kept!.number}"]`,
    )
    await (await pair!.$('[data-test="merge-pair"]'))!.click()
    await says(pilar, 'Two records become one')
    const first = await pilar.$eval('.heads b', name => (name as HTMLElement).innerText)
    if (first !== 'Tangwald Seile GmbH') await press(pilar, 'swap')
    await says(pilar, `Merge ${merged!.number} into ${kept!.number}`)
    await fill(pilar, 'reason', 'One firm, entered twice.')
    await press(pilar, 'do-merge')
    await pilar.waitForFunction(() => !document.body.innerText.includes('Two records become one'))
    await pilar.goto(`${world.address}/source/${merged!.id}`)
    await says(pilar, 'Merged into Tangwald Seile GmbH')
    await pilar.goto(`${world.address}/source/${kept!.id}`)
    await press(pilar, 'undo-merge')
    await fill(pilar, 'reason', 'They are two after all.')
    await press(pilar, 'confirm')
    await pilar.waitForFunction(() => !document.querySelector('[data-test="undo-merge"]'))
    await pilar.goto(`${world.address}/source/${merged!.id}`)
    await says(pilar, 'No new orders for Diving & rope access')
    await done(pilar)
  })

  it('a changed account holds a payment until another person has proved it', async () => {
    await world.db.raw(
      `update suppliers set defaults = defaults || '{"termsDays": "0"}' where name = 'Nordhavn Pumpeverk'`,
    )
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '3')])
    await received(world, order)
    await posted(world, (await billed(world, order)).id)
    const id = await idOf('suppliers', { name: 'Nordhavn Pumpeverk' })
    const rasmus = await as('Rasmus', `/source/${id}`)
    await press(rasmus, 'act-bankAccount')
    await fill(rasmus, 'iban', inventedIban('NO', 90_002))
    await press(rasmus, 'save-account')
    await says(rasmus, 'not checked yet')
    expect(await textOf(rasmus, 'account')).to.include('waits for the check')
    expect(await rasmus.$('[data-test="act-prove"]')).to.equal(null)
    await done(rasmus)
    const casimir = await as('Casimir', '/pay?list=payables&view=due')
    const { ProposeRun } = await import('#contract/pay/endpoints.ts')
    const propose = { body: { dueUntil: today(), executeOn: today() } }
    const held = await (await world.as('Casimir')).do(ProposeRun, propose)
    expect(held.left.map(reason => reason.code)).to.include('pay.unproven')
    await casimir.goto(`${world.address}/source/${id}`)
    await press(casimir, 'act-prove')
    await fill(casimir, 'reason', 'Called the number on their first order confirmation.')
    await press(casimir, 'confirm')
    await says(casimir, 'checked by Casimir')
    await done(casimir)
    expect((await (await world.as('Casimir')).do(ProposeRun, propose)).taken).to.be.at.least(1)
  })

  it('a certificate lapses overnight and stops the next order in its category', async () => {
    const id = await idOf('suppliers', { name: 'Krillfisk Samvirke' })
    await world.db('supplierCertificates').where({ supplierId: id }).update({ validTo: today() })
    const order = await drafted(world, [await goodsLine(world, 'FK-1200', '50')])
    const pilar = await as('Pilar', `/order/${order.id}`)
    await pilar.waitForSelector('[data-test="act-issue"]')
    await nightly({ ...world.jobs, clock: () => `${addDays(today(), 1)}T01:00:00.000Z` })
    await world
      .db('supplierCertificates')
      .where({ supplierId: id })
      .update({ validTo: addDays(today(), -1) })
    await press(pilar, 'act-issue')
    await says(pilar, 'Food safety certificate for Feed ended on')
    await pilar.goto(`${world.address}/source/${id}`)
    await says(pilar, 'No new orders for Feed')
    await pilar.waitForSelector('[data-test="rule-Food safety certificate"]')
    await done(pilar)
  })
})
