import { expect } from 'chai'
import { PreviewTogether } from '#contract/documents/together.ts'
import { ChangeOrder, ChaseOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { AddAside, Following, ReadDayLink, SayDays } from '#contract/order/following.ts'
import { addDays } from '#core/calendar/days.ts'
import { goodsLine, ordered, today } from '#test-helpers/steps.ts'
import { Client, useWorld } from '#test-helpers/world.ts'

describe('orders that are followed', () => {
  const world = useWorld()
  const nobody = (): Client => new Client(world.address, '')
  /** An order that was needed yesterday. */
  async function late() {
    const order = await ordered(world, [await goodsLine(world, 'PS-1220', '3'), await goodsLine(world, 'PS-1240', '2')])
    const pilar = await world.as('Pilar')
    const sheet = await pilar.do(ReadOrder, { params: { id: order.id } })
    const lines = sheet.lines.map(line => ({ id: line.id, description: line.description, quantity: line.quantity, price: line.price, needBy: addDays(today(), -1) })) // prettier-ignore
    await pilar.do(ChangeOrder, { params: { id: order.id }, body: { version: sheet.version, title: sheet.title, message: '', charges: [], reason: 'Sooner.', lines } }) // prettier-ignore
    return order
  }
  const rows = async () => (await (await world.as('Pilar')).do(Following, { query: { whose: 'mine' } })).rows
  async function reminded(id: string): Promise<string> {
    const pilar = await world.as('Pilar')
    const { version } = await pilar.do(ReadOrder, { params: { id } })
    await pilar.do(ChaseOrder, { params: { id }, body: { version, note: 'The tank waits.' } })
    const mail = await world.db('outbox').where({ documentId: id, kind: 'mail' }).orderBy('createdAt', 'desc').first<{ payload: { text: string } }>() // prettier-ignore
    return /\/day\/([\w-]+)/.exec(mail!.payload.text)![1]!
  }

  it('stand in one list with why and who waits, and what was said is written down beside them', async () => {
    const order = await late()
    const row = (await rows()).find(one => one.id === order.id)!
    expect([row.wants[0]!.code, row.waitsFor]).to.deep.equal(['follow.late', ['Joren Vaskuil']])
    await (await world.as('Pilar')).do(AddAside, { params: { id: order.id }, body: { lineId: null, text: 'Called: the casting broke.' } }) // prettier-ignore
    expect((await rows()).find(one => one.id === order.id)!.asides.map(one => one.text)).to.deep.equal(['Called: the casting broke.']) // prettier-ignore
  })

  it('are answered by the link of the reminder, without signing in, once; the buyer is told', async () => {
    const order = await late()
    const token = await reminded(order.id)
    const shown = await nobody().do(ReadDayLink, { params: { token } })
    expect([shown.number, shown.lines.length, shown.reasons]).to.deep.equal([order.number, 2, []])
    const date = addDays(today(), 5)
    const body = { days: [{ lineId: shown.lines[0]!.id, date }], note: 'New casting.' }
    const both = await Promise.all(
      [1, 2].map(n => nobody().call(SayDays, { params: { token }, body, key: `browser-${n}` })),
    )
    expect(both.map(one => one.status).sort()).to.deep.equal([200, 422])
    const sheet = await (await world.as('Pilar')).do(ReadOrder, { params: { id: order.id } })
    expect(sheet.lines.find(line => line.id === shown.lines[0]!.id)!.promisedDate).to.equal(date)
    expect((await nobody().do(ReadDayLink, { params: { token } })).reasons.map(one => one.code)).to.deep.equal(['link.used']) // prettier-ignore
    expect((await rows()).find(one => one.id === order.id)!.asides[0]).to.deep.include({ source: 'supplier', text: `${date}: New casting.` }) // prettier-ignore
    const told = await world.db('outbox').where({ documentId: order.id }).whereLike('key', 'day-said:%').first()
    expect(told).to.not.equal(undefined)
  })

  it('have links that die with the next reminder, and open nothing when they are made up', async () => {
    const order = await late()
    const token = await reminded(order.id)
    await world.db('orders').where({ id: order.id }).update({ chasedAt: '2026-01-01T00:00:00Z' })
    await reminded(order.id)
    expect((await nobody().call(ReadDayLink, { params: { token } })).codes).to.deep.equal(['link.unknown'])
    expect((await nobody().call(ReadDayLink, { params: { token: 'x'.repeat(32) } })).codes).to.deep.equal(['link.unknown']) // prettier-ignore
  })

  it('are ended several at once after a look at what each would release', async () => {
    const order = await late()
    const pilar = await world.as('Pilar')
    const look = async (act: 'close' | 'seal' | 'cancel') =>
      (await pilar.do(PreviewTogether, { body: { kind: 'order', act, ids: [order.id], reason: '' } })).rows[0]!
    expect((await look('close')).says!.details.released).to.match(/^EUR \d/)
    expect([(await look('cancel')).possible, (await look('seal')).possible]).to.deep.equal([true, false])
  })
})
