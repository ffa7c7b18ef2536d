import { expect } from 'chai'
import { ActOnOrder, ChangeOrder, OrderPdf, ReadOrder } from '#contract/order/endpoints.ts'
import {
  account,
  billed,
  figures,
  freight,
  goodsLine,
  type Issued,
  moved,
  ordered,
  posted,
  received,
} from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('an order that changes', () => {
  const world = useWorld()

  const sheetOf = async (id: string) => (await world.as('Pilar')).do(ReadOrder, { params: { id } })
  const change = async (
    id: string,
    changed: { charges?: string; reason?: string; lines?: { id: string; quantity: string; price: string }[] },
  ) => {
    const sheet = await sheetOf(id)
    const lines = changed.lines ?? sheet.lines
    return (await world.as('Pilar')).call(ChangeOrder, {
      params: { id },
      body: {
        version: sheet.version,
        title: sheet.title,
        message: sheet.message,
        charges: changed.charges === undefined ? sheet.charges : freight(changed.charges),
        reason: changed.reason ?? 'As agreed.',
        lines: lines.map(({ id: lineId, quantity, price }) => ({
          id: lineId,
          quantity,
          price,
          needBy: null,
          description: 'Mounting set',
        })),
      },
    })
  }
  const act = async (id: string, action: 'cancel' | 'close' | 'reopen' | 'seal', needRemains = false) => {
    const { version } = await sheetOf(id)
    return (await world.as('Pilar')).call(ActOnOrder, {
      params: { id },
      body: { version, action, reason: 'Because of it.', needRemains },
    })
  }
  const offered = async (id: string, action: string): Promise<boolean | undefined> =>
    (await sheetOf(id)).actions.find(one => one.action === action)?.possible
  const around = async (work: () => Promise<unknown>) => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    await work()
    return moved(before, await figures(world, accountId))
  }
  const line = (order: Issued, quantity: string, price: string) => ({ id: order.lines[0]!.id, quantity, price })

  it('moves the commitment by a revision, and keeps what is billed', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    await received(world, order, '9')
    await posted(world, (await billed(world, order, { quantity: '9' })).id)
    const by = await around(async () => {
      expect((await change(order.id, { lines: [line(order, '10', '60')] })).status).to.equal(200)
    })
    expect(by.committed).to.equal(-2500n)
    const rows = await world
      .db('budgetEntries')
      .where({ lineId: order.lines[0]!.id, kind: 'committed' })
      .select('amount')
    expect(rows.reduce((sum, row) => sum + row.amount, 0n)).to.equal(6000n)
  })

  it('takes the same line once, and none of another order', async () => {
    const [order, other] = [
      await ordered(world, [await goodsLine(world, 'PS-1200', '2')]),
      await ordered(world, [await goodsLine(world, 'PS-1200', '2')]),
    ]
    const twice = await change(order.id, { lines: [line(order, '2', '85'), line(order, '1', '85')] })
    expect(twice.status).to.equal(422)
    expect((await change(order.id, { lines: [line(other, '1', '85')] })).status).to.equal(422)
    expect((await sheetOf(order.id)).revision).to.equal(0)
  })

  it('asks nobody again for a little freight, and stops at freight that nobody approved', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    const by = await around(async () => {
      expect((await change(order.id, { charges: '20.00' })).status).to.equal(200)
    })
    expect(by.committed).to.equal(2000n)
    const much = await change(order.id, { charges: '9000.00' })
    expect([much.status, much.codes.length > 0]).to.deep.equal([422, true])
    expect((await sheetOf(order.id)).charges).to.deep.equal(freight('20.00'))
  })

  it('offers on its Sheet what the service does: closing, reopening, sealing', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '4')])
    expect(await offered(order.id, 'close')).to.equal(true)
    const closed = await around(async () => expect((await act(order.id, 'close')).status).to.equal(200))
    expect(closed.committed).to.equal(-34_000n)
    expect((await sheetOf(order.id)).sentence.code).to.not.include('late')
    expect((await act(order.id, 'close')).codes).to.deep.equal(['state.notNow'])
    const reopened = await around(async () => expect((await act(order.id, 'reopen')).status).to.equal(200))
    expect(reopened.committed).to.equal(34_000n)
    await act(order.id, 'close')
    expect(await offered(order.id, 'seal')).to.equal(true)
    expect((await act(order.id, 'seal')).status).to.equal(200)
    const sealed = await sheetOf(order.id)
    expect([sealed.state, sealed.actions.filter(one => one.possible)]).to.deep.equal(['sealed', []])
    expect((await act(order.id, 'reopen')).codes).to.deep.equal(['state.notNow'])
  })

  it('is not sealed while something is in without its bill', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '2')])
    await received(world, order)
    await act(order.id, 'close')
    expect(await offered(order.id, 'seal')).to.equal(false)
    expect((await act(order.id, 'seal')).status).to.equal(422)
    const why = (await sheetOf(order.id)).actions.find(one => one.action === 'seal')!.reasons
    expect((await act(order.id, 'seal')).codes).to.deep.equal(why.map(reason => reason.code))
  })

  it('is cancelled with or without its need, and never once something is in', async () => {
    const without = await around(async () => {
      const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
      expect((await act(order.id, 'cancel')).status).to.equal(200)
    })
    expect([without.committed, without.reserved]).to.deep.equal([0n, 0n])
    const again = await around(async () => {
      const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
      expect((await act(order.id, 'cancel', true)).status).to.equal(200)
    })
    expect([again.committed, again.reserved]).to.deep.equal([0n, 8500n])
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    await received(world, order)
    expect([await offered(order.id, 'cancel'), (await act(order.id, 'cancel')).status]).to.deep.equal([false, 422])
  })

  it('leaves each revision as it was sent', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '3')])
    await change(order.id, { lines: [line(order, '2', '85')] })
    const pilar = await world.as('Pilar')
    expect((await sheetOf(order.id)).revisions.map(one => one.total)).to.deep.equal(['255.00', '170.00'])
    for (const revision of [0, 1])
      expect(await pilar.text(OrderPdf, { params: { id: order.id, revision } })).to.match(/^%PDF-/)
    expect((await pilar.call(OrderPdf, { params: { id: order.id, revision: 2 } })).status).to.equal(404)
  })
})
