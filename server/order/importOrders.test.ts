import { expect } from 'chai'
import { ImportOrders, Orders, ReadOrder } from '#contract/order/endpoints.ts'
import { Find } from '#contract/people/endpoints.ts'
import { account, billed, figures, type Issued, moved, posted, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

const HEAD = 'order;supplier;description;item;quantity;price;currency;need_by;cost_centre;account\n'

describe('open orders from before', () => {
  const world = useWorld()
  const take = async (rows: string, dryRun = false, who = 'Pilar') => {
    const client = await world.as(who)
    const { id } = (await client.upload('orders.csv', HEAD + rows)).body
    return await client.call(ImportOrders, { body: { fileId: id, dryRun } })
  }
  const supplier = async (state: 'active' | 'barred' = 'active'): Promise<string> => {
    const found = state === 'barred' ? { state } : { state, name: 'Nordhavn Pumpeverk' }
    return (await world.db('suppliers').where(found).first('number'))!.number
  }
  const row = async (order: string, changed: Record<string, string> = {}): Promise<string> => {
    const year = today().slice(0, 4)
    const all = {
      ...{ order, supplier: await supplier(), description: 'Mounting set', item: '', quantity: '4', price: '12,50' },
      ...{ currency: 'EUR', need_by: `${year}-12-30`, cost_centre: 'LS-210', account: '6210' },
      ...changed,
    }
    return `${Object.values(all).join(';')}\n`
  }

  it('are read with every fault at its row, and loaded all or not at all', async () => {
    const barred = await supplier('barred')
    const rows =
      (await row('B-1', { supplier: 'Nobody at all' })) +
      (await row('B-2', { account: '9999' })) +
      (await row('B-3', { item: 'no-such-item' })) +
      (await row('B-4', { supplier: barred })) +
      (await row('B-5')) +
      (await row('B-5', { currency: 'GBP' })) +
      (await row('B-6', { quantity: '1,234' })) +
      (await row('B-7', { currency: 'DKK' }))
    const answer = await take(rows)
    expect(answer.body.loaded).to.equal(0)
    expect(answer.body.faults.map(fault => `${fault.row} ${fault.place} ${fault.code}`)).to.include.members([
      '2 supplier import.noSupplier',
      '3 cost_centre import.noBudget',
      '4 item import.noItem',
      '7 currency import.orderDiffers',
      '8 quantity import.ambiguousNumber',
      '9 currency line.noRate',
    ])
    expect(answer.body.faults.some(fault => fault.row === 5 && fault.place === 'supplier')).to.equal(true)
    expect(await world.db('orders').whereNotNull('formerNumber')).to.deep.equal([])
  })

  it('commit their budget, are found by their old number, mailed to nobody, and go on like any other', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const mails = async (): Promise<number> => (await world.db('outbox').select('id')).length
    const sent = await mails()
    const rows = (await row('PO-4711')) + (await row('PO-4711', { description: 'Spare lid', quantity: '1' }))
    expect((await take(rows, true)).body).to.deep.include({ good: 2, loaded: 0 })
    expect((await take(rows)).body).to.deep.include({ rows: 2, loaded: 2, faultCount: 0 })
    expect(moved(before, await figures(world, accountId))).to.deep.include({ committed: 6250n })
    expect(await mails()).to.equal(sent)
    const pilar = await world.as('Pilar')
    const { found } = await pilar.do(Find, { query: { q: 'PO-4711' } })
    const page = await pilar.do(Orders.page, { query: { view: 'all', q: 'po-4711' } })
    expect(page.rows.map(one => one.title)).to.have.length(1)
    expect(found.map(one => one.path)).to.include(page.rows[0]!.path)
    const sheet = await pilar.do(ReadOrder, { params: { id: page.rows[0]!.id } })
    expect(sheet).to.deep.include({ state: 'issued', title: 'PO-4711: Mounting set and 1 more', total: '62.50' })
    expect(sheet.history.map(one => one.action)).to.include('takenOver')
    expect((await take(rows)).body.faults.map(fault => fault.code)).to.deep.equal([
      'import.orderKnown',
      'import.orderKnown',
    ])
    const order: Issued = { id: sheet.id, number: sheet.number, company: sheet.supplier, lines: sheet.lines }
    await received(world, order)
    await posted(world, (await billed(world, order)).id)
    expect(moved(before, await figures(world, accountId))).to.deep.include({ committed: 0n, spent: 6250n })
  })

  it('are for those who write orders, and stay within a budget that stops', async () => {
    expect((await take(await row('X-1'), false, 'Ines')).status).to.equal(403)
    const huge = await take(await row('X-2', { account: '1510', quantity: '9000', price: '900' }))
    expect([huge.status, huge.codes[0]?.split('.')[0]]).to.deep.equal([422, 'budget'])
    expect(await world.db('orders').where({ formerNumber: 'X-2' })).to.deep.equal([])
  })

  it('start both ledgers where they stand, and go on from there', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const progress = HEAD.replace('\n', ';received;billed;promised\n')
    const client = await world.as('Pilar')
    const rows = (await row('PO-4900', { quantity: '8', price: '13' })).replace(
      '\n',
      `;5;3;${today().slice(0, 4)}-12-28\n`,
    )
    const { id: fileId } = (await client.upload('orders.csv', progress + rows)).body
    expect((await client.do(ImportOrders, { body: { fileId, dryRun: false } })).loaded).to.equal(1)
    const { id } = (await world.db('orders').where({ formerNumber: 'PO-4900' }).first('id'))!
    const sheet = await client.do(ReadOrder, { params: { id } })
    expect([sheet.state, sheet.lines[0]!.done, sheet.lines[0]!.promisedDate?.slice(5)]).to.deep.equal(['acknowledged', '5', '12-28']) // prettier-ignore
    expect(moved(before, await figures(world, accountId))).to.deep.equal({ reserved: 0n, committed: 6500n, spent: 3900n, accrued: 2600n }) // prettier-ignore
    const order: Issued = { id, number: sheet.number, company: sheet.supplier, lines: sheet.lines.map(line => ({ id: line.id, quantity: line.quantity, price: line.price })) } // prettier-ignore
    await received(world, order, '3')
    const one = await billed(world, order, { quantity: '5' })
    await posted(world, one.id)
    expect(moved(before, await figures(world, accountId))).to.deep.equal({ reserved: 0n, committed: 0n, spent: 10_400n, accrued: 0n }) // prettier-ignore
    const done = (await row('PO-4901', { quantity: '8' })).replace('\n', ';8;8;\n')
    const { id: doneId } = (await client.upload('orders.csv', progress + done)).body
    const { faults } = await client.do(ImportOrders, { body: { fileId: doneId, dryRun: false } })
    expect(faults.map(fault => fault.code)).to.deep.equal(['import.orderDone'])
  })
})
