import { expect } from 'chai'
import { EnterInvoice, ReadEntry, ReadPaper } from '#contract/bill/entry.ts'
import { ReadInvoice } from '#contract/bill/endpoints.ts'
import { goodsLine, ordered, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('an invoice that came on paper', () => {
  const world = useWorld()

  it('is typed beside it for what is open of an order, matched like any other, and keeps its paper', async () => {
    const leonie = await world.as('Leonie')
    const order = await ordered(world, [await goodsLine(world, 'SW-1200', '7')])
    await received(world, order)
    const { supplier, orderId, orders } = await leonie.do(ReadEntry, { query: { named: order.number.toLowerCase() } })
    const [line] = orders.find(one => one.id === orderId)!.lines
    expect([orderId, line!.open]).to.deep.equal([order.id, '7'])
    const paper = (await leonie.upload('photo.png', Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64'))).body.id // prettier-ignore
    expect((await leonie.bytes(ReadPaper, { id: paper }, {})).length).to.be.above(50)
    expect((await (await world.as('Wren')).call(ReadPaper, { params: { id: paper } })).status).to.be.oneOf([403, 404])
    const net = Number(line!.price) * 7
    const body = (changed: object = {}) => ({ fileId: paper, supplierId: supplier!.id, number: 'P 17/4', issueDate: today(), dueOn: null, currency: 'EUR', orderId, iban: '', charges: '0.00', gross: (net * 1.21).toFixed(2), lines: [{ orderLineId: line!.id, description: line!.description, quantity: '7', unit: line!.unit, price: line!.price, priceBase: '1', taxCategory: 'S' as const, taxRate: '21' }], ...changed }) // prettier-ignore
    expect((await leonie.call(EnterInvoice, { body: body({ gross: '1.00' }) })).codes).to.deep.equal([
      'enter.sumsApart',
    ])
    const other = (await world.db('suppliers').where({ name: 'Tidewind Printers' }).first('id'))!
    expect((await leonie.call(EnterInvoice, { body: body({ supplierId: other.id }) })).codes).to.deep.equal(['enter.otherOrder']) // prettier-ignore
    expect((await (await world.as('Joren')).call(EnterInvoice, { body: body() })).status).to.equal(403)
    const { id } = await leonie.do(EnterInvoice, { body: body() })
    const sheet = await leonie.do(ReadInvoice, { params: { id } })
    expect([sheet.state, sheet.source, sheet.fileId, sheet.holds]).to.deep.equal(['matched', 'entered', paper, []])
    expect((await leonie.call(EnterInvoice, { body: body({ number: 'p17-4' }) })).codes).to.deep.equal([
      'bill.duplicate',
    ])
  })

  it('without an order waits for whoever links it; another account than the known ones holds it', async () => {
    const leonie = await world.as('Leonie')
    const supplier = (await world.db('suppliers').where({ name: 'Tidewind Printers' }).first('id'))!
    const { orders } = await leonie.do(ReadEntry, { query: { supplierId: supplier.id } })
    expect(orders.every(one => one.lines.length > 0)).to.equal(true)
    const lines = [{ orderLineId: null, description: 'Posters', quantity: '2', unit: 'C62', price: '50', priceBase: '1', taxCategory: 'AE' as const, taxRate: '0' }] // prettier-ignore
    const { id } = await leonie.do(EnterInvoice, { body: { fileId: null, supplierId: supplier.id, number: 'TP-1', issueDate: today(), dueOn: null, currency: 'EUR', orderId: null, iban: 'DE89 3704 0044 0532 0130 00', charges: '5', gross: '105', lines } }) // prettier-ignore
    const { holds, net, charges, payable } = await leonie.do(ReadInvoice, { params: { id } })
    expect([net, charges, payable]).to.deep.equal(['105.00', '5.00', '105.00'])
    expect(holds.map(hold => hold.kind).sort()).to.include.members(['account', 'noOrderLine'])
  })

  it('names its supplier by VAT number or account; what nobody has names none', async () => {
    const leonie = await world.as('Leonie')
    const { value, supplierId } = (await world.db('supplierIdentifiers').where({ scheme: 'vat' }).orderBy('value').first('value', 'supplierId'))! // prettier-ignore
    const account = (await world.db('supplierBankAccounts').whereNot({ state: 'closed' }).orderBy('iban').first('iban', 'supplierId'))! // prettier-ignore
    const named = async (text: string) => (await leonie.do(ReadEntry, { query: { named: text } })).supplier?.id ?? null
    expect([await named(value), await named(account.iban), await named('O-1'), await named('NL000')]).to.deep.equal([supplierId, account.supplierId, null, null]) // prettier-ignore
  })
})
