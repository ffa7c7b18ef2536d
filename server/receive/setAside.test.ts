import { expect } from 'chai'
import { ReadDelivery } from '#contract/receive/endpoints.ts'
import { AccruedFile, ReadAccrued } from '#contract/receive/overdue.ts'
import { EndSetAside, LinkSetAside, ReadSetAside, SetAside } from '#contract/receive/setAside.ts'
import { minor, sumMinor } from '#core/money/amount.ts'
import { goodsLine, ordered, PLACE } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('what nobody ordered', () => {
  const world = useWorld()
  const entry = { description: 'Crate of flanges', quantity: '3', unit: 'C62', supplierId: null, marks: 'NSP-9', bin: 'Cage', note: 'No paper.', placeId: PLACE } // prettier-ignore
  const aside = async (changed: object = {}) => {
    const buyerId = ((await world.db('people').where('name', 'like', 'Pilar%').first('id')) as { id: string }).id
    const { id } = await (await world.as('Yuki')).do(SetAside, { body: { ...entry, buyerId, ...changed } })
    return id
  }
  const row = async (id: string) => (await (await world.as('Yuki')).do(ReadSetAside)).rows.find(one => one.id === id)!

  it('is linked to the line that it belongs to: it is counted there, and where more came than may, a reason is asked first', async () => {
    const id = await aside({ quantity: '5' })
    expect((await world.db('deskEntries').where({ documentId: id })).map(one => one.key)).to.deep.equal(['setAside'])
    const order = await ordered(world, [await goodsLine(world, 'PT-1240', '4')])
    const link = async (version: number, checkReason = '') =>
      (await world.as('Pilar')).call(LinkSetAside, { params: { id }, body: { version, orderId: order.id, lineId: order.lines[0]!.id, checkReason } }) // prettier-ignore
    expect((await link(1)).codes).to.include('receive.wantsReason')
    const done = await link(1, 'One more is of use.')
    expect(done.status, JSON.stringify(done.body)).to.equal(200)
    const { receipts } = await (await world.as('Yuki')).do(ReadDelivery, { params: { id: order.id } })
    expect([receipts[0]!.parts[0]!.quantity, receipts[0]!.parts[0]!.bin, receipts[0]!.note]).to.deep.equal(['5', 'Cage', receipts[0]!.note]) // prettier-ignore
    const after = await row(id)
    expect([after.state, after.outcome, after.path]).to.deep.equal(['linked', receipts[0]!.number, `/receive/${order.id}`]) // prettier-ignore
    expect((await link(after.version, 'So.')).codes).to.include('state.notNow')
    expect(await world.db('deskEntries').where({ documentId: id })).to.deep.equal([])
  })

  it('goes back or is settled with a word, is told to its buyer by mail, and is put aside by who receives alone', async () => {
    const id = await aside()
    expect((await world.db('outbox').where({ documentId: id })).length).to.equal(1)
    const end = async (reason: string, who = 'Yuki') =>
      (await world.as(who)).call(EndSetAside, { params: { id }, body: { version: 1, how: 'giveBack', reason } })
    expect((await end('Taken along.', 'Joren')).status).to.equal(403)
    expect((await end('Taken along.')).status).to.equal(200)
    expect((await row(id)).state).to.equal('gaveBack')
    expect((await end('Again.')).status).to.not.equal(200)
    expect((await (await world.as('Joren')).call(SetAside, { body: { ...entry, buyerId: null } })).status).to.equal(403)
    expect((await (await world.as('Yuki')).call(SetAside, { body: { ...entry, buyerId: null, placeId: '00000000-0000-4000-8000-00000000dead' } })).status).to.not.equal(200) // prettier-ignore
    expect((await (await world.as('Yuki')).call(SetAside, { body: { ...entry, buyerId: null, quantity: '0' } })).codes).to.deep.equal(['receive.quantity']) // prettier-ignore
  })

  it('what came in and is not billed stands by account as of any day, and adds up to what the budgets have accrued', async () => {
    const finance = await world.as('Adaeze')
    const now = await finance.do(ReadAccrued)
    const { rows } = await world.db.raw<{ rows: [{ sum: string }] }>(`select coalesce(sum(amount), 0)::text as sum from budget_balances where kind = 'accrued'`) // prettier-ignore
    const cents = (text: string): bigint => BigInt(text.replace('.', ''))
    expect(cents(now.total)).to.equal(BigInt(rows[0].sum))
    expect(sumMinor(now.accounts.map(one => minor(cents(one.amount))))).to.equal(cents(now.total))
    for (const one of now.accounts)
      expect(sumMinor(one.lines.map(line => minor(cents(line.amount)))), one.account).to.equal(cents(one.amount))
    const before = await finance.do(ReadAccrued, { query: { on: '2000-01-31' } })
    expect([before.accounts, before.total]).to.deep.equal([[], '0.00'])
    const file = (await finance.bytes(AccruedFile, {}, { on: now.on })).toString()
    expect(file.split('\n')[0]).to.equal('account,order,supplier,description,received,billed,unit,accrued,currency')
    expect(file.trim().split('\n')).to.have.length(1 + now.accounts.flatMap(one => one.lines).length)
  })
})
