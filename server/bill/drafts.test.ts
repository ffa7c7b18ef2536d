import { expect } from 'chai'
import { DropInvoiceDraft, KeepInvoiceDraft, ReadWhatBills } from '#contract/bill/drafts.ts'
import { billed, goodsLine, ordered, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('an invoice that a supplier begins', () => {
  const world = useWorld()

  it('is kept for the company and not sent, says what would wait, and is gone once it is sent', async () => {
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '5')])
    const params = { id: order.id }
    const theirs = await world.as(`at ${order.company}`)
    const read = async () => await theirs.do(ReadWhatBills, { params })
    const line = async () => (await read()).lines[0]!
    expect([(await line()).open, (await line()).ready, (await line()).why?.code]).to.deep.equal(['5', '0', 'billing.receive']) // prettier-ignore
    const body = { revision: 0, number: 'half', issueDate: '', freight: '1.50', taxCategory: 'AE' as const, taxRate: '0', lines: [{ lineId: order.lines[0]!.id, quantity: '2', price: '7' }] } // prettier-ignore
    await theirs.do(KeepInvoiceDraft, { params, body })
    await theirs.do(KeepInvoiceDraft, { params, body: { ...body, number: 'half again', issueDate: today() } })
    const { by: _by, at: _at, ...kept } = (await read()).draft!
    expect(kept).to.deep.equal({ ...body, number: 'half again', issueDate: today() })
    expect(await world.db('invoices').where({ orderReference: order.number })).to.deep.equal([])
    const other = await world.as('at Brightwater Diving')
    expect((await other.call(KeepInvoiceDraft, { params, body })).status).to.be.oneOf([403, 404])
    expect((await other.call(DropInvoiceDraft, { params })).status).to.be.oneOf([403, 404])
    expect((await (await world.as('Leonie')).call(KeepInvoiceDraft, { params, body })).status).to.equal(403)
    await received(world, order)
    expect([(await line()).ready, (await line()).why]).to.deep.equal(['5', null])
    await billed(world, order)
    expect((await read()).draft).to.equal(null)
    expect([(await line()).open, (await line()).why?.code]).to.deep.equal(['0', 'billing.all'])
    await theirs.do(KeepInvoiceDraft, { params, body })
    await theirs.do(DropInvoiceDraft, { params })
    expect((await read()).draft).to.equal(null)
  })
})
