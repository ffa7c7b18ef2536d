import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import { ListClauses, SaveClause } from '#contract/order/clauses.ts'
import { ChangeOrder, IssueOrder, OrderPdf, OrderUbl, ReadOrder } from '#contract/order/endpoints.ts'
import { SupplierOrder } from '#contract/order/supplierOrders.ts'
import { childrenOf, parseXml, textAt, find } from '#core/formats/xml.ts'
import { addDays } from '#core/calendar/days.ts'
import { json } from '#server/database/json.ts'
import { drafted, goodsLine, ordered, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('clauses, places and pay terms of an order', () => {
  const world = useWorld()
  const body = { id: null as string | null, seen: 0, name: 'Packing', from: today(), ended: false, scope: 'goods' as const, categories: [] as string[], countries: [] as string[], text: { en: 'Returnable crates only.', de: 'Nur Mehrwegkisten.' } } // prettier-ignore
  const save = async (more: object = {}, who = 'Wren') => (await world.as(who)).call(SaveClause, { body: { ...body, ...more } }) // prettier-ignore
  const sheetOf = async (id: string) => (await world.as('Pilar')).do(ReadOrder, { params: { id } })
  /** The clauses that this test wrote; the house has others. */
  const written = async (id: string) => (await sheetOf(id)).clauses.filter(one => one.name.startsWith('Packing'))
  const change = async (id: string, more: object) => {
    const { version, title, message, charges, lines } = await sheetOf(id)
    const wanted = lines.map(({ id: line, quantity, price, needBy, description }) => ({ id: line, quantity, price, needBy, description })) // prettier-ignore
    return (await world.as('Pilar')).call(ChangeOrder, { params: { id }, body: { version, title, message, charges, reason: 'Moved.', lines: wanted, ...more } }) // prettier-ignore
  }

  it('stand on an order by version: an issued one keeps what it got', async () => {
    const made = (await save()).body
    const draft = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    expect((await written(draft.id)).map(one => [one.name, one.version])).to.deep.equal([['Packing', 1]])
    const pilar = await world.as('Pilar')
    await pilar.do(IssueOrder, { params: { id: draft.id }, body: { version: draft.version } })
    expect((await save({ id: made.id, seen: 1, name: 'Packing, new', text: { en: 'Pallets.' } })).status).to.equal(200)
    expect((await written(draft.id)).map(one => [one.name, one.version])).to.deep.equal([['Packing', 1]])
    expect((await change(draft.id, { title: 'Other' })).status).to.equal(200)
    const sheet = await sheetOf(draft.id)
    expect([sheet.revision, (await written(draft.id))[0]!.text]).to.deep.equal([1, 'Returnable crates only.'])
    const root = parseXml(await pilar.text(OrderUbl, { params: { id: draft.id, revision: 1 } }))
    expect(childrenOf(root, 'Note').map(one => one.text)).to.include('Packing (version 1): Returnable crates only.')
    expect((await pilar.bytes(OrderPdf, { id: draft.id, revision: '1' }, {})).length).to.be.above(1000)
    const own = await (await world.as(`at ${sheet.supplier}`)).do(SupplierOrder, { params: { id: draft.id }, query: {} }) // prettier-ignore
    expect(own.clauses.map(one => one.name)).to.include('Packing')
    const next = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    expect((await written(next.id)).map(one => [one.name, one.version])).to.deep.equal([['Packing, new', 2]])
    const { clauses } = await (await world.as('Wren')).do(ListClauses, {})
    const kept = clauses.find(one => one.id === made.id)!
    expect(kept.versions.map(version => [version.version, version.orders])).to.deep.equal([[2, 0], [1, 1]]) // prettier-ignore
  })

  it('are written by whoever keeps Setup, each on top of what they have seen', async () => {
    expect((await save({}, 'Pilar')).status).to.equal(403)
    const { id } = (await save({ name: 'Safety', scope: 'work' })).body
    expect((await save({ id, seen: 0 })).codes).to.deep.equal(['clause.changed'])
    expect((await save({ from: addDays(today(), -1) })).codes).to.deep.equal(['clause.from'])
    expect((await save({ categories: ['Unicorns'] })).codes).to.deep.equal(['clause.category'])
    expect((await save({ text: { de: 'Nur hier.' } })).codes).to.deep.equal(['clause.text'])
    expect((await save({ id: randomUUID(), seen: 1 })).status).to.equal(404)
    // one for work does not stand on an order of goods
    const draft = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    expect((await sheetOf(draft.id)).clauses.map(one => one.name)).to.not.include('Safety')
  })

  it('goes to another place of the supplier by a revision, with the difference named', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const { supplierId, location } = await sheetOf(order.id)
    const other = randomUUID()
    await world.db('supplierLocations').insert({ id: other, supplierId, position: 9, name: 'Works two', street: 'Fjordgata 9', postalCode: '5003', city: 'Bergen', country: 'NO', roles: [] }) // prettier-ignore
    expect((await change(order.id, { locationId: randomUUID() })).status).to.equal(404)
    expect((await change(order.id, { locationId: other })).status).to.equal(200)
    const sheet = await sheetOf(order.id)
    expect([sheet.location, sheet.locationId, sheet.locations.length > 1]).to.deep.equal(['Works two, Fjordgata 9, 5003 Bergen, NO', other, true]) // prettier-ignore
    expect(sheet.revisions[1]!.differences[0]!.fields).to.deep.equal([{ field: 'location', before: location, after: sheet.location }]) // prettier-ignore
    const root = parseXml(await (await world.as('Pilar')).text(OrderUbl, { params: { id: order.id, revision: 1 } }))
    expect(textAt(find(root, 'SellerSupplierParty')!, 'Party', 'PostalAddress', 'CityName')).to.equal('Bergen')
    // the revision before still says where it went
    const first = parseXml(await (await world.as('Pilar')).text(OrderUbl, { params: { id: order.id, revision: 0 } }))
    const city = textAt(find(first, 'SellerSupplierParty')!, 'Party', 'PostalAddress', 'CityName')
    expect([city !== 'Bergen', location.includes(city)]).to.deep.equal([true, true])
    // back to the usual one
    expect((await change(order.id, { locationId: null })).status).to.equal(200)
    expect((await sheetOf(order.id)).location).to.equal(location)
  })

  it('takes over the conditions of the place that was chosen', async () => {
    const draft = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    const { supplierId, effective } = await sheetOf(draft.id)
    const place = randomUUID()
    await world.db('supplierLocations').insert({ id: place, supplierId, position: 8, name: 'Works three', street: 'Kai 3', postalCode: '5003', city: 'Bergen', country: 'NO', roles: [], defaults: json({ termsDays: '73' }) }) // prettier-ignore
    expect(effective.find(one => one.key === 'termsDays')!.from).to.not.equal('location')
    expect((await change(draft.id, { locationId: place })).status).to.equal(200)
    const now = (await sheetOf(draft.id)).effective.find(one => one.key === 'termsDays')
    expect([now!.value, now!.from]).to.deep.equal(['73', 'location'])
  })

  it('says what is prepaid, on the sheet and on paper', async () => {
    const draft = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    const { total } = await sheetOf(draft.id)
    expect((await change(draft.id, { conditions: { prepaidPercent: '101' } })).status).to.equal(400)
    expect((await change(draft.id, { conditions: { prepaidPercent: '30', retainedPercent: '5' } })).status).to.equal(
      200,
    )
    const sheet = await sheetOf(draft.id)
    expect(sheet.ahead).to.deep.equal([{ key: 'prepaid', percent: '30', amount: (Number(total) * 0.3).toFixed(2) }])
    await (await world.as('Pilar')).do(IssueOrder, { params: { id: draft.id }, body: { version: sheet.version } })
    const own = await (await world.as(`at ${sheet.supplier}`)).do(SupplierOrder, { params: { id: draft.id }, query: {} }) // prettier-ignore
    expect(own.terms).to.include('30 % are prepaid against an invoice.')
  })
})
