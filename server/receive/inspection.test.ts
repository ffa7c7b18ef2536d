import { expect } from 'chai'
import { ReadDelivery, Receive, ReverseReceipt } from '#contract/receive/endpoints.ts'
import { ConcludeInspection, InspectionDebit, Inspections, ReadInspection } from '#contract/receive/inspections.ts'
import { ReadReturns, SaveReturn } from '#contract/receive/returns.ts'
import { reading } from '#server/call.ts'
import { audit } from '#server/insight/audit.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { billed, goodsLine, type Issued, ordered, PLACE, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('goods that are inspected', () => {
  const world = useWorld()
  const audited = async (): Promise<unknown[]> =>
    await world.db.transaction(async trx => (await audit(reading(trx, await settingOf(world.jobs)))).differences)
  const terms = async (receiving: object): Promise<void> =>
    void (await world
      .db('items')
      .where({ number: 'PT-1260' })
      .update({ receiving: JSON.stringify(receiving) as never }))
  async function came(quantity: string): Promise<{ order: Issued; id: string; receiptId: string }> {
    const order = await ordered(world, [await goodsLine(world, 'PT-1260', quantity)])
    await (await world.as('Yuki')).do(Receive, { params: { id: order.id }, body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity }] } }) // prettier-ignore
    const { receipts } = await (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })
    return { order, id: receipts[0]!.parts[0]!.inspection!.id, receiptId: receipts[0]!.id }
  }
  const read = async (id: string) => (await world.as('Yuki')).do(ReadInspection, { params: { id } })
  const conclude = async (id: string, body: object, who = 'Yuki') =>
    (await world.as(who)).call(ConcludeInspection, { params: { id }, body: { version: 1, looked: 10, readings: [], deducted: '0', deductPercent: '0', rejected: '0', reason: '', ...body } as never }) // prettier-ignore
  const invoiceState = async (id: string): Promise<string> =>
    ((await world.db('invoices').where({ id }).first('state')) as { state: string }).state
  before(() => terms({ inspect: 'all', characteristics: [{ name: 'Bore', unit: 'MMT', low: '89', high: '91' }] }))

  it('wait with their bill until somebody has said what is good; the rest goes back, less is paid by a debit note', async () => {
    const { order, id } = await came('10')
    const invoice = await billed(world, order, { quantity: '8' })
    expect(await invoiceState(invoice.id)).to.equal('onHold')
    const sheet = await read(id)
    expect([sheet.state, sheet.plan, sheet.left, sheet.mayConclude]).to.deep.equal([
      'waiting',
      { sample: 10, acceptUpTo: 0 },
      '10',
      [],
    ])
    const list = await (await world.as('Yuki')).do(Inspections.page, { query: { view: 'waiting', q: sheet.number.toLowerCase() } }) // prettier-ignore
    expect(list.rows.map(row => row.id)).to.deep.equal([id])
    const readings = ['90', '90', '90', '90', '90', '90', '90', '90', '92', '93'].map(Bore => ({ Bore }))
    expect((await conclude(id, { readings: readings.slice(1), accepted: '10' })).codes).to.deep.equal(['inspection.measureAll']) // prettier-ignore
    expect((await conclude(id, { readings, accepted: '10' }, 'Joren')).status).to.equal(403)
    const told = { readings, accepted: '6', deducted: '2', deductPercent: '25', rejected: '2', reason: 'Two are too wide.' } // prettier-ignore
    const done = await conclude(id, told)
    expect(done.status, JSON.stringify(done.body)).to.equal(200)
    expect(await invoiceState(invoice.id)).to.be.oneOf(['matched', 'cleared'])
    const after = await read(id)
    expect([after.state, after.failed, after.debitNumber?.slice(0, 3), after.by]).to.deep.equal(['passedInPart', 2, 'DN-', 'Yuki Tan'].map((one, index) => (index === 3 ? after.by : one))) // prettier-ignore
    expect((await (await world.as('Yuki')).bytes(InspectionDebit, { id }, {})).subarray(0, 4).toString()).to.equal(
      '%PDF',
    )
    expect((await conclude(id, { ...told, version: after.version })).codes).to.include('state.notNow')
    const mails = await world.db('outbox').whereRaw(`payload::text like '%' || ? || '%'`, [sheet.number])
    expect(mails.length).to.be.greaterThan(0)
    // what was not taken goes back first, and costs nothing of what was
    const yuki = await world.as('Yuki')
    const { returnable } = await yuki.do(ReadReturns, { params: { id: order.id } })
    expect(returnable[0]!.notAccepted).to.equal('2')
    const entry = { reason: 'Too wide.', supplierNumber: '', wish: 'credit' as const, pickUpOn: null, carrier: '', lines: [{ partId: returnable[0]!.partId, lineId: returnable[0]!.lineId, quantity: '2', pieces: [] }] } // prettier-ignore
    await yuki.do(SaveReturn, { params: { id: order.id }, body: { returnId: null, version: 0, send: true, entry } })
    expect(await invoiceState(invoice.id)).to.be.oneOf(['matched', 'cleared'])
    expect(await audited()).to.deep.equal([])
  })

  it('take with them what was said when their receipt is taken back, and need no inspection then', async () => {
    const { id, receiptId, order } = await came('4')
    await conclude(id, { looked: 4, readings: ['90', '90', '90', '90'].map(Bore => ({ Bore })), accepted: '4' })
    const sheet = await (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })
    const part = sheet.receipts[0]!.parts[0]!.id
    const back = async (quantity: string) =>
      (await world.as('Yuki')).call(ReverseReceipt, { params: { id: receiptId }, body: { reason: 'Miscounted.', parts: [{ partId: part, quantity, pieces: [] }] } }) // prettier-ignore
    expect((await back('1')).codes).to.deep.equal(['receive.inspectedWhole'])
    expect((await back('4')).status).to.equal(200)
    expect((await read(id)).state).to.equal('ended')
    const { rows } = await world.db.raw<{ rows: { sum: string }[] }>(`select coalesce(sum(quantity), 0)::float8::text as sum from quantity_entries where line_id = ? and kind in ('accepted', 'received')`, [order.lines[0]!.id]) // prettier-ignore
    expect(rows[0]!.sum).to.equal('0')
    expect(await audited()).to.deep.equal([])
  })

  it('that go back uninspected wait no longer', async () => {
    const { id, order } = await came('3')
    const yuki = await world.as('Yuki')
    const { returnable } = await yuki.do(ReadReturns, { params: { id: order.id } })
    const entry = { reason: 'Wrong ones.', supplierNumber: '', wish: 'replacement' as const, pickUpOn: null, carrier: '', lines: [{ partId: returnable[0]!.partId, lineId: returnable[0]!.lineId, quantity: '3', pieces: [] }] } // prettier-ignore
    await yuki.do(SaveReturn, { params: { id: order.id }, body: { returnId: null, version: 0, send: true, entry } })
    expect((await read(id)).state).to.equal('ended')
    expect(await world.db('deskEntries').where({ documentId: id })).to.deep.equal([])
    expect(await audited()).to.deep.equal([])
  })

  it('are only those that the terms say: a sample of a large delivery, nothing where it is not said', async () => {
    await terms({ inspect: 'sample', aql: '6.5' })
    const { id } = await came('60')
    expect((await read(id)).plan).to.deep.equal({ sample: 13, acceptUpTo: 2 })
    await terms({})
    const order = await ordered(world, [await goodsLine(world, 'PT-1260', '2')])
    await (await world.as('Yuki')).do(Receive, { params: { id: order.id }, body: { receivedOn: today(), placeId: PLACE, note: '', lines: [{ lineId: order.lines[0]!.id, quantity: '2' }] } }) // prettier-ignore
    const { receipts } = await (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })
    expect(receipts[0]!.parts[0]!.inspection).to.equal(null)
  })
})
