import { expect } from 'chai'
import nodemailer from 'nodemailer'
import { ReadDecideSettings } from '#contract/consent/settings.ts'
import { Decide } from '#contract/decide/endpoints.ts'
import { ReadRequisition, SaveRequisition, SubmitRequisition, CreateRequisition } from '#contract/request/endpoints.ts'
import { fill, pick, press, says, textOf, useBrowser, WALK } from '#test-helpers/browser.ts'
import { account, draft, goodsLine } from '#test-helpers/steps.ts'
import { readAnswers, sendAll, useWorld } from '#test-helpers/world.ts'

describe('deciding, in the browser and by mail', function () {
  this.timeout(WALK)
  const world = useWorld()
  const { open } = useBrowser(() => world.address)
  const sheet = async (id: string) => (await world.as('Ines')).do(ReadRequisition, { params: { id } })
  const mailTo = async (
    who: string,
    title: string,
  ): Promise<{ text: string; replyTo: string; to: string; from: string }> => {
    await sendAll(world)
    const { email } = (await world.db('people').where('name', 'like', `${who} %`).first('email'))!
    const answer = await fetch(`http://127.0.0.1:${world.mail.httpPort}/?to=${encodeURIComponent(email)}`)
    const { mails } = (await answer.json()) as {
      mails: { text: string; replyTo: string; to: string; from: string; subject: string }[]
    }
    return mails.find(mail => mail.subject.includes(title))!
  }

  it('a split request: one in the list, one by a link of a mail, one by an answer as a stand-in; asked again where due', async () => {
    const accounts = await Promise.all([account(world, 'AC-110', '6020'), account(world, 'LS-210', '6020'), account(world, 'ED-410', '6410')]) // prettier-ignore
    const line = await goodsLine(world, 'SW-1200', '40', {
      splits: accounts.map(accountId => ({ accountId, share: '1' })),
    })
    const ines = await world.as('Ines')
    const { id, version } = await ines.do(CreateRequisition, {
      body: { title: 'Salt for the open day', reason: '', lines: [line] },
    })
    await ines.do(SubmitRequisition, { params: { id }, body: { version } })

    const marit = await open('Marit', '/decide')
    await says(marit, 'Salt for the open day')
    const find = async (): Promise<string> =>
      marit.evaluate(() => [...document.querySelectorAll('[data-test="decision"]')].findIndex(row => row.textContent.includes('Salt for the open day')).toString()) // prettier-ignore
    for (let at = -1; at < Number(await find()); at++) await marit.keyboard.press('j')
    await marit.keyboard.press('l')
    await marit.waitForSelector('[data-test="decision-line"]')
    await marit.keyboard.press('a')
    await says(marit, 'is approved.')
    await marit.waitForFunction(() => !document.body.textContent.includes('Salt for the open day'), { timeout: 15_000 })
    expect((await sheet(id)).steps.filter(step => step.state === 'approved').map(step => step.decidedBy ?? step.approvers[0]!.name)).to.deep.equal(['Marit Oland']) // prettier-ignore

    const link = /Approve: \S*(\/answer\/\S+)/.exec((await mailTo('Tomas', 'Salt for the open day')).text)![1]!
    const phone = await open('Tomas', link, 390)
    await says(phone, 'Salt for the open day')
    expect((await sheet(id)).steps.filter(step => step.state === 'approved')).to.have.length(1)
    await press(phone, 'way-go')
    await says(phone, 'Approved. Thank you.')
    await phone.reload()
    await says(phone, 'each mail decides once')

    const mail = await mailTo('Adaeze', 'Salt for the open day')
    expect(mail.text).to.include('in place of Henrik Solvang-Abe')
    const transport = nodemailer.createTransport({ host: '127.0.0.1', port: world.mail.smtpPort, ignoreTLS: true })
    await transport.sendMail({ from: mail.to, to: mail.replyTo, subject: 'Re', text: `Yes\n\n> ${mail.text.replaceAll('\n', '\n> ')}` }) // prettier-ignore
    transport.close()
    expect(await readAnswers(world)).to.deep.equal(['approve'])
    const done = await sheet(id)
    expect(done.state).to.equal('approved')
    expect(done.steps.find(step => step.inPlaceOf)).to.deep.include({ decidedBy: 'Adaeze Nwoko', inPlaceOf: 'Henrik Solvang-Abe', channel: 'mail' }) // prettier-ignore

    const page = await open('Ines', `/request/${id}`)
    await press(page, 'act-change')
    await page.waitForSelector('[data-test="title"]')
    const now = await sheet(id)
    await ines.do(SaveRequisition, { params: { id }, body: { version: now.version, title: now.title, reason: '', lines: [{ ...line, quantity: '44' }] } as never }) // prettier-ignore
    await ines.do(SubmitRequisition, { params: { id }, body: { version: (await sheet(id)).version } })
    expect((await sheet(id)).steps.map(step => step.state)).to.include('open')
    for (const one of [marit, phone, page]) await one.browserContext().close()
  })

  it('several at once; a question before it; a reason that is kept; without a network it is kept and sent later', async () => {
    const ids: string[] = []
    for (const title of ['One of three', 'Two of three', 'Three of three', 'On the train']) {
      const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '2')], title)
      await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
      ids.push(id)
    }
    const page = await open('Marit', '/decide')
    await says(page, 'Three of three')
    const row = (title: string, test: string) =>
      page.evaluate(
        (wanted, button) => [...document.querySelectorAll('[data-test="decision"]')].find(one => one.textContent.includes(wanted))!.querySelector<HTMLElement>(button)!.click(), // prettier-ignore
        title,
        test,
      )
    await row('Three of three', '[data-test="row-ask"]')
    await fill(page, 'reason', 'For which tank?')
    await press(page, 'confirm')
    await says(page, 'waits for an answer')
    for (const title of ['One of three', 'Two of three']) await row(title, '.choose input')
    await press(page, 'approve-chosen')
    await says(page, '2 can be done')
    await press(page, 'together-go')
    await says(page, '2 done.')
    expect((await sheetOf(ids[0]!)).state).to.equal('approved')
    await page.keyboard.press('Escape')
    await says(page, 'On the train')
    await page.setOfflineMode(true)
    await row('On the train', '[data-test="row-approve"]')
    await page.waitForSelector('[data-test="pending-decision"]', { timeout: 30_000 })
    expect((await sheetOf(ids[3]!)).state).to.equal('waiting')
    await page.setOfflineMode(false)
    await page.waitForFunction(() => !document.querySelector('[data-test="pending-decision"]'), { timeout: 40_000 })
    expect((await sheetOf(ids[3]!)).state).to.equal('approved')
    await page.browserContext().close()
  })
  const sheetOf = async (id: string) => (await world.as('Joren')).do(ReadRequisition, { params: { id } })

  it('lines are changed and refused while they are decided; who is not concerned is not asked again; Setup says what follows', async () => {
    const free = { itemId: null, offerId: null, price: '100' }
    const hall = { splits: [{ accountId: await account(world, 'AC-110', '6020'), share: '1' }] }
    const lines = [
      await goodsLine(world, 'PS-1200', '10', { ...free, description: 'Seals to change' }),
      await goodsLine(world, 'PS-1200', '2', { ...free, description: 'Seals to refuse' }),
      await goodsLine(world, 'PS-1200', '4', { ...free, ...hall, description: 'Filters of the hall' }),
    ]
    const { id, version } = await draft(world, lines, 'Seals and filters to change')
    const joren = await world.as('Joren')
    await joren.do(SubmitRequisition, { params: { id }, body: { version, checkReason: 'Needed.' } })
    const tomas = await world.as('Tomas')
    await tomas.do(Decide, { params: { id }, body: { version: (await sheetOf(id)).version, decision: 'approve', reason: '' } }) // prettier-ignore

    const page = await open('Marit', `/decide/${id}`)
    await press(page, 'act-editLines')
    await page.waitForSelector('[data-test="edit-quantity-1"]')
    expect(await page.$('[data-test="edit-quantity-3"]'), 'a line of another').to.equal(null)
    await fill(page, 'edit-quantity-1', '8')
    await press(page, 'refuse-2')
    await fill(page, 'edit-reason', 'Eight will do.')
    await press(page, 'edit-and-approve')
    await says(page, 'every decision stands')
    await says(page, 'Changed since it was asked about')
    const read = await sheetOf(id)
    expect(read.state).to.equal('approved')
    expect(read.lines.map(line => [line.quantity, line.state])).to.deep.equal([
      ['8', 'toBuy'],
      ['2', 'cancelled'],
      ['4', 'toBuy'],
    ])
    await page.browserContext().close()

    const setup = await open('Wren', '/setup/decisions')
    await fill(setup, 'tolerance', '75')
    await pick(setup, 'effect-needBy', 'ask those again whom it concerns')
    await press(setup, 'save-decide-settings')
    await says(setup, 'Kept.')
    const kept = await (await world.as('Wren')).do(ReadDecideSettings)
    expect([kept.editing.tolerance, kept.editing.fields.needBy]).to.deep.equal(['75.00', 'again'])
    await setup.browserContext().close()
  })

  it('what stands still is seen by a steward, moved on to somebody with authority, and decided', async () => {
    const page = await open('Wren', '/decide')
    await press(page, 'part-stalled')
    await says(page, 'account closed')
    await press(page, 'row-open')
    await says(page, 'Stalled: it waits for Orla Pemberwick')
    await press(page, 'act-passOn')
    await pick(page, 'pass-to', 'Marit')
    await fill(page, 'reason', 'Orla has left.')
    await press(page, 'confirm')
    await says(page, 'Waiting for Marit')
    expect(await textOf(page, 'act-passOn')).to.include('Move it on')
    await page.goto(`${world.address}/decide/evidence`)
    await says(page, 'Where time goes')
    await page.browserContext().close()
  })

  it('days away are entered with who decides meanwhile, and circles are refused where they are chosen', async () => {
    const page = await open('Marit', '/decide/away')
    await press(page, 'new-away')
    await pick(page, 'away-stand-in', 'Tomas')
    await press(page, 'save-away')
    await says(page, 'Decides in their place')
    await says(page, 'Tomas Brackenfeld')
    const other = await open('Tomas', '/decide/away')
    await press(other, 'new-away')
    await pick(other, 'away-stand-in', 'Marit')
    await press(other, 'save-away')
    await says(other, 'come back to the one who is away')
    await press(page, 'end-away')
    await page.waitForFunction(() => !document.querySelector('[data-test="end-away"]'), { timeout: 15_000 })
    for (const one of [page, other]) await one.browserContext().close()
  })

  it('an order may cost more when its holder says so; a difference when finance does; a note finds whom it names', async () => {
    const orderId = (await world.db('orders').where({ title: 'Spare impellers, casting went up' }).first('id'))!.id as string // prettier-ignore
    const marit = await open('Marit', `/order/${orderId}`)
    await says(marit, 'above what was approved')
    await fill(marit, 'note', 'Can it wait, @Pi')
    await marit.waitForFunction(() => document.querySelector('.el-mention-dropdown__item.is-hovering')?.textContent.includes('Pilar'), { timeout: 60_000 }) // prettier-ignore
    await marit.keyboard.press('Enter')
    await marit.keyboard.type('until spring?')
    await says(marit, 'Pilar Quenneville finds it on the Desk')
    await press(marit, 'write-note')
    await says(marit, 'Can it wait, @Pilar Quenneville until spring?')
    await press(marit, 'act-approveExcess')
    await fill(marit, 'reason', 'There is no other.')
    await press(marit, 'confirm')
    await says(marit, 'It may cost that.')

    const pilar = await open('Pilar', '/desk')
    await says(pilar, 'Marit Oland names you beside Spare impellers')
    await pilar.goto(`${world.address}/order/${orderId}`)
    await says(pilar, 'until spring?')
    await press(pilar, 'act-issue')
    await says(pilar, 'Sent to Nordhavn Pumpeverk')
    await pilar.goto(`${world.address}/desk`)
    await says(pilar, 'Desk')
    await pilar.waitForFunction(() => !document.body.textContent.includes('names you beside'), { timeout: 30_000 })

    const { invoiceId } = (await world.db('invoiceHolds').whereNotNull('askedId').first('invoiceId')) as { invoiceId: string } // prettier-ignore
    const adaeze = await open('Adaeze', `/bill/${invoiceId}`)
    await press(adaeze, 'approve-difference')
    await fill(adaeze, 'reason', 'Their list says so.')
    await press(adaeze, 'confirm')
    await says(adaeze, 'Cleared by Adaeze Nwoko')
  })
})
