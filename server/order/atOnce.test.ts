import { expect } from 'chai'
import { ActOnOrder, ChangeOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { Receive } from '#contract/receive/endpoints.ts'
import { goodsLine, type Issued, ordered, PLACE, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('two people at one order', () => {
  const world = useWorld()
  const fresh = async () => ordered(world, [await goodsLine(world, 'PS-1200', '10')])
  const sheetOf = async (id: string) => (await world.as('Pilar')).do(ReadOrder, { params: { id } })

  it('who revise it at once make one revision; the other is told what changed', async () => {
    const { id } = await fresh()
    const { version, title, message, charges, lines } = await sheetOf(id)
    const revise = async (quantity: string) => (await world.as('Pilar')).call(ChangeOrder, { params: { id }, body: { version, title, message, charges, reason: 'Fewer.', lines: lines.map(line => ({ id: line.id, quantity, price: line.price, needBy: line.needBy, description: line.description })) } }) // prettier-ignore
    const both = await Promise.all([revise('8'), revise('7')])
    expect(both.map(one => one.status).sort()).to.deep.equal([200, 409])
    const sheet = await sheetOf(id)
    expect([sheet.revision, sheet.revisions.length]).to.deep.equal([1, 2])
    expect(sheet.lines[0]!.quantity).to.equal(both[0].status === 200 ? '8' : '7')
  })

  it('of whom one cancels while the other counts it in: one happens, and the order says which', async () => {
    for (let round = 0; round < 3; round++) {
      const order = await fresh()
      const { version } = await sheetOf(order.id)
      const cancel = async () => (await world.as('Pilar')).call(ActOnOrder, { params: { id: order.id }, body: { version, action: 'cancel', reason: 'Not wanted.', needRemains: false } }) // prettier-ignore
      const [cancelled, counted] = await Promise.all([cancel(), receive(order)])
      expect([cancelled.status, counted.status].filter(status => status === 200)).to.have.length(1)
      const sheet = await sheetOf(order.id)
      expect([sheet.state, sheet.lines[0]!.done]).to.deep.equal(cancelled.status === 200 ? ['cancelled', '0'] : ['acknowledged', '10']) // prettier-ignore
    }
  })

  const receive = async (order: Issued) =>
    (await world.as('Yuki')).call(Receive, {
      params: { id: order.id },
      body: { receivedOn: today(), placeId: PLACE, note: '', lines: order.lines.map(line => ({ lineId: line.id, quantity: line.quantity })) }, // prettier-ignore
    })
})
