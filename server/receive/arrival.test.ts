import { expect } from 'chai'
import {
  AnswerArrival,
  AnswerArrivalLink,
  ReadArrivalLink,
  ReadArrivals,
  SettleArrival,
} from '#contract/receive/arrivals.ts'
import { Receive, ReverseReceipt } from '#contract/receive/endpoints.ts'
import { ReadReceivingSettings, SaveReceivingSettings } from '#contract/receive/settings.ts'
import { addDays } from '#core/calendar/days.ts'
import { inTransaction } from '#server/jobs/parts.ts'
import { remindOfArrivals } from '#server/receive/arrivalActs.ts'
import { goodsLine, type Issued, ordered, PLACE, today } from '#test-helpers/steps.ts'
import { Client, useWorld } from '#test-helpers/world.ts'

describe('goods that are in, and whoever asked for them', () => {
  const world = useWorld()
  const received = async (quantity = '2'): Promise<{ order: Issued; receiptId: string }> => {
    const order = await ordered(world, [await goodsLine(world, 'PT-1260', quantity)])
    const { id } = await (await world.as('Yuki')).do(Receive, { params: { id: order.id }, body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity }] } }) // prettier-ignore
    return { order, receiptId: id }
  }
  const requester = async (orderId: string): Promise<string> =>
    (await world.db.raw<{ rows: [{ name: string }] }>(`select p.name from arrivals a join people p on p.id = a.requester_id where a.order_id = ?`, [orderId])).rows[0].name.split(' ')[0]! // prettier-ignore
  const read = async (who: string, orderId: string) =>
    (await (await world.as(who)).do(ReadArrivals, { params: { id: orderId } })).arrivals
  const mails = async (orderId: string, key: string): Promise<{ text: string }[]> =>
    (await world.db.raw<{ rows: { text: string }[] }>(`select payload->>'text' as text from outbox where document_id = ? and key like ? order by id desc`, [orderId, `${key}%`])).rows // prettier-ignore
  const token = async (orderId: string, key = 'arrival:'): Promise<string> =>
    /\/arrived\/([\w-]+)/.exec((await mails(orderId, key))[0]!.text)![1]!
  before(async () => {
    const steward = await world.as('Wren')
    const settings = {
      ...(await steward.do(ReadReceivingSettings)),
      asksRequesters: true,
      remindDays: 2,
      silentDays: 5,
    }
    expect((await (await world.as('Yuki')).call(SaveReceivingSettings, { body: settings })).status).to.equal(403)
    expect((await (await world.as('Adaeze')).call(SaveReceivingSettings, { body: settings })).status).to.equal(200)
  })

  it('are told by mail with a link that answers once, without signing in', async () => {
    const { order } = await received()
    const link = await token(order.id)
    const anybody = new Client(world.address, '')
    const shown = await anybody.do(ReadArrivalLink, { params: { token: link } })
    expect([shown.lines.map(line => line.quantity), shown.reasons]).to.deep.equal([['2'], []])
    expect((await anybody.call(AnswerArrivalLink, { params: { token: link }, body: { answer: 'damaged', note: '' } })).codes).to.deep.equal(['arrival.why']) // prettier-ignore
    await anybody.do(AnswerArrivalLink, { params: { token: link }, body: { answer: 'damaged', note: 'One is torn.' } })
    expect((await anybody.call(AnswerArrivalLink, { params: { token: link }, body: { answer: 'confirm', note: '' } })).codes).to.deep.equal(['link.unknown']) // prettier-ignore
    expect((await anybody.call(ReadArrivalLink, { params: { token: 'x'.repeat(32) } })).codes).to.deep.equal(['link.unknown']) // prettier-ignore
    const [arrival] = await read('Yuki', order.id)
    expect([arrival!.state, arrival!.note, arrival!.maySettle, arrival!.mine]).to.deep.equal(['damaged', 'One is torn.', true, false]) // prettier-ignore
    expect((await mails(order.id, 'arrival-said:')).length).to.equal(1)
    const settle = {
      params: { id: arrival!.id },
      body: { version: arrival!.version, reason: 'A new one is on its way.' },
    }
    expect((await (await world.as('Yuki')).call(SettleArrival, settle)).status).to.equal(200)
    expect((await read('Yuki', order.id))[0]!.state).to.equal('settled')
  })

  it('are confirmed on the delivery by who asked for them, and by nobody else', async () => {
    const { order } = await received()
    const who = await requester(order.id)
    const [arrival] = await read(who, order.id)
    expect(arrival!.mine).to.equal(true)
    const answer = {
      params: { id: arrival!.id },
      body: { version: arrival!.version, answer: 'confirm' as const, note: '' },
    }
    expect((await (await world.as('Yuki')).call(AnswerArrival, answer)).codes).to.deep.equal(['right.notYours'])
    expect((await (await world.as(who)).call(AnswerArrival, answer)).status).to.equal(200)
    expect((await (await world.as(who)).call(AnswerArrival, answer)).status).to.not.equal(200)
    expect(await world.db('deskEntries').where({ documentId: arrival!.id })).to.deep.equal([])
  })

  it('of whom nobody hears are asked about again, then told to the buyer, each once', async () => {
    const { order } = await received()
    const { askedOn } = (await world.db('arrivals').where({ orderId: order.id }).first('askedOn')) as {
      askedOn: string
    }
    const ago = async (days: number): Promise<void> => {
      await world
        .db('arrivals')
        .where({ orderId: order.id })
        .update({ askedOn: addDays(askedOn, -days) })
      await inTransaction(world.jobs, remindOfArrivals)
      await inTransaction(world.jobs, remindOfArrivals)
    }
    const counts = async (): Promise<number[]> => [
      (await mails(order.id, 'arrival-again:')).length,
      (await mails(order.id, 'arrival-silent:')).length,
    ]
    const before = await token(order.id)
    await ago(1)
    expect(await counts()).to.deep.equal([0, 0])
    await ago(3)
    expect(await counts()).to.deep.equal([1, 0])
    expect(await token(order.id, 'arrival-again:')).to.not.equal(before)
    await ago(9)
    expect(await counts()).to.deep.equal([1, 1])
  })

  it('whose receipt is taken back are asked about no longer', async () => {
    const { order, receiptId } = await received()
    await (await world.as('Yuki')).do(ReverseReceipt, { params: { id: receiptId }, body: { reason: 'Miscounted.' } })
    expect((await read('Yuki', order.id))[0]!.state).to.equal('ended')
  })

  it('are told to nobody where the house does not ask', async () => {
    await world.db('settings').where({ key: 'receiving' }).delete()
    const { order } = await received()
    expect(await read('Yuki', order.id)).to.deep.equal([])
  })
})
