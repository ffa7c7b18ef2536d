import { expect } from 'chai'
import { PutOff, ReadCounts, ReadDesk, ReadDone } from '#contract/desk/endpoints.ts'
import { Decide } from '#contract/decide/endpoints.ts'
import { ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import type { LineBody } from '#contract/request/lines.ts'
import { STAGES } from '#core/desk/entry.ts'
import { addDays } from '#core/calendar/days.ts'
import { account, draft, goodsLine, ordered, PLACE, received, today, standIn } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('the Desk', () => {
  const world = useWorld()

  const paths = async (who: string): Promise<string[]> =>
    (await (await world.as(who)).do(ReadDesk)).items.map(item => item.path)

  it('counts for everybody what it shows, stage by stage', async () => {
    for (const who of ['Pilar', 'Marit', 'Yuki', 'Leonie', 'Casimir', 'Adaeze', 'Joren', 'Ines', 'Rasmus', 'Wren']) {
      const client = await world.as(who)
      const { items } = await client.do(ReadDesk)
      const { desk, stages } = await client.do(ReadCounts)
      expect(desk, who).to.equal(items.length)
      for (const stage of STAGES)
        expect(stages.find(one => one.stage === stage)?.waiting, `${who}, ${stage}`).to.equal(
          items.filter(item => item.stage === stage).length,
        )
    }
  })

  it('shows an entry once to whoever it reaches in two ways', async () => {
    for (const who of ['Pilar', 'Adaeze']) {
      const { items } = await (await world.as(who)).do(ReadDesk)
      expect(new Set(items.map(item => item.key)).size).to.equal(items.length)
    }
  })

  it('brings every kind of line to those who prove it', async () => {
    const supplier = (await world.db('suppliers').where({ name: 'Brightwater Diving' }).first('id'))!
    const work = async (kind: LineBody['kind'], changed: Partial<LineBody>): Promise<LineBody> => ({
      kind,
      itemId: null,
      offerId: null,
      description: `A line of ${kind}`,
      quantity: '1',
      unit: 'E48',
      price: '400',
      priceBase: '1',
      currency: 'EUR',
      supplierId: supplier.id,
      needBy: addDays(today(), 1),
      addressId: PLACE,
      splits: [{ accountId: await account(world, 'EX-310', '6310'), share: '1' }],
      ...changed,
    })
    const orders = {
      workByRate: await ordered(world, [
        await work('workByRate', { unit: 'HUR', quantity: '4', price: '90', details: { expected: '3' } }),
      ]),
      fixedPriceWork: await ordered(world, [await work('fixedPriceWork', {})]),
      goods: await ordered(world, [await goodsLine(world, 'PS-1200', '1', { needBy: addDays(today(), 1) })]),
    }
    const [requester, receiver] = [await paths('Joren'), await paths('Yuki')]
    for (const kind of ['workByRate', 'fixedPriceWork'] as const) {
      expect(requester, kind).to.include(`/receive/${orders[kind].id}`)
      expect(receiver, kind).to.not.include(`/receive/${orders[kind].id}`)
    }
    expect(receiver).to.include(`/receive/${orders.goods.id}`)
    await received(world, orders.goods)
    expect(await paths('Yuki')).to.not.include(`/receive/${orders.goods.id}`)
  })

  it('of a decider holds a request from the moment it is submitted until it is decided', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    expect(await paths('Marit')).to.not.include(`/decide/${id}`)
    const sent = await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
    expect(await paths('Marit')).to.include(`/decide/${id}`)
    await (
      await world.as('Marit')
    ).do(Decide, { params: { id }, body: { version: sent.version, decision: 'approve', reason: '' } })
    expect(await paths('Marit')).to.not.include(`/decide/${id}`)
  })

  it('reaches whoever stands in for somebody, who then decides in their name', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '2')])
    const sent = await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
    const decision = { params: { id }, body: { version: sent.version, decision: 'approve' as const, reason: '' } }
    expect((await (await world.as('Tomas')).call(Decide, decision)).codes).to.deep.equal(['decide.notYours'])
    const end = await standIn(world, 'Marit', 'Tomas')
    expect(await paths('Tomas')).to.include(`/decide/${id}`)
    await (await world.as('Tomas')).do(Decide, decision)
    const sheet = await (await world.as('Joren')).do(ReadRequisition, { params: { id } })
    const decided = sheet.history.find(one => one.action === 'approve')
    expect([decided?.actor.split(' ')[0], decided?.onBehalfOf?.split(' ')[0]]).to.deep.equal(['Tomas', 'Marit'])
    await end()
    expect(await paths('Tomas')).to.not.include(`/decide/${id}`)
  })

  it('lets go of what is put off until its day, for this person alone, and counts without it', async () => {
    const pilar = await world.as('Pilar')
    const before = await pilar.do(ReadDesk)
    const counts = await pilar.do(ReadCounts)
    const [first, second] = before.items
    const until = addDays(today(), 3)
    await pilar.do(PutOff, { body: { keys: [first!.key, second!.key, first!.key], until } })
    const after = await pilar.do(ReadDesk)
    expect(after.items.map(item => item.key)).to.deep.equal(before.items.slice(2).map(item => item.key))
    expect(after.later.map(one => [one.key, one.until])).to.have.deep.members([
      [first!.key, until],
      [second!.key, until],
    ])
    const now = await pilar.do(ReadCounts)
    expect(now.desk).to.equal(counts.desk - 2)
    for (const { stage, waiting } of now.stages)
      expect(waiting, stage).to.equal(after.items.filter(item => item.stage === stage).length)
    // the day comes
    await world
      .db('putOff')
      .where({ key: first!.key.split(':')[0]! })
      .update({ until: today() })
    await pilar.do(PutOff, { body: { keys: [second!.key], until: null } })
    expect(await pilar.do(ReadDesk)).to.deep.include({ items: before.items, later: [] })
    expect((await pilar.do(ReadCounts)).desk).to.equal(counts.desk)
  })

  it('puts off to days to come only, and only what can be on a Desk', async () => {
    const pilar = await world.as('Pilar')
    const { items } = await pilar.do(ReadDesk)
    const put = async (keys: string[], until: string) => (await pilar.call(PutOff, { body: { keys, until } })).codes
    expect(await put([items[0]!.key], today())).to.deep.equal(['desk.putOffDay'])
    for (const key of ['late', 'late:x', `nothing:${items[0]!.documentId}`, `late:99999:${items[0]!.documentId}`, ''])
      expect(await put([key], addDays(today(), 1)), key).to.deep.equal(['desk.unknown'])
  })

  it('says in whose place something waits', async () => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '3')])
    await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
    const end = await standIn(world, 'Marit', 'Tomas', { toDay: addDays(today(), 3) })
    const item = async (who: string) =>
      (await (await world.as(who)).do(ReadDesk)).items.find(one => one.path === `/decide/${id}`)
    expect((await item('Marit'))?.standsInFor).to.equal(null)
    expect((await item('Tomas'))?.standsInFor).to.equal('Marit Oland')
    await end()
  })

  it('keeps what was done today, by this person, as far as they still see it', async () => {
    const joren = await world.as('Joren')
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '1')])
    await joren.do(SubmitRequisition, { params: { id }, body: { version } })
    const { count, done } = await joren.do(ReadDone)
    expect(done[0]).to.deep.include({ action: 'submitted', kind: 'requisition', path: `/request/${id}` })
    expect(count).to.be.at.least(done.length)
    expect((await (await world.as('Dov')).do(ReadDone)).done.map(one => one.path)).to.not.include(`/request/${id}`)
  })
})
