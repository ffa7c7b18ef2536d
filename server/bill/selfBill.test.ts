import { expect } from 'chai'
import { SupplierInvoiceDocument, SupplierInvoices, SupplierInvoiceSheet } from '#contract/bill/credits.ts'
import { ReadInvoice, ReadInvoiceFile, SupplierInvoice } from '#contract/bill/endpoints.ts'
import { ReadRecurring } from '#contract/bill/recurring.ts'
import { ChangeSupplier, ReadSupplier } from '#contract/source/endpoints.ts'
import { readEInvoice } from '#core/formats/eInvoice.ts'
import { addDays } from '#core/calendar/days.ts'
import { selfBill } from '#server/bill/selfBill.ts'
import { json } from '#server/database/json.ts'
import { plainInvoice } from '#test-helpers/invoices.ts'
import { billed, goodsLine, ordered, posted, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('bills that we write ourselves', () => {
  const world = useWorld()

  it('are written for what came, once, agree, print as data by the standard, and keep the supplier from billing', async () => {
    const line = await goodsLine(world, 'SW-1200', '12')
    const order = await ordered(world, [line])
    const rasmus = await world.as('Rasmus')
    const params = { id: line.supplierId! }
    const { supplier, version } = await rasmus.do(ReadSupplier, { params })
    expect(await selfBill(world.jobs)).to.equal(0)
    await rasmus.do(ChangeSupplier, { params, body: { ...supplier, defaults: { ...supplier.defaults, selfBilling: 'perReceipt' }, version } }) // prettier-ignore
    await received(world, order, '5')
    await selfBill(world.jobs)
    expect(await selfBill(world.jobs)).to.equal(0)
    await received(world, order, '7')
    await selfBill(world.jobs)
    const them = await world.as(`at ${order.company}`)
    const own = (await them.do(SupplierInvoices, { query: { search: order.number } })).invoices
    expect(own.map(one => one.number).sort()).to.deep.equal([`SB-${order.number}-1`, `SB-${order.number}-2`])
    const first = own.find(one => one.number.endsWith('-1'))!
    const sheet = await (await world.as('Leonie')).do(ReadInvoice, { params: { id: first.id } })
    expect([sheet.state, sheet.source, sheet.lines[0]!.quantity]).to.deep.equal(['matched', 'selfBilled', '5'])
    expect((await them.do(SupplierInvoiceSheet, { params: { id: first.id } })).madeHere).to.equal(true)
    for (const form of ['ubl', 'cii'] as const) {
      const text = readEInvoice((await them.bytes(SupplierInvoiceDocument, { id: first.id }, { form })).toString())
      expect([text.number, text.typeCode, text.lines[0]!.quantity, text.orderReference], form).to.deep.equal([first.number, '389', '5', order.number]) // prettier-ignore
    }
    expect((await them.bytes(SupplierInvoiceDocument, { id: first.id }, { form: 'pdf' })).subarray(0, 5).toString()).to.equal('%PDF-') // prettier-ignore
    await posted(world, first.id)
    const refused = await them.call(SupplierInvoice, { params: { id: order.id }, body: { revision: 0, number: 'MINE-1', issueDate: today(), freight: '0.00', taxCategory: 'AE', taxRate: '0', lines: [{ lineId: order.lines[0]!.id, quantity: '1', price: '1' }] } }) // prettier-ignore
    expect(refused.codes).to.deep.equal(['bill.weBill'])
    const other = await world.as('at Seefelder Pumpen GmbH')
    expect((await other.call(SupplierInvoiceSheet, { params: { id: first.id } })).status).to.equal(404)
  })
})

describe('bills by plan', () => {
  const world = useWorld()

  it('are linked without a reference, held before their time, and missed when they do not come', async () => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '4')])
    const days = [-70, -40, -5, 25].map(ago => addDays(today(), ago))
    await world.db('orderLines').where({ id: order.lines[0]!.id }).update({ proof: 'none', schedule: json(days.map(date => ({ date, quantity: '1', addressId: null, place: '' }))) }) // prettier-ignore
    const leonie = await world.as('Leonie')
    const { price } = order.lines[0]!
    const vat = (await world.db('supplierIdentifiers').join('orders', 'orders.supplierId', 'supplierIdentifiers.supplierId').where('orders.id', order.id).where({ scheme: 'vat' }).first<{ value: string }>('value')).value // prettier-ignore
    const plan = async () => (await leonie.do(ReadRecurring)).plans.find(one => one.order === order.number)!
    expect([(await plan()).missing, (await plan()).expected.map(one => one.state)]).to.deep.equal([2, ['missing', 'missing', 'toCome', 'toCome']]) // prettier-ignore
    const net = Number(price).toFixed(2)
    const read = async (number: string) => {
      const xml = plainInvoice({ number, order: '', vat, quantity: '1', price: net, net, orderLine: '', issueDate: today() }) // prettier-ignore
      const { id } = await leonie.do(ReadInvoiceFile, { body: { fileId: (await leonie.upload(`${number}.xml`, xml)).body.id } }) // prettier-ignore
      return await leonie.do(ReadInvoice, { params: { id } })
    }
    const first = await read('PLAN-1')
    expect([first.lines[0]!.orderNumber, first.holds.filter(hold => hold.endedAt === null).map(hold => hold.kind)]).to.deep.equal([order.number, []]) // prettier-ignore
    await posted(world, first.id)
    expect((await plan()).expected.map(one => one.state)).to.deep.equal(['billed', 'missing', 'toCome', 'toCome'])
    expect(order.company).to.be.a('string')
    await billed(
      world,
      { ...order, lines: order.lines.map(line => ({ ...line, quantity: '3' })) },
      { number: 'PLAN-EARLY' },
    )
    const early = (await world.db('invoices').where({ supplierNumber: 'PLAN-EARLY' }).first('id'))!
    const sheet = await leonie.do(ReadInvoice, { params: { id: early.id } })
    expect(sheet.holds.filter(hold => hold.endedAt === null).map(hold => hold.kind)).to.deep.equal(['early'])
  })
})
