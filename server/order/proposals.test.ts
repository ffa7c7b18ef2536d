import { expect } from 'chai'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { DraftGroups, KeepPoolRules, ReadProposals } from '#contract/order/pool.ts'
import { approved, goodsLine } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('orders that are proposed of the pool', () => {
  const world = useWorld()
  const pilar = () => world.as('Pilar')
  const read = async () => (await pilar()).do(ReadProposals)
  const linesOf = async (requisitionId: string) => (await world.db('requisitionLines').where({ requisitionId }).orderBy('position').pluck('id')) as string[] // prettier-ignore
  const draft = async (groups: { route: 'orderNow' | 'callOff'; lineIds: string[] }[]) => (await pilar()).call(DraftGroups, { body: { groups } }) // prettier-ignore

  it('are made of what waits and can be bought, with what each supplier wants of an order', async () => {
    const id = await approved(world, await Promise.all(['PS-1200', 'PS-1220'].map(number => goodsLine(world, number, '2')))) // prettier-ignore
    const { lines, limits, left, rules } = await read()
    const own = await linesOf(id)
    expect(lines.filter(line => own.includes(line.id)).map(line => [line.quantity, line.supplier, line.currency])).to.deep.equal([['2', 'Nordhavn Pumpeverk', 'EUR'], ['2', 'Nordhavn Pumpeverk', 'EUR']]) // prettier-ignore
    const { supplierId } = lines.find(line => own.includes(line.id))!
    expect(limits.find(one => one.supplierId === supplierId)).to.deep.include({ currency: 'EUR', minimumOrder: '250.00', freight: '45.00', freightFrom: '1000.00' }) // prettier-ignore
    for (const one of left) expect(one.reasons.length).to.equal(1)
    expect(rules).to.deep.equal({ byPlace: false, byIncoterm: true, windowDays: 30 })
    await (await pilar()).do(KeepPoolRules, { body: { byPlace: true, byIncoterm: false, windowDays: null } })
    expect((await read()).rules).to.deep.equal({ byPlace: true, byIncoterm: false, windowDays: null })
    expect((await (await world.as('Ines')).call(ReadProposals)).status).to.equal(403)
  })

  it('become drafts as they were put together, all or none, and each line once', async () => {
    const id = await approved(world, await Promise.all(['PS-1200', 'PS-1220', 'PS-1240'].map(number => goodsLine(world, number, '2')))) // prettier-ignore
    const [a, b, c] = (await linesOf(id)) as [string, string, string]
    const of = (...groups: string[][]) => groups.map(lineIds => ({ route: 'orderNow' as const, lineIds }))
    expect((await draft(of([a, b], [b]))).codes).to.deep.equal(['pool.lineTwice'])
    expect((await draft([{ route: 'callOff', lineIds: [a] }])).status).to.equal(422)
    const other = await linesOf(await approved(world, [await goodsLine(world, 'SH-1200', '1')]))
    expect((await draft(of([a], [b, ...other]))).codes).to.deep.equal(['pool.notOneOrder'])
    expect(await world.db('orderLines').whereIn('requisitionLineId', [a, b, c])).to.deep.equal([])
    const { orders } = (await draft(of([a, c], [b]))).body
    const sheets = await Promise.all(orders.map(async one => (await pilar()).do(ReadOrder, { params: { id: one.id } })))
    expect(sheets.map(one => [one.state, one.lines.length])).to.deep.equal([['draft', 2], ['draft', 1]]) // prettier-ignore
    expect((await draft(of([a]))).codes).to.deep.equal(['order.lineNotToBuy'])
    expect((await read()).lines.map(line => line.id)).to.not.include.members([a, b, c])
  })
})
