import { expect } from 'chai'
import { AskFromPool, PlaceAward } from '#contract/order/awarded.ts'
import { ReadOrder } from '#contract/order/endpoints.ts'
import { AnswerAward, CompareEvent, ProposeAward } from '#contract/source/comparing.ts'
import { InviteSuppliers, ReadEventLog, SendEvent } from '#contract/source/events.ts'
import { answers, kindOf, sheetOf, supplierIds } from '#test-helpers/events.ts'
import { approved, goodsLine } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

const NORD = 'Nordhavn Pumpeverk'
const SEE = 'Seefelder Pumpen GmbH'

describe('a quote request', () => {
  const world = useWorld()

  it('goes from approved lines of several requests to orders, without anything typed twice', async () => {
    const routes = { routes: ['orderNow' as const, 'askForQuotes' as const], routeReason: 'Prices rose.' }
    const one = await approved(world, [await goodsLine(world, 'PS-1200', '2', routes)], 'Pumps for skid 5')
    const other = await approved(world, [await goodsLine(world, 'PS-1220', '4', routes)], 'Pumps for skid 6')
    const lineIds = (await world.db('requisitionLines').whereIn('requisitionId', [one, other]).select('id')).map(row => row.id) // prettier-ignore
    const rasmus = await world.as('Rasmus')
    const { id } = await rasmus.do(AskFromPool, { body: { kindId: await kindOf(world, 'Quote request'), title: 'Pumps', lineIds } }) // prettier-ignore
    const sheet = await sheetOf(world, id)
    expect(sheet.requests).to.have.lengthOf(2)
    expect(sheet.body.lines.map(line => line.quantity)).to.have.members(['2', '4'])
    expect(sheet.lineFacts.every(line => line.account?.startsWith('LS-210'))).to.equal(true)
    const invited = await rasmus.do(InviteSuppliers, { params: { id }, body: { version: sheet.version, supplierIds: await supplierIds(world, [NORD, SEE]) } }) // prettier-ignore
    await rasmus.do(SendEvent, { params: { id }, body: { version: invited.version, reason: '' } })

    const nord = await world.as(`at ${NORD}`)
    expect((await answers(nord, id, ['100', '200'])).status).to.equal(200)
    const see = await world.as(`at ${SEE}`)
    expect((await answers(see, id, ['90', '210'])).status).to.equal(200)
    const sent = await sheetOf(world, id)
    expect(sent.invited.map(one => one.standing)).to.deep.equal(['answered', 'answered'])
    await world
      .db('events')
      .where({ id })
      .update({ endsAt: new Date(Date.now() - 1000).toISOString() })
    const comparison = await rasmus.do(CompareEvent, { params: { id } })
    expect(comparison.reasons).to.deep.equal([])
    const best = comparison.lines.map(line => comparison.suppliers[line.cells.findIndex(cell => cell?.best)]?.name)
    expect(best).to.deep.equal([SEE, NORD])
    const shares = comparison.lines.map((line, index) => ({ lineId: line.id, supplierId: comparison.suppliers.find(one => one.name === best[index])!.supplierId, quantity: line.quantity })) // prettier-ignore
    const proposed = await rasmus.do(ProposeAward, { params: { id }, body: { version: (await sheetOf(world, id)).version, shares, reason: '' } }) // prettier-ignore
    expect(proposed.id).to.equal(id)
    for (let turn = 0; turn < 3 && (await sheetOf(world, id)).state === 'deciding'; turn++) {
      const { steps, version } = await sheetOf(world, id)
      const who = steps.find(step => step.state === 'open')!.approvers[0]!.name.split(' ')[0]!
      await (await world.as(who)).do(AnswerAward, { params: { id }, body: { version, answer: 'approve', reason: '' } })
    }
    const awarded = await sheetOf(world, id)
    expect(awarded.state).to.equal('awarded')
    const placed = await (
      await world.as('Pilar')
    ).do(PlaceAward, {
      params: { id },
      body: { version: awarded.version, how: 'orders', accounts: {}, offers: true, letters: true },
    })
    expect(placed.orders).to.have.lengthOf(2)
    const order = await (await world.as('Pilar')).do(ReadOrder, { params: { id: placed.orders[0]!.id } })
    expect(order.state).to.equal('draft')
    expect((await sheetOf(world, id)).state).to.equal('settled')
    const log = await rasmus.do(ReadEventLog, { params: { id }, query: {} })
    expect(log.holds).to.equal(true)
    expect(log.actions).to.include.members(['sent', 'asked', 'answered', 'awardProposed', 'placed'])
  })
})
