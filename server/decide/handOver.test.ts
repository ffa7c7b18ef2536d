import { expect } from 'chai'
import { Decide, HandOver, ReadHandOver } from '#contract/decide/endpoints.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { draft, goodsLine, standIn } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('handing over when somebody leaves', () => {
  const world = useWorld()
  const personId = async (name: string): Promise<string> => (await world.db('people').where('name', 'like', `${name} %`).first('id'))!.id // prettier-ignore

  it('shows what waits and who names them, and gives it to one other person who may decide', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '2')], 'Left behind')
    await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
    await standIn(world, 'Tomas', 'Marit')
    const wren = await world.as('Wren')
    const marit = { params: { id: await personId('Marit') } }
    const before = await wren.do(ReadHandOver, marit)
    expect(before.decisions.map(one => one.title)).to.include('Left behind')
    const dearer = before.decisions.find(one => one.title.startsWith('Spare impellers'))!
    expect(dearer.path, 'what an order may cost waits for her, too').to.match(/^\/order\//)
    expect(before.centres.join()).to.include('LS-210')
    expect(before.standsInFor).to.include('Tomas Brackenfeld')
    const give = async (to: string, who = 'Wren') =>
      (await world.as(who)).call(HandOver, {
        ...marit,
        body: { toPersonId: await personId(to), reason: 'She moves away.' },
      })
    expect((await give('Henrik', 'Marit')).status).to.equal(403)
    expect((await give('Marit')).codes).to.deep.equal(['handOver.self'])
    expect((await give('Ines')).codes).to.deep.equal(['decide.withoutRight'])
    const done = await give('Henrik')
    expect(done.status).to.equal(200)
    expect(done.body.given + done.body.others + done.body.left.length).to.equal(before.decisions.length)
    const order = await (await world.as('Henrik')).do(ReadOrder, { params: { id: dearer.path.slice(7) } })
    expect(order.steps[0]!.approvers.map(one => one.name)).to.deep.equal(['Henrik Solvang-Abe'])
    expect(order.actions.find(one => one.action === 'approveExcess')!.possible).to.equal(true)
    expect(order.history[0]).to.deep.include({ action: 'passedOn', reason: 'She moves away.' })
    const after = await wren.do(ReadHandOver, marit)
    expect([after.below, after.standsInFor]).to.deep.equal([[], []])
    const sheet = await (await world.as('Henrik')).do(ReadRequisition, { params: { id } })
    expect(sheet.steps[0]!.approvers.map(one => one.name)).to.deep.equal(['Henrik Solvang-Abe'])
    await (await world.as('Henrik')).do(Decide, { params: { id }, body: { version: sheet.version, decision: 'approve', reason: '' } }) // prettier-ignore
  })

  it('shows the rules that name somebody who has left', async () => {
    const orla = await (await world.as('Wren')).do(ReadHandOver, { params: { id: await personId('Orla') } })
    expect(orla.open).to.equal(false)
    expect(orla.rules.map(one => one.name)).to.deep.equal(['Exhibit safety, 5 000 to 9 000'])
    expect(orla.decisions.map(one => one.title)).to.include('Inspection dive, ray tank')
  })
})
