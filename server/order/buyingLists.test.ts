import { expect } from 'chai'
import { ChangeBuyingList, MakeListedOrders, ReadBuyingList, TakeBuyingList } from '#contract/order/buyingLists.ts'
import { AnswerExcess, AskExcess, IssueOrder, ReadOrder } from '#contract/order/endpoints.ts'
import { account, figures, goodsLine, moved, ordered, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

const HEAD = 'supplier;item;description;quantity;price;currency;need_by;place;cost_centre;account\n'

describe('orders that are written from a list', () => {
  const world = useWorld()
  const year = today().slice(0, 4)
  const row = (changed: object = {}): string => `${Object.values({ supplier: 'Nordhavn Pumpeverk', item: 'PS-1200', description: '', quantity: '2', price: '85', currency: 'EUR', need_by: `${year}-12-30`, place: 'Saltmere Quay', cost_centre: 'LS-210', account: '6210', ...changed }).join(';')}\n` // prettier-ignore
  const take = async (rows: string, who = 'Pilar') => {
    const client = await world.as(who)
    const { id: fileId } = (await client.upload('list.csv', HEAD + rows)).body
    return await client.call(TakeBuyingList, { body: { fileId } })
  }
  const read = async (id: string, who = 'Pilar') => (await world.as(who)).do(ReadBuyingList, { params: { id } })
  const states = async (id: string) => (await read(id)).rows.map(one => `${one.row} ${one.state} ${one.reasons.map(reason => reason.code).join(' ')}`.trim()) // prettier-ignore
  const change = async (id: string, version: number, rows: object[]) => (await world.as('Pilar')).call(ChangeBuyingList, { params: { id }, body: { version, rows: rows as never } }) // prettier-ignore
  const make = async (id: string, version: number) => (await world.as('Pilar')).call(MakeListedOrders, { params: { id }, body: { version } }) // prettier-ignore

  it('show first what is ready, what is refused and why, and what the item cost last', async () => {
    await ordered(world, [await goodsLine(world, 'PS-1200', '1')])
    const { id } = (await take(row() + row({ supplier: 'Nobody' }) + row({ item: '', description: 'Rope', quantity: '1,234' }) + row({ item: 'no-such' }) + row({ item: '', description: 'Rope', quantity: '3', price: '7.50' }))).body // prettier-ignore
    expect(await states(id)).to.deep.equal(['2 ready', '3 refused import.noSupplier', '4 refused import.ambiguousNumber', '5 refused import.noItem', '6 ready']) // prettier-ignore
    const { rows, drafts, version } = await read(id)
    expect(rows[0]!.past).to.deep.include({
      price: '85',
      currency: 'EUR',
      supplier: 'Nordhavn Pumpeverk',
      percent: '0',
    })
    expect([rows[0]!.what, rows[4]!.past]).to.deep.equal(['Mounting set, titanium', null])
    expect(drafts).to.deep.equal([{ supplier: 'Nordhavn Pumpeverk', currency: 'EUR', total: '192.50', rows: [2, 6] }])
    expect(await world.db('orders').where({ direct: true, forInvoiceId: null })).to.deep.equal([])
    expect((await change(id, version, [{ row: 3, cells: { supplier: 'Nordhavn Pumpeverk' } }, { row: 4, left: true }])).status).to.equal(200) // prettier-ignore
    expect((await states(id)).slice(1, 3)).to.deep.equal(['3 ready', '4 left'])
    expect((await change(id, version, [{ row: 4, left: false }])).codes).to.deep.equal(['list.changed'])
  })

  it('are drafted once, approved by whoever holds what pays, and then issued like any other', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const { id } = (await take(row() + row({ currency: 'GBP' }) + row({ supplier: 'Nobody' }))).body
    const made = await make(id, 1)
    expect(made.body.orders).to.have.length(2)
    expect((await make(id, 1)).codes).to.deep.equal(['list.changed'])
    expect((await make(id, 2)).codes).to.deep.equal(['list.nothingReady'])
    expect((await states(id)).map(one => one.split(' ')[1])).to.deep.equal(['made', 'made', 'refused'])
    expect(moved(before, await figures(world, accountId)).committed).to.equal(0n)
    const params = { id: made.body.orders[0]!.id }
    const pilar = await world.as('Pilar')
    const issue = async () => pilar.call(IssueOrder, { params, body: { version: (await pilar.do(ReadOrder, { params })).version } }) // prettier-ignore
    expect((await issue()).codes).to.deep.equal(['order.notApproved'])
    const sheet = await pilar.do(ReadOrder, { params })
    expect(sheet.actions.find(one => one.action === 'askExcess')?.possible).to.equal(true)
    await pilar.do(AskExcess, { params, body: { version: sheet.version, reason: 'For the spring.', wanted: null } })
    const asked = await pilar.do(ReadOrder, { params })
    expect((await pilar.call(AnswerExcess, { params, body: { version: asked.version, answer: 'approve', reason: '' } })).status).to.be.oneOf([403, 422]) // prettier-ignore
    const names = asked.steps.flatMap(one => one.approvers).map(one => one.name.split(' ')[0]!)
    await (await world.as(names[0]!)).do(AnswerExcess, { params, body: { version: asked.version, answer: 'approve', reason: '' } }) // prettier-ignore
    expect((await issue()).status).to.equal(200)
    expect(moved(before, await figures(world, accountId)).committed).to.equal(17_000n)
  })

  it('are nobody else’s, and not for those who write no orders', async () => {
    const { id } = (await take(row())).body
    expect((await (await world.as('Rasmus')).call(ReadBuyingList, { params: { id } })).status).to.be.oneOf([403, 404])
    expect((await take(row(), 'Ines')).status).to.equal(403)
  })

  it('are refused whole where the file is no such list, is empty or too long', async () => {
    const of = async (text: string) => {
      const client = await world.as('Pilar')
      const { id: fileId } = (await client.upload('list.csv', text)).body
      return (await client.call(TakeBuyingList, { body: { fileId } })).codes
    }
    expect(await of('a;b\n1;2\n')).to.deep.equal(['list.columns'])
    expect(await of(HEAD)).to.deep.equal(['list.empty'])
    expect(await of(HEAD + ';;;;;;;;;\n')).to.deep.equal(['list.empty'])
    expect(await of(HEAD + row().repeat(10_001))).to.deep.equal(['list.tooMany'])
  })
})
