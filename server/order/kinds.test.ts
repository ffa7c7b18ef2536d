import { expect } from 'chai'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { SupplierOrder } from '#contract/order/supplierOrders.ts'
import { Receive } from '#contract/receive/endpoints.ts'
import { ReadRequisition } from '#contract/request/endpoints.ts'
import type { LineBody } from '#contract/request/lines.ts'
import { addDays } from '#core/calendar/days.ts'
import {
  account,
  billed,
  figures,
  goodsLine,
  moved,
  type Issued,
  ordered,
  PLACE,
  posted,
  today,
} from '#test-helpers/steps.ts'
import { useWorld, type World } from '#test-helpers/world.ts'

async function workLine(world: World, changed: Partial<LineBody>): Promise<LineBody> {
  const supplier = (await world.db('suppliers').where({ name: 'Brightwater Diving' }).first('id')) as { id: string }
  return {
    kind: 'fixedPriceWork',
    itemId: null,
    offerId: null,
    description: 'Inspection of the intake',
    quantity: '1',
    unit: 'E48',
    price: '1200',
    priceBase: '1',
    currency: 'EUR',
    supplierId: supplier.id,
    needBy: addDays(today(), 40),
    addressId: PLACE,
    splits: [{ accountId: await account(world, 'EX-310', '6310'), share: '1' }],
    ...changed,
  }
}
const accept = async (world: World, order: Issued, quantity: string) =>
  (await world.as('Joren')).call(Receive, {
    params: { id: order.id },
    body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity }] },
  })

describe('a line of each kind, from the order to the books', () => {
  const world = useWorld()
  const taken = async (before: Awaited<ReturnType<typeof figures>>, centre: string, natural: string) =>
    moved(before, await figures(world, await account(world, centre, natural)))

  it('work by rate: what is worked is accepted and billed up to its ceiling', async () => {
    const before = await figures(world, await account(world, 'EX-310', '6310'))
    const order = await ordered(world, [
      await workLine(world, {
        kind: 'workByRate',
        unit: 'HUR',
        quantity: '10',
        price: '96',
        details: { expected: '6' },
      }),
    ])
    expect((await taken(before, 'EX-310', '6310')).committed).to.equal(96_000n)
    expect((await accept(world, order, '6.5')).status).to.equal(200)
    const invoice = await billed(world, order, { quantity: '6.5' })
    expect(invoice.state).to.equal('matched')
    await posted(world, invoice.id)
    expect(await taken(before, 'EX-310', '6310')).to.deep.equal({
      reserved: 0n,
      committed: 33_600n,
      spent: 62_400n,
      accrued: 0n,
    })
    expect((await accept(world, order, '4')).codes).to.deep.equal(['receive.overTolerance'])
    const terms = (await (await world.as('Pilar')).do(ReadOrder, { params: { id: order.id } })).lines[0]!.terms
    expect(terms).to.equal('a ceiling; expected are 6 h')
  })

  it('goods by amount: counted in money by the receiver, billed in money', async () => {
    const line = await goodsLine(world, 'FA-1200', '100')
    const order = await ordered(world, [
      {
        ...line,
        kind: 'goodsByAmount',
        itemId: null,
        offerId: null,
        description: 'Small hardware',
        quantity: '250',
        unit: 'M4',
        price: '1',
        priceBase: '1',
      },
    ])
    const yuki = await world.as('Yuki')
    const body = (quantity: string) => ({
      receivedOn: today(),
      placeId: PLACE,
      note: '',
      lines: [{ lineId: order.lines[0]!.id, quantity }],
    })
    expect(
      (await (await world.as('Joren')).call(Receive, { params: { id: order.id }, body: body('10') })).status,
    ).to.equal(422)
    expect((await yuki.call(Receive, { params: { id: order.id }, body: body('180.50') })).status).to.equal(200)
    expect((await billed(world, order, { quantity: '180.50' })).state).to.equal('matched')
    expect((await yuki.call(Receive, { params: { id: order.id }, body: body('69.51') })).codes).to.deep.equal([
      'receive.overTolerance',
    ])
  })

  it('fixed-price work in instalments stands with them on the order, the supplier’s page and its files', async () => {
    const parts = [
      { title: 'With the order', amount: '300', due: '' },
      { title: 'With the report', amount: '900', due: addDays(today(), 60) },
    ]
    const order = await ordered(world, [
      await workLine(world, { details: { instalments: parts, deliverable: 'Report' } }),
    ])
    const supplier = await world.as(`at ${order.company}`)
    const page = await supplier.do(SupplierOrder, { params: { id: order.id }, query: {} })
    expect(page.lines[0]!.terms).to.include('in instalments: With the order: EUR 300; With the report: EUR 900 by')
    const pilar = await world.as('Pilar')
    const ubl = await (
      await fetch(`${world.address}/api/orders/${order.id}/revisions/0/ubl`, { headers: { cookie: pilar.cookie } })
    ).text()
    expect(ubl).to.include('<cbc:Note>Report. in instalments: With the order: EUR 300')
    expect((await accept(world, order, '300')).status).to.equal(200)
    expect((await billed(world, order, { quantity: '300' })).state).to.equal('matched')
    expect((await billed(world, order, { quantity: '300', number: 'TOO-EARLY' })).state).to.equal('onHold')
  })

  it('a line’s own Incoterm wins over the order’s, and the order shows it', async () => {
    const order = await ordered(world, [
      await goodsLine(world, 'PS-1200', '2', { incoterm: 'FCA', incotermPlace: 'Nordhavn', freight: 'notWanted' }),
      await goodsLine(world, 'PS-1220', '2'),
    ])
    const sheet = await (await world.as('Pilar')).do(ReadOrder, { params: { id: order.id } })
    expect(sheet.lines.map(line => line.terms)).to.deep.equal(['FCA Nordhavn (Incoterms 2020)', ''])
  })

  it('the requester sees on the request how far each line has come', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '4')])
    await (
      await world.as('Yuki')
    ).do(Receive, {
      params: { id: order.id },
      body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity: '3' }] },
    })
    const { requisitionId } = (await world
      .db('requisitionLines')
      .join('orderLines', 'orderLines.requisitionLineId', 'requisitionLines.id')
      .where('orderLines.orderId', order.id)
      .first('requisitionId')) as { requisitionId: string }
    const sheet = await (await world.as('Joren')).do(ReadRequisition, { params: { id: requisitionId } })
    expect(sheet.lines[0]!.gauge).to.deep.include({ requested: '4', confirmed: '4', received: '3', billed: '0' })
  })
})
