import { expect } from 'chai'
import { CompareKnown } from '#contract/order/knownPrices.ts'
import { ReadAwardPlan } from '#contract/award/plans.ts'
import { PlaceAward } from '#contract/order/awarded.ts'
import { CompareEvent, ProposeAward, ReadLanded } from '#contract/source/comparing.ts'
import { EndEvent, Events, LeaveOutInvited, SendEvent } from '#contract/source/events.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { eventDraft, kindWith, lineBody, sheetOf, supplierIds } from '#test-helpers/events.ts'
import { useWorld } from '#test-helpers/world.ts'

const NORD = 'Nordhavn Pumpeverk'
const SEE = 'Seefelder Pumpen GmbH'

describe('known prices', () => {
  const world = useWorld()
  const HEADS = 'supplier;line;price;from;multiple'
  const drafted = async (lines: object[]): Promise<{ id: string; version: number }> =>
    await eventDraft(world, await kindWith(world, {}), [], body => ({ title: 'Known', lines: lines.map(line => lineBody(body.lots[0]!.id, line)) })) // prettier-ignore
  const compare = async (id: string, changed: object = {}) =>
    await (await world.as('Rasmus')).call(CompareKnown, { params: { id }, body: { version: (await sheetOf(world, id)).version, catalogue: false, fileId: null, pasted: '', ...changed } }) // prettier-ignore
  const mailsOf = async (id: string): Promise<number> => (await world.db('outbox').where('documentId', id)).length

  it('of a pasted list are compared, planned with and awarded by quantity; nobody is written to', async () => {
    const { id } = await drafted([{ description: 'Known pump', quantity: '10' }])
    const lead = await world.as('Rasmus')
    const pasted = [HEADS, `${NORD};1;20;;`, `${SEE};Known pump;22;;5`, `${SEE};Known pump;18;10;`].join('\n')
    const taken = await compare(id, { pasted })
    expect(taken.body).to.deep.include({ suppliers: 2, left: 0 })
    const sheet = await sheetOf(world, id)
    expect([sheet.state, sheet.sentAt, await mailsOf(id)]).to.deep.equal(['over', null, 0])
    expect(sheet.sentence).to.deep.include({ code: 'event.is.known' })
    expect((await lead.call(LeaveOutInvited, { params: { id, invitedId: sheet.invited[0]!.id }, body: { version: sheet.version } })).codes).to.deep.equal(['invited.sent']) // prettier-ignore
    expect((await lead.do(Events.page, { query: { view: 'all', q: 'known' } })).rows.find(row => row.id === id)!.note!.code).to.equal('event.short.known') // prettier-ignore
    const { lines, suppliers } = await lead.do(CompareEvent, { params: { id } })
    expect(suppliers.map(one => [one.name, one.asked, one.own])).to.deep.equal([[NORD, false, '200.00'], [SEE, false, '180.00']]) // prettier-ignore
    const [nord, see] = await supplierIds(world, [NORD, SEE])
    const landed = await lead.do(ReadLanded, { params: { id }, query: { lineId: lines[0]!.id, supplierId: see! } })
    expect(landed.tiers).to.deep.equal([{ from: '0', perUnit: '22' }, { from: '10', perUnit: '18' }]) // prettier-ignore
    expect((await lead.do(ReadAwardPlan, { params: { id } })).bids.map(one => one.unitCost)).to.deep.equal(['20', '22'])
    const propose = (shares: [string, string][]) => lead.call(ProposeAward, { params: { id }, body: { version: sheet.version, shares: shares.map(([supplierId, quantity]) => ({ lineId: lines[0]!.id, supplierId, quantity })), reason: 'Two sources.' } }) // prettier-ignore
    expect((await propose([[see!, '4'], [nord!, '6']])).codes).to.deep.equal(['award.notMultiple']) // prettier-ignore
    expect((await propose([[see!, '5'], [nord!, '5']])).status).to.equal(200) // prettier-ignore
    const awarded = await sheetOf(world, id)
    expect(awarded.state).to.be.oneOf(['awarded', 'deciding'])
    await world.db('events').where({ id }).update({ state: 'awarded' })
    const account = (await world.db('budgetAccounts').where({ open: true }).first('id'))!.id
    const placed = await lead.do(PlaceAward, { params: { id }, body: { version: (await sheetOf(world, id)).version, how: 'orders', accounts: { [lines[0]!.id]: account }, offers: false, letters: true } }) // prettier-ignore
    const prices = await Promise.all(placed.orders.map(async one => (await lead.do(ReadOrder, { params: { id: one.id } })).lines[0]!.price)) // prettier-ignore
    expect(prices.map(Number).sort()).to.deep.equal([20, 22])
    expect(await mailsOf(id), 'nobody was asked, so nobody gets a letter').to.equal(0)
  })

  it('of the catalogue are taken in the unit that is asked for; a draft that is taken up again forgets them', async () => {
    const { rows } = await world.db.raw<{ rows: { itemId: string; unit: string; price: string; base: string; supplierId: string }[] }>(`select i.id as item_id, i.unit, o.tiers -> 0 ->> 'price' as price, o.price_base as base, o.supplier_id from offers o join items i on i.id = o.item_id join suppliers s on s.id = o.supplier_id where s.state = 'active' and o.unit = i.unit and (o.valid_to is null or o.valid_to > now()) and jsonb_array_length(o.tiers) = 1 order by i.number limit 1`) // prettier-ignore
    const [offer] = rows
    const { id } = await drafted([{ itemId: offer!.itemId, unit: offer!.unit, quantity: '1000' }, { description: 'Nobody offers it' }]) // prettier-ignore
    const taken = await compare(id, { catalogue: true })
    expect(taken.status).to.equal(200)
    const lead = await world.as('Rasmus')
    const { suppliers, lines } = await lead.do(CompareEvent, { params: { id } })
    const at = suppliers.findIndex(one => one.supplierId === offer!.supplierId)
    const cell = lines[0]!.cells[at]!
    expect([Number(cell.price), Number(cell.priceBase)]).to.deep.equal([Number(offer!.price), Number(offer!.base)])
    expect(lines[1]!.cells.every(one => one === null)).to.equal(true)
    await lead.do(EndEvent, { params: { id }, body: { version: (await sheetOf(world, id)).version, how: 'takeUp', reason: '' } }) // prettier-ignore
    const again = await sheetOf(world, id)
    expect(Date.parse(again.body.endsAt!), 'with an end to come').to.be.above(Date.now())
    expect([again.state, again.invited.map(one => one.standing)]).to.deep.equal(['draft', suppliers.map(() => 'toSend')]) // prettier-ignore
    expect(await world.db('eventAnswers').whereIn('invitedId', again.invited.map(one => one.id))).to.deep.equal([]) // prettier-ignore
    expect((await compare(id, { catalogue: true })).status, 'and can be compared again').to.equal(200)
  })

  it('are refused where nothing is known, for a stale page, after asking, in a list that cannot be meant', async () => {
    const { id } = await drafted([{ description: 'Known pump', quantity: '10' }])
    expect((await compare(id, { catalogue: true })).codes).to.deep.equal(['known.nothing'])
    expect((await compare(id, { pasted: 'what;price\nx;1' })).codes).to.deep.equal(['known.headings'])
    expect((await compare(id, { pasted: `${HEADS}\nNobody at all;1;x;;` })).codes).to.deep.equal(['known.supplier', 'known.figure']) // prettier-ignore
    expect((await compare(id, { version: 99, pasted: `${HEADS}\n${NORD};1;2;;` })).codes).to.deep.equal(['document.changed']) // prettier-ignore
    const many = [HEADS, ...Array.from({ length: 20_001 }, () => `${NORD};1;2;;`)].join('\n')
    const file = await (await world.as('Rasmus')).upload('many.csv', many)
    expect((await compare(id, { fileId: file.body.id })).codes).to.deep.equal(['known.tooMany'])
    expect((await (await world.as('Joren')).call(CompareKnown, { params: { id }, body: { version: 1, catalogue: true, fileId: null, pasted: '' } })).status).to.equal(403) // prettier-ignore
    const sent = await eventDraft(world, await kindWith(world, {}), [NORD], body => ({ lines: [lineBody(body.lots[0]!.id)] })) // prettier-ignore
    await (await world.as('Rasmus')).do(SendEvent, { params: { id: sent.id }, body: { version: sent.version, reason: 'Go.' } }) // prettier-ignore
    expect((await compare(sent.id, { pasted: `${HEADS}\n${NORD};1;2;;` })).codes).to.deep.equal(['state.notNow'])
  })
})
