import { expect } from 'chai'
import { ChangeOrder, ChargeAsLine, OrderUbl, ReadOrder } from '#contract/order/endpoints.ts'
import { childrenOf, parseXml } from '#core/formats/xml.ts'
import { billed, drafted, freight, goodsLine, issuedFrom, posted, received } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('freight with a line of its own', () => {
  const world = useWorld()
  const sheetOf = async (id: string) => (await world.as('Pilar')).do(ReadOrder, { params: { id } })
  const charge = async (id: string, charges: object[]) => {
    const { version, title, message, lines } = await sheetOf(id)
    const wanted = lines.map(line => ({ id: line.id, quantity: line.quantity, price: line.price, needBy: line.needBy, description: line.description })) // prettier-ignore
    await (await world.as('Pilar')).do(ChangeOrder, { params: { id }, body: { version, title, message, charges: charges as never, reason: '', lines: wanted } }) // prettier-ignore
  }
  const asLine = async (id: string, at = 0, who = 'Pilar') => (await world.as(who)).call(ChargeAsLine, { params: { id }, body: { version: (await sheetOf(id)).version, at } }) // prettier-ignore

  it('is ordered, billed and paid for by itself, by the accounts that it is on, and nobody has to prove it', async () => {
    const accounts = await world.db('budgetAccounts').where({ open: true }).orderBy('id').limit(2).pluck('id')
    const draft = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    await charge(draft.id, [{ ...freight('40.00')[0]!, splits: accounts.map((accountId, at) => ({ accountId, share: String(at + 1) })) }, freight('5.00')[0]!]) // prettier-ignore
    const before = await sheetOf(draft.id)
    expect((await asLine(draft.id)).status).to.equal(200)
    const sheet = await sheetOf(draft.id)
    expect([sheet.total, sheet.charges.map(one => one.amount)]).to.deep.equal([before.total, ['5.00']])
    expect(sheet.lines[1]).to.deep.include({ position: 2, kind: 'fixedPriceWork', description: 'Freight', quantity: '1', price: '40', proof: 'none' }) // prettier-ignore
    const splits = await world.db('lineSplits').where({ orderLineId: sheet.lines[1]!.id }).orderBy('position').select('accountId', 'share') // prettier-ignore
    expect(splits.map(one => [one.accountId, Number(one.share)])).to.deep.equal(accounts.map((id, at) => [id, at + 1]))
    const order = await issuedFrom(world, { ...draft, version: sheet.version })
    const ubl = parseXml(await (await world.as('Pilar')).text(OrderUbl, { params: { id: draft.id, revision: 0 } }))
    expect(childrenOf(ubl, 'OrderLine')).to.have.lengthOf(2)
    const goods = { ...order, lines: order.lines.slice(0, 1) }
    await received(world, goods)
    const bill = await billed(world, order, { freight: '5.00' })
    await posted(world, bill.id)
    expect((await sheetOf(draft.id)).lines.map(line => line.gauge.billed)).to.deep.equal(['10', '1'])
  })

  it('goes with one press for one charge, from a fresh page, by whoever writes orders', async () => {
    const draft = await drafted(world, [await goodsLine(world, 'PS-1200', '10')])
    await charge(draft.id, [{ ...freight('0')[0]!, kind: 'discount', amount: '1.00' }, freight('2.00')[0]!])
    const { version } = await sheetOf(draft.id)
    expect((await asLine(draft.id, 0)).codes).to.deep.equal(['order.charge.discountLine'])
    expect((await asLine(draft.id, 7)).codes).to.deep.equal(['order.charge.gone'])
    expect((await asLine(draft.id, 1, 'Joren')).status).to.equal(403)
    const pilar = await world.as('Pilar')
    const both = await Promise.all([1, 2].map(() => pilar.call(ChargeAsLine, { params: { id: draft.id }, body: { version, at: 1 } }))) // prettier-ignore
    expect(both.map(one => one.status).sort()).to.deep.equal([200, 409])
    const sheet = await sheetOf(draft.id)
    expect([sheet.lines.length, sheet.charges.length]).to.deep.equal([2, 1])
  })
})
