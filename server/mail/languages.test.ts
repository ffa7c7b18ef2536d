import { expect } from 'chai'
import { SupplierOrder } from '#contract/order/supplierOrders.ts'
import { ReadSession } from '#contract/people/endpoints.ts'
import { ReadHouse, SaveHouse } from '#contract/setup/house.ts'
import { DropEntry, ImportRegister, ReadRegister, SaveEntry } from '#contract/setup/registers.ts'
import { goodsLine, ordered } from '#test-helpers/steps.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

describe('what a supplier reads', () => {
  const world = useWorld()

  const germanItem = async (): Promise<string> =>
    (await world
      .db('offers')
      .join('items', 'items.id', 'offers.itemId')
      .join('supplierContacts', 'supplierContacts.supplierId', 'offers.supplierId')
      .where('supplierContacts.language', 'de')
      .orderBy('items.number')
      .first<{ number: string }>('items.number'))!.number
  const mailAbout = async (number: string) =>
    (await world
      .db('outbox')
      .whereRaw(`payload ->> 'subject' like ?`, [`%${number}%`])
      .first('payload'))!.payload as { subject: string; text: string }
  const useLanguages = async (languages: ('en' | 'de')[]): Promise<void> => {
    const wren = await world.as('Wren')
    const { base: _base, ...house } = await wren.do(ReadHouse)
    await wren.do(SaveHouse, { body: { ...house, languages } })
  }

  it('is in the language of whoever gets its orders: mail, printed order and pages', async () => {
    const order = await ordered(world, [await goodsLine(world, await germanItem(), '3')])
    const mail = await mailAbout(order.number)
    expect(mail.subject).to.match(new RegExp(`^Bestellung ${order.number}, Fassung 0: `))
    expect(mail.text).to.match(/über EUR [\d.]+,\d\d\./)
    await sendAll(world)
    const sales = await world.as(`at ${order.company}`)
    expect((await sales.do(ReadSession)).person!.locale).to.equal('de-DE')
    const sheet = await sales.do(SupplierOrder, { params: { id: order.id }, query: {} })
    expect(sheet.terms).to.match(/^Zahlung \d+ Tage nach/)
  })

  it('is in the house’s first language for whoever reads none that it uses', async () => {
    await useLanguages(['en'])
    const order = await ordered(world, [await goodsLine(world, await germanItem(), '2')])
    expect((await mailAbout(order.number)).subject).to.match(new RegExp(`^Order ${order.number}, revision 0`))
    await useLanguages(['de', 'en'])
  })

  it('is in the house’s own words where it has them, until it goes back to those that came', async () => {
    const wren = await world.as('Wren')
    const at = { params: { register: 'mailTexts' as const } }
    const keep = (text: string) =>
      wren.call(SaveEntry, {
        ...at,
        body: { id: null, version: 0, open: true, values: { template: 'order.issued', language: 'de', subject: 'Auftrag {number}', text } }, // prettier-ignore
      })
    const wrong = await keep('Hallo {name}, {price}')
    expect([wrong.status, wrong.codes]).to.deep.equal([422, ['mailText.noDetail', 'mailText.needs']])
    const made = await keep('Hallo {name},\n\nbitte {path}')
    expect(made.status).to.equal(200)
    const order = await ordered(world, [await goodsLine(world, await germanItem(), '1')])
    const mail = await mailAbout(order.number)
    expect(mail.subject).to.equal(`Auftrag ${order.number}`)
    expect(mail.text).to.match(/^Hallo .+,\n\nbitte \/supplier\/orders\//)
    const { entries } = await wren.do(ReadRegister, at)
    await wren.do(DropEntry, { params: { ...at.params, id: entries[0]!.id }, body: { version: entries[0]!.version } })
    const next = await ordered(world, [await goodsLine(world, await germanItem(), '1')])
    expect((await mailAbout(next.number)).subject).to.match(/^Bestellung/)
    const file = await wren.upload('mails.csv', 'template;language;subject;text\norder.issued;fr;Commande;{path}\n')
    const tried = await wren.do(ImportRegister, { ...at, body: { fileId: file.body.id, dryRun: true } })
    expect(tried.faults.map(one => one.code)).to.deep.equal(['mailText.noSuch'])
  })

  it('is in one language at least: a house that uses none is refused', async () => {
    const wren = await world.as('Wren')
    const { base: _base, ...house } = await wren.do(ReadHouse)
    expect(house.languages).to.deep.equal(['de', 'en'])
    expect((await wren.call(SaveHouse, { body: { ...house, languages: [] } })).status).to.equal(400)
  })
})
