import { expect } from 'chai'
import { ChangeOrder, DropChange, KeepChange, LookAtChange, ReadOrder } from '#contract/order/endpoints.ts'
import { goodsLine, type Issued, ordered } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('a change that is written beside the order in force', () => {
  const world = useWorld()
  const sheetOf = async (id: string, who = 'Pilar') => (await world.as(who)).do(ReadOrder, { params: { id } })
  const made = async () => ordered(world, [await goodsLine(world, 'PS-1200', '10')])
  const wantedOf = async ({ id }: Issued, quantity: string) => {
    const { title, message, charges, lines } = await sheetOf(id)
    return { title, message, charges, lines: lines.map(({ id: lineId, description, price, needBy }) => ({ id: lineId, description, quantity, price, needBy })) } // prettier-ignore
  }
  const keep = async (order: Issued, quantity: string, more: object = {}, who = 'Pilar') => (await world.as(who)).call(KeepChange, { params: { id: order.id }, body: { wanted: await wantedOf(order, quantity), reason: 'Fewer.', needRemains: true, revision: 0, seen: null, ...more } }) // prettier-ignore

  it('is kept as it is typed, is seen by others who write orders, and changes nothing', async () => {
    const order = await made()
    const { at } = (await keep(order, '7')).body
    const { keptChange, revision, lines, version } = await sheetOf(order.id)
    expect(keptChange).to.deep.include({ by: 'Pilar Quenneville', mine: true, at, revision: 0, reason: 'Fewer.' })
    expect([keptChange!.wanted.lines[0]!.quantity, revision, lines[0]!.quantity, version]).to.deep.equal(['7', 0, '10', (await sheetOf(order.id)).version]) // prettier-ignore
    expect((await sheetOf(order.id, 'Leonie')).keptChange).to.equal(null)
    expect((await keep(order, '8', {}, 'Leonie')).status).to.equal(403)
  })

  it('is not written over by somebody who has not seen it', async () => {
    const order = await made()
    const first = (await keep(order, '7')).body.at
    await world.db('orderChanges').where({ orderId: order.id }).update({ byId: (await world.db('people').where({ name: 'Rasmus Tielemann' }).first('id'))!.id }) // prettier-ignore
    expect((await keep(order, '6')).codes).to.deep.equal(['order.changeByOther'])
    expect((await sheetOf(order.id)).keptChange).to.deep.include({ by: 'Rasmus Tielemann', mine: false })
    expect((await keep(order, '6', { seen: first })).status).to.equal(200)
    expect((await sheetOf(order.id)).keptChange!.wanted.lines[0]!.quantity).to.equal('6')
  })

  it('ends when it is made or dropped, and is not begun on a revision that is gone', async () => {
    const order = await made()
    await keep(order, '7')
    const { version } = await sheetOf(order.id)
    await (await world.as('Pilar')).do(ChangeOrder, { params: { id: order.id }, body: { version, reason: 'Fewer.', ...(await wantedOf(order, '7')) } }) // prettier-ignore
    expect((await sheetOf(order.id)).keptChange).to.equal(null)
    expect((await keep(order, '6')).codes).to.deep.equal(['order.superseded'])
    expect((await keep(order, '6', { revision: 1 })).status).to.equal(200)
    const drop = async () => (await world.as('Pilar')).do(DropChange, { params: { id: order.id } })
    expect([await drop(), await drop()]).to.deep.equal([{ dropped: true }, { dropped: false }])
    expect((await sheetOf(order.id)).keptChange).to.equal(null)
  })

  it('is looked at first: what differs, what the budget would be, what stands against it', async () => {
    const order = await made()
    const look = async (quantity: string, price?: string) => {
      const wanted = await wantedOf(order, quantity)
      return (await world.as('Pilar')).do(LookAtChange, { params: { id: order.id }, body: { wanted: { ...wanted, lines: wanted.lines.map(line => ({ ...line, price: price ?? line.price })) }, needRemains: true } }) // prettier-ignore
    }
    const seen = await look('7')
    expect([seen.before, seen.after, seen.same, seen.reasons]).to.deep.equal(['850.00', '595.00', false, []])
    expect(seen.differences[0]!.fields).to.deep.equal([{ field: 'quantity', before: '10', after: '7' }])
    const [move] = seen.moves
    expect([move!.committed, move!.reserved, Number(move!.then) - Number(move!.left)]).to.deep.equal(['-255.00', '255.00', 0]) // prettier-ignore
    expect((await look('10', '120')).reasons.map(one => one.code)).to.deep.equal(['order.overApproved'])
    expect((await look('10')).same).to.equal(true)
    expect((await sheetOf(order.id)).revision).to.equal(0)
  })
})
