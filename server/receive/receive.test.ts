import { expect } from 'chai'
import { ActOnOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { Deliveries, ReadDelivery, Receive, ReverseReceipt } from '#contract/receive/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { billed, goodsLine, ordered, PLACE, received, today, type Issued } from '#test-helpers/steps.ts'
import { type Answer, useWorld } from '#test-helpers/world.ts'

describe('a receipt', () => {
  const world = useWorld()

  const order = async (quantity = '10'): Promise<Issued> =>
    ordered(world, [await goodsLine(world, 'PS-1200', quantity)])
  type Body = Parameters<Awaited<ReturnType<typeof world.as>>['call']>[1] & object

  /** Counts the first line of an order, with whatever is said otherwise. */
  async function count(one: Issued, changed: Record<string, unknown> = {}, who = 'Yuki'): Promise<Answer<unknown>> {
    const lines = [{ lineId: one.lines[0]!.id, quantity: one.lines[0]!.quantity }]
    const body = { receivedOn: today(), placeId: PLACE, note: '', lines, ...changed }
    return await (await world.as(who)).call(Receive, { params: { id: one.id }, body } as Body as never)
  }
  const reverse = async (id: string, who: string, reason = 'Miscounted.'): Promise<Answer<unknown>> =>
    (await world.as(who)).call(ReverseReceipt, { params: { id }, body: { reason } })
  const rows = async (who: string, view: string, q: string): Promise<string[]> =>
    (await (await world.as(who)).do(Deliveries.page, { query: { view, q } })).rows.map(row => row.number)

  it('is for goods of this order, some of them, once each, up to today, at a place that is ours', async () => {
    const one = await order()
    const other = await order()
    const line = (lineId: string, quantity: string) => ({ lineId, quantity })
    const id = one.lines[0]!.id
    const refusals: [Record<string, unknown>, number, string][] = [
      [{ receivedOn: addDays(today(), 1) }, 422, 'receive.future'],
      [{ receivedOn: '2026-02-30' }, 400, 'request.invalid'],
      [{ lines: [] }, 400, 'request.invalid'],
      [{ lines: [line(id, '0')] }, 422, 'receive.quantity'],
      [{ lines: [line(id, '-1')] }, 422, 'receive.quantity'],
      [{ lines: [line(id, 'ten')] }, 400, 'request.invalid'],
      [{ lines: [line(id, '4'), line(id, '6')] }, 422, 'receive.lineTwice'],
      [{ lines: [line(other.lines[0]!.id, '1')] }, 422, 'receive.foreignLine'],
      [{ placeId: one.id }, 404, 'document.notFound'],
      [{ colour: 'red' }, 400, 'request.invalid'],
    ]
    for (const [changed, status, code] of refusals) {
      const answer = await count(one, changed)
      expect([answer.status, answer.codes[0]], JSON.stringify(changed)).to.deep.equal([status, code])
    }
    expect(await world.db('receipts').where({ orderId: one.id })).to.deep.equal([])
    expect((await count(one, {}, 'Leonie')).codes).to.deep.equal(['receive.goodsByReceiver'])
  })

  it('stands on the Sheet with who, when, where and how much, and in the list until nothing is open', async () => {
    const one = await order()
    expect(await rows('Yuki', 'expected', one.number)).to.deep.equal([one.number])
    await count(one, { note: 'One box is wet.', lines: [{ lineId: one.lines[0]!.id, quantity: '4' }] })
    const yuki = await world.as('Yuki')
    const sheet = await yuki.do(ReadDelivery, { params: { id: one.id } })
    expect(sheet.lines.map(line => [line.done, line.open, line.mayProve])).to.deep.equal([['4', '6', true]])
    expect(
      sheet.receipts.map(({ by, note, state, parts }) => ({
        by,
        note,
        state,
        lines: parts.map(({ position, quantity, unit }) => ({ position, quantity, unit })),
      })),
    ).to.deep.equal([
      {
        by: 'Yuki Amberley',
        note: 'One box is wet.',
        state: 'posted',
        lines: [{ position: 1, quantity: '4', unit: 'C62' }],
      },
    ])
    expect(await rows('Yuki', 'received', one.number)).to.deep.equal([])
    await count(one, { lines: [{ lineId: one.lines[0]!.id, quantity: '6' }] })
    expect(await rows('Yuki', 'expected', one.number)).to.deep.equal([])
    expect(await rows('Yuki', 'received', one.number)).to.deep.equal([one.number])
    const numbers = (await yuki.do(ReadDelivery, { params: { id: one.id } })).receipts.map(receipt => receipt.number)
    expect(new Set(numbers).size).to.equal(2)
  })

  it('is seen by who takes goods in, who asked for them and who buys; by others not', async () => {
    const one = await order()
    for (const who of ['Yuki', 'Dov', 'Joren', 'Pilar'])
      expect((await (await world.as(who)).call(ReadDelivery, { params: { id: one.id } })).status, who).to.equal(200)
    expect(await rows('Joren', 'forMe', one.number)).to.deep.equal([one.number])
    const ines = await (await world.as('Ines')).call(ReadDelivery, { params: { id: one.id } })
    expect([ines.status, ines.codes]).to.deep.equal([404, ['document.notFound']])
    expect(await rows('Ines', 'all', one.number)).to.deep.equal([])
  })

  it('is taken back by any receiver with a reason, once, and leaves the order as it was', async () => {
    const one = await order()
    await received(world, one)
    const yuki = await world.as('Yuki')
    const [receipt] = (await yuki.do(ReadDelivery, { params: { id: one.id } })).receipts
    expect(receipt!.mayReverse).to.equal(true)
    expect((await reverse(receipt!.id, 'Joren')).codes).to.deep.equal(['right.notYours'])
    expect((await reverse(receipt!.id, 'Ines')).codes).to.deep.equal(['right.notYours'])
    expect((await reverse(receipt!.id, 'Yuki', ' ')).status).to.equal(400)
    expect((await reverse(receipt!.id, 'Dov')).status).to.equal(200)
    expect((await reverse(receipt!.id, 'Yuki')).codes).to.deep.equal(['receive.reversedAlready'])
    const sheet = await yuki.do(ReadDelivery, { params: { id: one.id } })
    expect([sheet.lines[0]!.open, sheet.receipts[0]!.state, sheet.receipts[0]!.mayReverse]).to.deep.equal([
      '10',
      'reversed',
      false,
    ])
    expect(await rows('Yuki', 'expected', one.number)).to.deep.equal([one.number])
  })

  it('stays where it is billed, and where the order is closed or cancelled nothing comes in', async () => {
    const one = await order()
    await received(world, one)
    const invoice = await billed(world, one, { quantity: '10' })
    expect(invoice.state).to.equal('matched')
    const pilar = await world.as('Pilar')
    const close = async (id: string, action: 'close' | 'cancel'): Promise<void> => {
      const { version } = await pilar.do(ReadOrder, { params: { id } })
      await pilar.do(ActOnOrder, {
        params: { id },
        body: { version, action, reason: 'It is enough.', needRemains: false },
      })
    }
    await close(one.id, 'close')
    const [receipt] = (await (await world.as('Yuki')).do(ReadDelivery, { params: { id: one.id } })).receipts
    expect(receipt!.mayReverse).to.equal(false)
    expect((await reverse(receipt!.id, 'Yuki')).codes).to.include('receive.notOpen')
    expect((await count(one)).codes).to.include('receive.notOpen')
    const gone = await order()
    await close(gone.id, 'cancel')
    expect((await count(gone)).codes).to.deep.equal(['receive.notOpen'])
  })

  it('comes in parts, and does not count above what was ordered and its tolerance, whatever the reason', async () => {
    const one = await order('20')
    const lines = (quantity: string) => ({ lines: [{ lineId: one.lines[0]!.id, quantity }] })
    expect((await count(one, lines('12'))).status).to.equal(200)
    expect((await count(one, lines('9'))).codes).to.deep.equal(['receive.wantsReason', 'receive.overAsked'])
    const asked = await count(one, { ...lines('90'), checkReason: 'They sent it.' })
    expect([asked.status, (asked.body as { state: string }).state]).to.deep.equal([200, 'asked'])
    const sheet = await (await world.as('Yuki')).do(ReadDelivery, { params: { id: one.id } })
    expect([sheet.lines[0]!.open, sheet.actions.find(each => each.action === 'receiveAll')?.possible]).to.deep.equal([
      '8',
      true,
    ])
  })

  it('told again with its key it counts once; with the same key and another count it is refused', async () => {
    const one = await order()
    const yuki = await world.as('Yuki')
    const body = (quantity: string) => ({
      receivedOn: today(),
      placeId: PLACE,
      note: '',
      lines: [{ lineId: one.lines[0]!.id, quantity }],
    })
    const key = `count-${one.id}`
    const first = await yuki.do(Receive, { params: { id: one.id }, key, body: body('3') })
    expect(await yuki.do(Receive, { params: { id: one.id }, key, body: body('3') })).to.deep.equal(first)
    const other = await yuki.call(Receive, { params: { id: one.id }, key, body: body('4') })
    expect([other.status >= 400, other.codes.length]).to.deep.equal([true, 1])
    expect((await yuki.do(ReadDelivery, { params: { id: one.id } })).lines[0]!.done).to.equal('3')
  })
})
