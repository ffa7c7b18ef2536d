import { expect } from 'chai'
import { SupplierOrder } from '#contract/order/endpoints.ts'
import { ReadSession } from '#contract/people/endpoints.ts'
import { ReadHouse, SaveHouse } from '#contract/setup/house.ts'
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

  it('is in one language at least: a house that uses none is refused', async () => {
    const wren = await world.as('Wren')
    const { base: _base, ...house } = await wren.do(ReadHouse)
    expect(house.languages).to.deep.equal(['de', 'en'])
    expect((await wren.call(SaveHouse, { body: { ...house, languages: [] } })).status).to.equal(400)
  })
})
