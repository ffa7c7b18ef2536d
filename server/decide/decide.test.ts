import { expect } from 'chai'
import { Decide, Decisions, PassStep, RemindHolders } from '#contract/decide/endpoints.ts'
import { ReadCounts, ReadDesk } from '#contract/desk/endpoints.ts'
import { ChangePerson } from '#contract/setup/endpoints.ts'
import { ActOnRequisition, ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { writing } from '#server/call.ts'
import { refreshAskedOf } from '#server/consent/consentStore.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { draft, goodsLine, standIn, today } from '#test-helpers/steps.ts'
import { type Answer, useWorld } from '#test-helpers/world.ts'

describe('decisions about requests', () => {
  const world = useWorld()

  async function submitted(title: string): Promise<string> {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', '10')], title)
    await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
    return id
  }
  const sheet = async (id: string, who = 'Joren') => (await world.as(who)).do(ReadRequisition, { params: { id } })
  async function decide(
    id: string,
    who: string,
    decision: 'approve' | 'reject' | 'return',
    reason = '',
    version?: number,
  ): Promise<Answer<unknown>> {
    const now = version ?? (await sheet(id)).version
    return await (await world.as(who)).call(Decide, { params: { id }, body: { version: now, decision, reason } })
  }
  const view = async (who: string, name: string, q: string): Promise<number> =>
    (await (await world.as(who)).do(Decisions.page, { query: { view: name, q } })).rows.length
  const personId = async (name: string): Promise<string> =>
    ((await world.db('people').where('name', 'like', `${name} %`).first('id')) as { id: string }).id
  const mails = async (id: string): Promise<string[]> => world.db('outbox').where({ documentId: id }).pluck('key')

  it('are taken by who is asked, once, on what they have seen; the list follows', async () => {
    const id = await submitted('Decided once')
    expect([await view('Marit', 'forMe', 'Decided once'), await view('Tomas', 'forMe', 'Decided once')]).to.deep.equal([
      1, 0,
    ])
    const before = (await sheet(id)).version
    expect((await decide(id, 'Joren', 'approve')).codes).to.deep.equal(['decide.own'])
    expect((await decide(id, 'Tomas', 'approve')).codes).to.deep.equal(['decide.notYours'])
    expect((await decide(id, 'Marit', 'reject')).codes).to.deep.equal(['decide.noReason'])
    expect((await decide(id, 'Marit', 'approve', '', before - 1)).codes).to.deep.equal(['document.changed'])
    expect((await decide(id, 'Marit', 'approve')).status).to.equal(200)
    expect((await decide(id, 'Marit', 'approve')).codes).to.deep.equal(['state.notNow'])
    expect([
      await view('Marit', 'forMe', 'Decided once'),
      await view('Marit', 'decided', 'Decided once'),
    ]).to.deep.equal([0, 1])
    expect((await sheet(id)).state).to.equal('approved')
  })

  it('of two at once one counts', async () => {
    const id = await submitted('Two at once')
    const { version } = await sheet(id)
    const both = await Promise.all([
      decide(id, 'Marit', 'approve', '', version),
      decide(id, 'Marit', 'return', 'Two are enough.', version),
    ])
    expect(both.map(one => one.status).filter(status => status === 200)).to.have.length(1)
    expect(['approved', 'returned']).to.include((await sheet(id)).state)
  })

  it('tell the requester how it ended with the reason, once', async () => {
    for (const [decision, outcome] of [
      ['reject', 'rejected'],
      ['return', 'returned'],
    ] as const) {
      const id = await submitted(`Ends ${outcome}`)
      await decide(id, 'Marit', decision, 'Not this year.')
      const { state, sentence } = await sheet(id)
      expect([state, sentence.details]).to.deep.include.members([outcome])
      expect(JSON.stringify(sentence.details)).to.include('Not this year.')
      expect((await mails(id)).filter(key => key.startsWith(`decided:${id}`))).to.have.length(1)
    }
  })

  it('are taken in the place of somebody on the days on which one stands in, and it is written down', async () => {
    const id = await submitted('In her place')
    expect((await decide(id, 'Henrik', 'approve')).status).to.not.equal(200)
    const later = await standIn(world, 'Marit', 'Henrik', { fromDay: addDays(today(), 1), toDay: addDays(today(), 9) })
    expect((await decide(id, 'Henrik', 'approve')).status, 'not yet').to.not.equal(200)
    await later()
    const end = await standIn(world, 'Marit', 'Henrik')
    expect(await view('Henrik', 'forMe', 'In her place')).to.equal(1)
    expect((await decide(id, 'Henrik', 'approve')).status).to.equal(200)
    const [step] = (await sheet(id)).steps
    expect([step!.decidedBy, step!.inPlaceOf, step!.channel]).to.deep.equal([
      'Henrik Solvang-Abe',
      'Marit Oland',
      'web',
    ])
    await end()
  })

  it('are a stand-in’s up to the limit of the away time, in the list, on the Desk and when they decide', async () => {
    const id = await submitted('Beyond the limit')
    const { total } = await sheet(id)
    const desk = async () =>
      (await (await world.as('Henrik')).do(ReadDesk)).items.some(one => one.path === `/decide/${id}`)
    const counted = async () => (await (await world.as('Henrik')).do(ReadCounts)).stages.find(one => one.stage === 'decide')!.waiting // prettier-ignore
    const without = await counted()
    const less = await standIn(world, 'Marit', 'Henrik', { limit: (Number(total) - 0.01).toFixed(2) })
    expect([await view('Henrik', 'forMe', 'Beyond the limit'), await desk()]).to.deep.equal([0, false])
    expect((await decide(id, 'Henrik', 'approve')).codes).to.deep.equal(['decide.notYours'])
    expect((await sheet(id)).steps[0]).to.deep.include({ stall: 'away' })
    expect(await view('Wren', 'stalled', 'Beyond the limit')).to.equal(1)
    await less()
    expect((await sheet(id)).steps[0]).to.deep.include({ stall: null })
    const enough = await standIn(world, 'Marit', 'Henrik', { limit: total })
    expect([await view('Henrik', 'forMe', 'Beyond the limit'), await desk()]).to.deep.equal([1, true])
    expect(await counted()).to.be.above(without)
    expect((await decide(id, 'Henrik', 'approve')).status).to.equal(200)
    await enough()
  })

  it('are passed on by a steward to somebody who may decide, never to who asked', async () => {
    const id = await submitted('Passed on')
    const step = (await world
      .db('consentSteps as step')
      .join('consents', 'consents.id', 'step.consentId')
      .where({ 'consents.documentId': id, 'step.state': 'open' })
      .first('step.id')) as { id: string }
    const pass = async (who: string, to: string, reason = 'She is away.'): Promise<Answer<unknown>> =>
      (await world.as(who)).call(PassStep, {
        params: { id, stepId: step.id },
        body: { version: (await sheet(id)).version, toPersonId: await personId(to), reason },
      })
    expect((await pass('Pilar', 'Tomas')).status).to.equal(403)
    expect((await pass('Wren', 'Ines')).codes).to.deep.equal(['decide.withoutRight'])
    expect((await pass('Wren', 'Joren')).status).to.equal(422)
    expect((await pass('Wren', 'Tomas')).status).to.equal(200)
    expect([await view('Marit', 'forMe', 'Passed on'), await view('Tomas', 'forMe', 'Passed on')]).to.deep.equal([0, 1])
    expect((await decide(id, 'Marit', 'approve')).status).to.not.equal(200)
    expect((await decide(id, 'Tomas', 'approve')).status).to.equal(200)
  })

  it('are only for those who still have the right: without it they stand still until somebody passes them on', async () => {
    const id = await submitted('Lost the right')
    const marit = await personId('Marit')
    const end = await standIn(world, 'Marit', 'Henrik')
    const wren = await world.as('Wren')
    const change = async (roles: { role: string; costCentre: string | null }[], active = true) => {
      const { version } = (await world.db('people').where({ id: marit }).first('version'))!
      return await wren.call(ChangePerson, { params: { id: marit }, body: { version, active, roles } })
    }
    const shownAnew = async (): Promise<void> => {
      const setting = await settingOf(world.jobs)
      await world.db.transaction(trx => refreshAskedOf(writing(trx, setting), marit))
    }
    const before = await world.db('personRoles').where({ personId: marit }).select('role', 'costCentre')
    expect((await change([{ role: 'requester', costCentre: null }])).body.waits).to.equal(false)
    expect((await decide(id, 'Marit', 'approve')).codes).to.deep.equal(['decide.notYours'])
    expect((await decide(id, 'Henrik', 'approve')).codes, 'in her place').to.deep.equal(['decide.notYours'])
    expect([
      await view('Marit', 'forMe', 'Lost the right'),
      await view('Henrik', 'forMe', 'Lost the right'),
    ]).to.deep.equal([0, 0])
    expect(await view('Wren', 'stalled', 'Lost the right')).to.equal(1)
    expect((await sheet(id)).steps[0]).to.deep.include({ state: 'open', stalled: true })
    const next = await submitted('Asked without the right')
    expect((await sheet(next)).steps[0]).to.deep.include({ stalled: true })
    await world
      .db('personRoles')
      .insert(before.map(one => ({ personId: marit, ...one })))
      .onConflict()
      .ignore()
    await shownAnew()
    expect((await decide(id, 'Henrik', 'approve')).status).to.equal(200)
    expect((await decide(next, 'Marit', 'approve')).status).to.equal(200)
    await world.db('people').where({ id: marit }).update({ active: false })
    await shownAnew()
    const third = await submitted('Stands in for nobody')
    expect((await decide(third, 'Henrik', 'approve')).codes).to.deep.equal(['decide.notYours'])
    await world.db('people').where({ id: marit }).update({ active: true })
    await shownAnew()
    await end()
  })

  it('are asked for again once a day, by the requester only', async () => {
    const id = await submitted('Reminded')
    const remind = async (who: string): Promise<Answer<unknown>> =>
      (await world.as(who)).call(RemindHolders, { params: { id } })
    expect((await remind('Ines')).codes).to.deep.equal(['right.notYours'])
    expect((await remind('Joren')).status).to.equal(200)
    expect((await remind('Joren')).codes).to.deep.equal(['remind.already'])
    expect((await mails(id)).filter(key => key.startsWith('remind:'))).to.have.length(1)
    await world
      .db('requisitions')
      .where({ id })
      .update({ remindedAt: addDays(today(), -2) })
    expect((await remind('Joren')).status).to.equal(200)
  })

  it('end with the question: withdrawn, it waits for nobody, and a late answer is told so', async () => {
    const id = await submitted('Withdrawn')
    const { version } = await sheet(id)
    await (await world.as('Joren')).do(ActOnRequisition, { params: { id }, body: { version, action: 'withdraw' } })
    expect(await view('Marit', 'forMe', 'Withdrawn')).to.equal(0)
    const late = await decide(id, 'Marit', 'approve')
    expect([late.status, late.codes]).to.deep.equal([409, ['state.notNow']])
    expect((await decide(id, 'Marit', 'approve', '', version)).codes).to.deep.equal(['document.changed'])
  })
})
