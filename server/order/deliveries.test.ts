import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import { ChangeOrder, IssueOrder, KeepChange, OrderPdf, OrderUbl, ReadOrder } from '#contract/order/endpoints.ts' // prettier-ignore
import { OwnAnswerFile, RespondToOrder, SupplierOrder } from '#contract/order/supplierOrders.ts'
import { ReadDelivery } from '#contract/receive/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { childrenOf, find, parseXml, textAt } from '#core/formats/xml.ts'
import { asWanted } from '#core/order/revision.ts'
import { ADDRESSES } from '#demo/world.ts'
import { drafted, goodsLine, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

const [FIRST, SECOND] = [addDays(today(), 30), addDays(today(), 75)] as const
const NS = 'xmlns="urn:oasis:names:specification:ubl:schema:xsd:OrderResponse-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2"' // prettier-ignore

describe('lines that come in several deliveries', () => {
  const world = useWorld()
  const sheetOf = async (id: string) => (await world.as('Pilar')).do(ReadOrder, { params: { id } })
  const change = async (id: string, quantity: string, more: object) => {
    const { version, title, message, charges, lines } = await sheetOf(id)
    const wanted = lines.map(line => ({ id: line.id, quantity, price: line.price, needBy: line.needBy, description: line.description, ...more })) // prettier-ignore
    return (await world.as('Pilar')).call(ChangeOrder, { params: { id }, body: { version, title, message, charges, reason: 'In two.', lines: wanted } }) // prettier-ignore
  }
  const part = (quantity: string, date: string, addressId: string | null = null) => ({ quantity, date, addressId })
  /** An issued order of ten: four first, six later to the hatchery. */
  async function scheduled() {
    const order = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    const made = await change(order.id, '10', { schedule: [part('6', SECOND, ADDRESSES.hatchery.id), part('4', FIRST)] }) // prettier-ignore
    expect(made.status).to.equal(200)
    await (await world.as('Pilar')).do(IssueOrder, { params: { id: order.id }, body: { version: (await sheetOf(order.id)).version } }) // prettier-ignore
    return await sheetOf(order.id)
  }

  it('are kept in the order of their days, with where each goes, on sheet, paper and file', async () => {
    const sheet = await scheduled()
    const [line] = sheet.lines
    expect(line!.needBy).to.equal(FIRST)
    expect(line!.schedule.map(({ quantity, date, place, open }) => [quantity, date, place, open])).to.deep.equal([['4', FIRST, '', '4'], ['6', SECOND, line!.schedule[1]!.place, '6']]) // prettier-ignore
    expect(line!.schedule[1]!.place).to.match(/^Fenn/)
    const pilar = await world.as('Pilar')
    const root = parseXml(await pilar.text(OrderUbl, { params: { id: sheet.id, revision: 0 } }))
    const deliveries = childrenOf(find(find(root, 'OrderLine'), 'LineItem')!, 'Delivery')
    expect(deliveries.map(one => [textAt(one, 'Quantity'), textAt(one, 'RequestedDeliveryPeriod', 'EndDate')])).to.deep.equal([['4', FIRST], ['6', SECOND]]) // prettier-ignore
    expect(textAt(deliveries[1]!, 'DeliveryLocation', 'Description')).to.match(/^Fenn/)
    expect((await pilar.bytes(OrderPdf, { id: sheet.id, revision: '0' }, {})).length).to.be.above(1000)
  })

  it('are refused where they are not the line, or go to a place that is not there', async () => {
    const order = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    const short = await change(order.id, '10', { schedule: [part('4', FIRST), part('5', SECOND)] })
    expect(short.codes).to.deep.equal(['order.schedule.sum'])
    const nowhere = await change(order.id, '10', { schedule: [part('4', FIRST, randomUUID()), part('6', SECOND)] })
    expect([nowhere.status, nowhere.codes]).to.deep.equal([404, ['document.notFound']])
    expect((await change(order.id, '10', { addressId: randomUUID() })).status).to.equal(404)
    expect((await change(order.id, '10', { schedule: [part('4', '2026-02-30'), part('6', SECOND)] })).status).to.equal(400) // prettier-ignore
  })

  it('are answered by the supplier delivery by delivery, from its file, too', async () => {
    const sheet = await scheduled()
    const supplier = await world.as(`at ${sheet.supplier}`)
    const own = await supplier.do(SupplierOrder, { params: { id: sheet.id }, query: {} })
    const [line] = own.lines
    expect(line!.schedule.map(one => one.quantity)).to.deep.equal(['4', '6'])
    const item = (parts: string) => `<OrderResponse ${NS}><cbc:ID>R-1</cbc:ID><cbc:OrderResponseCode>CA</cbc:OrderResponseCode><cac:OrderReference><cbc:ID>${own.number}</cbc:ID></cac:OrderReference><cac:OrderLine><cac:LineItem><cbc:ID>1</cbc:ID><cbc:LineStatusCode>3</cbc:LineStatusCode><cbc:Quantity unitCode="C62">10</cbc:Quantity>${parts}</cac:LineItem></cac:OrderLine></OrderResponse>` // prettier-ignore
    const parts = (quantity: string) => `<cac:Delivery><cbc:Quantity>${quantity}</cbc:Quantity><cac:PromisedDeliveryPeriod><cbc:EndDate>${FIRST}</cbc:EndDate></cac:PromisedDeliveryPeriod></cac:Delivery><cac:Delivery><cbc:Quantity>8</cbc:Quantity><cac:PromisedDeliveryPeriod><cbc:EndDate>${SECOND}</cbc:EndDate></cac:PromisedDeliveryPeriod></cac:Delivery>` // prettier-ignore
    const read = async (text: string) => supplier.do(OwnAnswerFile, { params: { id: sheet.id }, body: { text: item(text) } }) // prettier-ignore
    expect((await read(parts('3'))).left.map(one => one.code)).to.deep.equal(['order.schedule.sum'])
    const { lines } = await read(parts('2'))
    expect(lines[0]!.parts).to.deep.equal([{ quantity: '2', date: FIRST }, { quantity: '8', date: SECOND }]) // prettier-ignore
    // without a word about days it is as wanted
    expect((await read('')).lines[0]).to.deep.equal(asWanted(line!, today()))
    const given = await supplier.do(RespondToOrder, { params: { id: sheet.id }, body: { revision: 0, lines, note: '' } }) // prettier-ignore
    expect(given.state).to.equal('waiting')
    expect((await sheetOf(sheet.id)).responses[0]!.differences[0]!.fields.map(one => one.field)).to.deep.equal(['schedule']) // prettier-ignore
  })

  it('are followed: what came counts for the first, and the order is next needed for the second', async () => {
    const sheet = await scheduled()
    await received(world, { ...sheet, company: sheet.supplier }, '5')
    const [line] = (await sheetOf(sheet.id)).lines
    expect(line!.schedule.map(one => one.open)).to.deep.equal(['0', '5'])
    expect((await world.db('orders').where({ id: sheet.id }).first('needBy'))!.needBy).to.equal(SECOND)
    const expected = (await (await world.as('Yuki')).do(ReadDelivery, { params: { id: sheet.id } })).lines[0]!
    expect([expected.needBy, expected.schedule.map(one => one.open)]).to.deep.equal([SECOND, ['0', '5']])
  })

  it('are shown in a revision beside the one in force, and kept while it is written', async () => {
    const sheet = await scheduled()
    const later = addDays(SECOND, 14)
    const schedule = [part('4', FIRST), part('6', later)]
    const { title, message, charges, lines } = sheet
    const wanted = { title, message, charges, lines: lines.map(({ id, quantity, price, needBy, description }) => ({ id, quantity, price, needBy, description, addressId: ADDRESSES.quay.id, schedule })) } // prettier-ignore
    await (await world.as('Pilar')).do(KeepChange, { params: { id: sheet.id }, body: { wanted, reason: 'Later.', needRemains: true, revision: 0, seen: null } }) // prettier-ignore
    expect((await sheetOf(sheet.id)).keptChange!.wanted.lines[0]!.schedule).to.deep.equal(schedule)
    expect((await change(sheet.id, '10', { schedule })).status).to.equal(200)
    const now = await sheetOf(sheet.id)
    const [difference] = now.revisions[1]!.differences
    expect(difference!.fields.map(one => [one.field, one.after])).to.deep.equal([['schedule', `4 ${FIRST}\n6 ${later}`]]) // prettier-ignore
    // fewer are taken off the last delivery
    expect((await change(sheet.id, '7', {})).status).to.equal(200)
    expect((await sheetOf(sheet.id)).lines[0]!.schedule.map(one => one.quantity)).to.deep.equal(['4', '3'])
  })
})
