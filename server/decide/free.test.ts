import { expect } from 'chai'
import {
  AddStep,
  AnswerSkip,
  Decide,
  FreeRequest,
  PassStep,
  ReadCandidates,
  ReadMyDecisions,
  SkipStep,
} from '#contract/decide/endpoints.ts'
import { ReadLimits, type RuleJson, SaveLimits } from '#contract/rules/endpoints.ts'
import { ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { ChangePerson, ListPeople } from '#contract/setup/endpoints.ts'
import { DropEntry, ReadRegister, SaveEntry } from '#contract/setup/registers.ts'
import { writing } from '#server/call.ts'
import { refreshAskedOf } from '#server/consent/consentStore.ts'
import { watchDecisions } from '#server/decide/watch.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { putInForce, rulesNow } from '#test-helpers/ruleVersions.ts'
import { draft, goodsLine, standIn } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('what cannot move by itself', () => {
  const world = useWorld()
  const submitted = async (title: string, quantity = '10'): Promise<string> => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', quantity)], title)
    await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
    return id
  }
  const sheet = async (id: string, who = 'Joren') => (await world.as(who)).do(ReadRequisition, { params: { id } })
  const personId = async (name: string): Promise<string> => (await world.db('people').where('name', 'like', `${name} %`).first('id'))!.id // prettier-ignore
  const decide = async (id: string, who: string, decision: 'approve' | 'reject' = 'approve') =>
    (await world.as(who)).call(Decide, { params: { id }, body: { version: (await sheet(id)).version, decision, reason: 'Because.' } }) // prettier-ignore
  const holder = (changed: Partial<RuleJson>): RuleJson => ({
    ...rules.find(rule => rule.who.kind === 'holder')!,
    ...changed,
  })
  let rules: readonly RuleJson[]
  before(async () => {
    rules = await rulesNow(world)
  })
  const watched = (): Promise<number> => watchDecisions(world.jobs)
  const add = async (id: string, who: string, to: string, reason = 'She knows the pumps.') =>
    (await world.as(who)).call(AddStep, { params: { id }, body: { version: (await sheet(id)).version, personId: await personId(to), reason } }) // prettier-ignore
  const skip = async (id: string, who: string, stepId: string) =>
    (await world.as(who)).call(SkipStep, { params: { id, stepId }, body: { version: (await sheet(id)).version, reason: 'He is ill.' } }) // prettier-ignore

  it('stands still when limits are lowered below what waits, and nobody above decides it; somebody with enough does', async () => {
    const id = await submitted('Above a lowered limit')
    const wren = await world.as('Wren')
    const marit = await personId('Marit')
    const limit = async (limits: { kind: 'requisition'; amount: string }[]) =>
      wren.call(SaveLimits, { params: { id: marit }, body: { version: (await wren.do(ReadLimits, { params: { id: marit } })).version, limits } }) // prettier-ignore
    expect((await limit([{ kind: 'requisition', amount: '5.00' }])).status).to.equal(200)
    expect((await sheet(id)).steps.map(step => step.stall)).to.deep.equal(['limit'])
    expect((await sheet(id)).sentence.code).to.equal('requisition.is.stalled')
    expect((await decide(id, 'Marit')).codes).to.deep.equal(['decide.aboveLimit'])
    expect((await wren.do(ReadMyDecisions, { query: { part: 'stalled' } })).items.find(one => one.documentId === id)!.stall).to.equal('limit') // prettier-ignore
    const { steps, version } = await sheet(id)
    await wren.do(PassStep, { params: { id, stepId: steps[0]!.id! }, body: { version, toPersonId: await personId('Henrik'), reason: 'Too much for her.' } }) // prettier-ignore
    expect((await sheet(id)).steps.map(step => step.stall)).to.deep.equal([null])
    expect((await decide(id, 'Henrik')).status).to.equal(200)
    await world.db('personLimits').where({ personId: marit }).del()
    const setting = await settingOf(world.jobs)
    await world.db.transaction(trx => refreshAskedOf(writing(trx, setting), marit))
  })

  it('is passed on to somebody with authority: candidates are those with a high enough limit, who are there', async () => {
    const id = await submitted('Candidates')
    const wren = await world.as('Wren')
    const { candidates } = await wren.do(ReadCandidates, { params: { id } })
    expect(candidates.map(one => one.name))
      .to.include('Tomas Brackenfeld')
      .and.not.include('Joren Vaskuil')
    const tomas = await personId('Tomas')
    const { version } = await wren.do(ReadLimits, { params: { id: tomas } })
    await wren.do(SaveLimits, {
      params: { id: tomas },
      body: { version, limits: [{ kind: 'requisition', amount: '10.00' }] },
    })
    const later = (await wren.do(ReadCandidates, { params: { id } })).candidates.find(one => one.id === tomas)!
    expect([later.limit, later.enough]).to.deep.equal(['10.00', false])
    const { steps, version: now } = await sheet(id)
    const passed = await wren.call(PassStep, { params: { id, stepId: steps[0]!.id! }, body: { version: now, toPersonId: tomas, reason: 'Away.' } }) // prettier-ignore
    expect(passed.codes).to.deep.equal(['decide.belowLimit'])
    await world.db('personLimits').where({ personId: tomas }).delete()
  })

  it('is never skipped where nobody else decides; a step beside others is, small amounts by one steward', async () => {
    const id = await submitted('Skipped', '1')
    const { steps } = await sheet(id)
    expect((await skip(id, 'Wren', steps[0]!.id!)).codes).to.deep.equal(['decide.lastStep'])
    expect((await add(id, 'Pilar', 'Henrik')).codes).to.deep.equal(['right.notYours'])
    expect((await add(id, 'Joren', 'Joren')).codes).to.include('decide.own')
    expect((await add(id, 'Joren', 'Ines')).codes).to.deep.equal(['decide.withoutRight'])
    expect((await add(id, 'Joren', 'Henrik')).status).to.equal(200)
    expect((await add(id, 'Joren', 'Henrik')).codes).to.deep.equal(['decide.askedAlready'])
    const added = (await sheet(id)).steps.find(step => step.approvers.some(one => one.name.startsWith('Henrik')))!
    expect([added.state, added.approvers[0]!.because]).to.deep.equal(['open', 'added'])
    await decide(id, 'Henrik')
    expect((await sheet(id)).state).to.equal('waiting')
    expect((await skip(id, 'Marit', steps[0]!.id!)).status).to.equal(403)
    const done = await skip(id, 'Wren', steps[0]!.id!)
    expect([done.status, done.body.waits]).to.deep.equal([200, false])
    const after = await sheet(id)
    expect([after.state, after.steps.map(step => step.state).sort()]).to.deep.equal([
      'approved',
      ['approved', 'skipped'],
    ])
    expect(after.history.find(one => one.action === 'skipped')?.reason).to.equal('He is ill.')
  })

  it('is skipped by two above an amount; the question ends with the request', async () => {
    const two = async (title: string): Promise<{ id: string; stepId: string }> => {
      const id = await submitted(title, '60')
      await add(id, 'Joren', 'Henrik')
      const step = (await sheet(id)).steps.find(one => one.approvers.some(other => other.name.startsWith('Henrik')))!
      return { id, stepId: step.id! }
    }
    const { id, stepId } = await two('Skipped by two')
    expect((await skip(id, 'Wren', stepId)).body.waits).to.equal(true)
    const answer = async (who: string, agrees: boolean, of = id) =>
      (await world.as(who)).call(AnswerSkip, { params: { id: of }, body: { version: (await sheet(of)).version, agrees, reason: 'Not yet.' } }) // prettier-ignore
    expect((await answer('Wren', true)).status).to.equal(422)
    await world.db('personRoles').insert({ personId: await personId('Adaeze'), role: 'steward', costCentre: null })
    expect((await sheet(id, 'Adaeze')).actions.find(one => one.action === 'agreeSkip')?.possible).to.equal(true)
    expect((await answer('Adaeze', false)).status).to.equal(200)
    expect((await sheet(id)).steps.find(one => one.id === stepId)!.state).to.equal('open')
    expect((await skip(id, 'Wren', stepId)).body.waits).to.equal(true)
    expect((await answer('Adaeze', true)).status).to.equal(200)
    expect((await sheet(id)).steps.find(one => one.id === stepId)!.state).to.equal('skipped')
    const other = await two('Ends before')
    await skip(other.id, 'Wren', other.stepId)
    await decide(other.id, 'Marit', 'reject')
    expect((await answer('Adaeze', true, other.id)).status).to.not.equal(200)
    await world
      .db('personRoles')
      .where({ personId: await personId('Adaeze'), role: 'steward' })
      .delete()
  })

  it('goes back to its requester, who submits it anew, or is asked for by the rules of today', async () => {
    const id = await submitted('Sent back')
    const free = async (of: string, how: 'sendBack' | 'askAgain', who = 'Wren') =>
      (await world.as(who)).call(FreeRequest, { params: { id: of }, body: { version: (await sheet(of)).version, how, reason: 'Stuck.' } }) // prettier-ignore
    expect((await free(id, 'sendBack', 'Marit')).status).to.equal(403)
    expect((await free(id, 'sendBack')).status).to.equal(200)
    expect((await sheet(id)).state).to.equal('returned')
    const again = await submitted('Asked again')
    await add(again, 'Joren', 'Henrik')
    await decide(again, 'Marit')
    expect((await free(again, 'askAgain')).status).to.equal(200)
    const after = await sheet(again)
    expect(after.steps.map(step => [step.approvers[0]!.name.split(' ')[0], step.state]), 'her decision stands, whoever was added is not taken away').to.have.deep.members([['Marit', 'approved'], ['Henrik', 'open']]) // prettier-ignore
    await decide(again, 'Henrik')
    expect((await sheet(again)).state).to.equal('approved')
    expect((await free(again, 'askAgain')).codes).to.deep.equal(['state.notNow'])
  })

  it('has its time on the days and clocks of where whoever decides works', async () => {
    const wren = await world.as('Wren')
    const entry = (register: 'calendars' | 'sites', values: Record<string, string>) =>
      wren.do(SaveEntry, { params: { register }, body: { id: null, version: 1, values, open: true } })
    // a place where every day but this one's weekday rests: eight hours of work take at least a week more
    const weekday = new Date().getUTCDay()
    const rests = ['SU', 'MO', 'TU', 'WE', 'TH', 'FR', 'SA'].filter((_, index) => index !== weekday).join(' ')
    await entry('calendars', { code: 'RARE', name: 'Rarely open', restDays: rests })
    await entry('sites', { code: 'ISLE', name: 'The isle', country: 'NO', zone: 'Europe/Oslo', calendar: 'RARE' })
    const place = async (site: string | null) => {
      const marit = (await wren.do(ListPeople)).people.find(one => one.name.startsWith('Marit'))!
      const { id, version, active, roles } = marit
      return await wren.call(ChangePerson, { params: { id }, body: { version, active, roles, site } })
    }
    await putInForce(world, [...rules.filter(rule => rule.who.kind !== 'holder'), holder({ hours: 20 })])
    const dueOf = async (title: string) => Date.parse((await sheet(await submitted(title))).steps[0]!.dueAt!)
    const plain = await dueOf('In the house’s time')
    expect((await place('NOWHERE')).codes).to.deep.equal(['person.noSuchSite'])
    expect((await place('ISLE')).status).to.equal(200)
    const days = ((await dueOf('In the time of the isle')) - plain) / 86_400_000
    expect(days, '20 hours are three days of work: a week apart each').to.be.greaterThan(9)
    const isle = (await wren.do(ReadRegister, { params: { register: 'sites' } })).entries.find(one => one.values.code === 'ISLE')! // prettier-ignore
    expect(isle.pointed).to.equal(1)
    const drop = { params: { register: 'sites' as const, id: isle.id }, body: { version: isle.version } }
    expect((await wren.call(DropEntry, drop)).codes).to.deep.equal(['register.used'])
    expect((await place(null)).status).to.equal(200)
    expect((await wren.call(DropEntry, drop)).status).to.equal(200)
  })

  it('is seen when a time is over: reminded after half of it, told to the next in the chain, once each', async () => {
    await putInForce(world, [...rules.filter(rule => rule.who.kind !== 'holder'), holder({ hours: 8 })])
    const id = await submitted('Within its time')
    const { dueAt } = (await sheet(id)).steps[0]!
    expect(dueAt! > new Date().toISOString()).to.equal(true)
    const keys = async (like: string): Promise<string[]> => world.db('outbox').where({ documentId: id }).where('key', 'like', like).pluck('key') // prettier-ignore
    const back = (column: 'openedAt' | 'dueAt', days: number) =>
      world.db('consentSteps').whereIn('consentId', world.db('consents').where({ documentId: id }).select('id')).update({ [column]: new Date(Date.now() - days * 86_400_000).toISOString() }) // prettier-ignore
    await watched()
    expect(await keys('remind:%')).to.have.length(0)
    await back('openedAt', 5)
    await watched()
    await watched()
    expect(await keys('remind:%')).to.have.length(1)
    expect((await sheet(id)).steps[0]!.stall).to.equal(null)
    await back('dueAt', 1)
    await watched()
    await watched()
    expect((await sheet(id)).steps[0]!.stall).to.equal('late')
    expect((await sheet(id)).history.filter(one => one.action === 'late')).to.have.length(1)
    const stalled = (await (await world.as('Wren')).do(ReadMyDecisions, { query: { part: 'stalled' } })).items
    expect(stalled.map(one => one.documentId)).to.include(id)
    const other = await submitted('Passed on late')
    const { steps, version } = await sheet(other)
    await world
      .db('consentSteps')
      .where({ id: steps[0]!.id! })
      .update({ dueAt: new Date(Date.now() - 1000).toISOString() })
    await watched()
    expect((await sheet(other)).steps[0]!.stall).to.equal('late')
    const toPersonId = await personId('Tomas')
    await (await world.as('Wren')).do(PassStep, { params: { id: other, stepId: steps[0]!.id! }, body: { version, toPersonId, reason: 'She is late.' } }) // prettier-ignore
    const [passed] = (await sheet(other)).steps
    expect([passed!.stall, passed!.dueAt! > new Date().toISOString()], 'whoever gets it has the time anew').to.deep.equal([null, true]) // prettier-ignore
    expect((await decide(id, 'Marit')).status, 'late, and still theirs').to.equal(200)
    expect((await (await world.as('Wren')).do(ReadMyDecisions, { query: { part: 'stalled' } })).items.map(one => one.documentId)).to.not.include(id) // prettier-ignore
    await putInForce(world, rules)
  })

  it('is seen when somebody goes away without a stand-in, and is over when they are back', async () => {
    const id = await submitted('Away')
    const end = await standIn(world, 'Marit', 'Henrik', { limit: '0.01' })
    await watched()
    expect((await sheet(id)).steps[0]!.stall).to.equal('away')
    await end()
    await watched()
    expect((await sheet(id)).steps[0]!.stall).to.equal(null)
  })
})
