import { randomUUID } from 'node:crypto'
import { expect } from 'chai'
import { Decide } from '#contract/decide/endpoints.ts'
import { CheckRequisition, ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import {
  BeginRules,
  DropRules,
  ExportRules,
  ImportRules,
  PublishRules,
  ReadLimits,
  ReadRules,
  ReadRuleSet,
  type RuleJson,
  SaveLimits,
  SaveRules,
  TryRules,
} from '#contract/rules/endpoints.ts'
import { EndAway, ReadAway } from '#contract/consent/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { agree, draftRules, putInForce, rulesNow } from '#test-helpers/ruleVersions.ts'
import { draft, goodsLine, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('versions of rules', () => {
  const world = useWorld()
  const finance = (changed: Partial<RuleJson> = {}): RuleJson => ({
    id: randomUUID(),
    name: 'Salt to finance',
    kinds: ['requisition'],
    conditions: [{ fact: 'category', not: false, values: ['Water technology'] }],
    measure: 'lines',
    from: '0.00',
    below: null,
    stage: 2,
    who: { kind: 'role', role: 'financeController', inCentre: false },
    need: 'any',
    scope: 'document',
    hours: null,
    note: '',
    ...changed,
  })
  const publish = async (who: string, id: string, version: number, fromDay = today()) =>
    (await world.as(who)).call(PublishRules, { params: { id }, body: { version, fromDay, note: '' } })

  it('begin as a copy of those in force, are one draft at a time, and are dropped unseen', async () => {
    const wren = await world.as('Wren')
    const before = await rulesNow(world)
    const atOnce = await Promise.all([wren.call(BeginRules), wren.call(BeginRules), wren.call(BeginRules)])
    for (const answer of atOnce) expect(answer.status === 200 || answer.codes.join() === 'document.busy').to.equal(true)
    const first = await draftRules(world, before)
    expect((await draftRules(world, [])).id).to.equal(first.id)
    expect((await wren.call(SaveRules, { params: { id: first.id }, body: { version: first.version, rules: [] } })).codes).to.deep.equal(['document.changed']) // prettier-ignore
    const { version } = await wren.do(ReadRuleSet, { params: { id: first.id } })
    await wren.do(DropRules, { params: { id: first.id }, body: { version } })
    expect((await wren.do(ReadRules)).sets.map(one => one.state)).to.deep.equal(['published'])
    expect((await (await world.as('Ines')).call(ReadRules)).status).to.equal(403)
  })

  it('are put in force only without a fault, from today on, once', async () => {
    const wrong = [
      finance({ name: '' }),
      finance({ name: 'Ghosts', who: { kind: 'people', personIds: [] } }),
      finance({ name: 'Twice', conditions: [{ fact: 'category', not: false, values: [] }] }),
      finance({ name: 'twice', from: '10.00', below: '5.00' }),
      finance({ name: 'Nobody', who: { kind: 'role', role: 'nobody', inCentre: false } }),
    ]
    const { id, version } = await draftRules(world, wrong)
    const { faults } = await (await world.as('Wren')).do(ReadRuleSet, { params: { id } })
    expect(faults.map(fault => fault.code)).to.deep.equal([
      'rule.noName',
      'rule.nobody',
      'rule.noValue',
      'rule.band',
      'rule.emptyRole',
      'rule.nameTwice',
    ])
    expect((await publish('Wren', id, version)).codes).to.have.length(6)
    const good = await draftRules(world, [finance()])
    expect((await publish('Wren', id, good.version, addDays(today(), -1))).codes).to.deep.equal(['rule.pastDay'])
    const empty = await draftRules(world, [])
    expect((await publish('Wren', id, empty.version)).codes).to.deep.equal(['rule.noRules'])
    const orla = ((await world.db('people').where('name', 'like', 'Orla %').first('id')) as { id: string }).id
    const closed = await draftRules(world, [finance({ who: { kind: 'people', personIds: [orla] } })])
    expect((await publish('Wren', id, closed.version)).codes).to.deep.equal(['rule.closedPerson'])
  })

  it('are tried on the past: what would go elsewhere, how many more decisions, what nobody would decide', async () => {
    const holder = (await rulesNow(world)).find(rule => rule.who.kind === 'holder')!
    const { id } = await draftRules(world, [
      { ...holder, from: '1000.00' },
      finance({ conditions: [], from: '5000.00', measure: 'document' }),
    ])
    const wren = await world.as('Wren')
    const trial = await wren.do(TryRules, { params: { id }, query: { fromDay: addDays(today(), -60), toDay: today() } })
    expect(trial.tried).to.be.above(20)
    const adaeze = trial.people.find(one => one.name === 'Adaeze Nwoko')!
    expect(adaeze.after).to.be.above(adaeze.before)
    expect(trial.others.some(one => one.after.flat().includes('Adaeze Nwoko'))).to.equal(true)
    expect(trial.undecided.length).to.be.above(0)
    const [other] = trial.others
    expect(other!.path, 'a steward sees every request').to.equal(`/decide/${other!.id}`)
    expect((await wren.call(ReadRequisition, { params: { id: other!.id } })).status).to.equal(200)
    expect(trial.idle).to.deep.equal([])
    const none = await wren.do(TryRules, { params: { id }, query: { fromDay: '2001-01-01', toDay: '2001-12-31' } })
    expect([none.tried, none.others, none.people]).to.deep.equal([0, [], []])
  })

  it('leave as CSV and JSON and come back the same; a file with a fault loads nothing', async () => {
    const wren = await world.as('Wren')
    const rules = [
      ...(await rulesNow(world)),
      finance({ conditions: [{ fact: 'costCentre', not: true, values: ['LS-210', { from: 'AC-100', to: 'AC-199' }] }], note: 'A “reason”; with = signs', need: 'all' }), // prettier-ignore
    ]
    const { id } = await draftRules(world, rules)
    const plain = (all: readonly RuleJson[]) => all.map(({ id: _id, ...rule }) => rule)
    const before = plain((await wren.do(ReadRuleSet, { params: { id } })).rules)
    for (const as of ['csv', 'json'] as const) {
      const file = await wren.bytes(ExportRules, { id }, { as })
      await draftRules(world, [])
      const fileId = (await wren.upload(`rules.${as}`, file)).body.id
      const taken = await wren.do(ImportRules, { body: { fileId, dryRun: false } })
      expect([taken.loaded, taken.faultCount], as).to.deep.equal([rules.length, 0])
      expect(plain((await wren.do(ReadRuleSet, { params: { id } })).rules), as).to.deep.equal(before)
    }
    const bad = 'name;stage;asks;when\nOne;1;holder;\nTwo;x;somebody;colour=red\nOne;1;holder;\n'
    const fileId = (await wren.upload('bad.csv', bad)).body.id
    const refused = await wren.do(ImportRules, { body: { fileId, dryRun: false } })
    expect(refused.faults.map(one => `${one.row} ${one.place} ${one.code}`)).to.deep.equal([
      '3 when rule.cell',
      '3 stage rule.cell',
      '3 asks rule.cell',
    ])
    expect(refused.loaded).to.equal(0)
    const fit = (await wren.upload('fit.csv', 'name;stage;asks;for;decides\nOne;1;holder;agreement;lines\n')).body.id
    expect((await wren.do(ImportRules, { body: { fileId: fit, dryRun: true } })).faults).to.deep.equal([])
    const notJson = (await wren.upload('bad.json', '[{')).body.id
    expect((await wren.call(ImportRules, { body: { fileId: notJson, dryRun: true } })).codes).to.deep.equal(['import.notJson']) // prettier-ignore
  })

  it('ask for a request by its facts, say why, and let one of a group decide for all of it', async () => {
    await putInForce(world, [
      ...(await rulesNow(world)),
      finance({ who: { kind: 'role', role: 'director', inCentre: false }, stage: 3 }),
      finance({
        name: 'Either holder',
        conditions: [],
        stage: 2,
        who: { kind: 'people', personIds: await idsOf('Tomas', 'Adaeze') },
      }),
    ])
    // nobody decides in another's place here
    const wren = await world.as('Wren')
    for (const { id: away } of (await wren.do(ReadAway)).times) await wren.do(EndAway, { params: { id: away } })
    const { id, version } = await draft(world, [await goodsLine(world, 'WC-1260', '10')], 'By its facts')
    const joren = await world.as('Joren')
    const steps = (all: { stage: number; approvers: { name: string }[] }[]): string[] =>
      all.map(step => `${step.stage} ${step.approvers.map(one => one.name.split(' ')[0]).join('|')}`)
    const checked = await joren.do(CheckRequisition, { params: { id } })
    expect(steps(checked.steps)).to.deep.equal(['1 Marit', '2 Adaeze|Tomas', '3 Henrik'])
    expect(checked.steps[2]!.rules[0]!.evidence).to.deep.equal([{ fact: 'category', not: false, values: ['Water technology'] }]) // prettier-ignore
    await joren.do(SubmitRequisition, { params: { id }, body: { version, checkReason: 'Needed.' } })
    const sheet = async () => await joren.do(ReadRequisition, { params: { id } })
    expect(steps((await sheet()).steps)).to.deep.equal(steps(checked.steps))
    const decide = async (who: string) =>
      (await world.as(who)).call(Decide, {
        params: { id },
        body: { version: (await sheet()).version, decision: 'approve', reason: '' },
      })
    expect((await decide('Marit')).status).to.equal(200)
    expect((await decide('Henrik')).codes).to.deep.equal(['decide.notYours'])
    expect((await decide('Tomas')).status).to.equal(200)
    expect((await decide('Adaeze')).codes).to.deep.equal(['decide.notYours'])
    expect((await decide('Henrik')).status).to.equal(200)
    const after = await sheet()
    expect([after.state, ...after.steps.map(step => step.state)]).to.deep.equal(['approved', 'approved', 'approved', 'approved']) // prettier-ignore
  })

  it('have a limit for each person: above it the next in their chain decides, too', async () => {
    await putInForce(
      world,
      (await rulesNow(world)).filter(rule => rule.who.kind === 'holder'),
    )
    const [marit] = await idsOf('Marit')
    const { id } = await draft(world, [await goodsLine(world, 'PS-1200', '10')], 'Above a limit')
    const joren = await world.as('Joren')
    const asked = async (): Promise<string[]> =>
      (await joren.do(CheckRequisition, { params: { id } })).steps.flatMap(step => step.approvers.map(one => one.name))
    expect(await asked()).to.deep.equal(['Marit Oland'])
    const wren = await world.as('Wren')
    const set = async (amount: string | null) => {
      const { version } = await wren.do(ReadLimits, { params: { id: marit! } })
      const limits = amount === null ? [] : [{ kind: 'requisition' as const, amount }]
      return await wren.call(SaveLimits, { params: { id: marit! }, body: { version, limits } })
    }
    expect((await set('849.99')).body).to.deep.include({ waits: false })
    expect(await asked()).to.deep.equal(['Marit Oland', 'Henrik Solvang-Abe'])
    expect((await set('-1.00')).codes).to.deep.equal(['limit.negative'])
    expect((await set('850.00')).body, 'a higher limit is power over money').to.deep.include({ waits: true })
    expect(await asked()).to.deep.equal(['Marit Oland', 'Henrik Solvang-Abe'])
    await agree(world, 'limits')
    expect(await asked()).to.deep.equal(['Marit Oland'])
    expect((await set(null)).body).to.deep.include({ waits: true })
    const { version } = await wren.do(ReadLimits, { params: { id: marit! } })
    const stale = { params: { id: marit! }, body: { version: version - 1, limits: [] } }
    expect((await wren.call(SaveLimits, stale)).codes).to.deep.equal(['document.changed'])
  })

  const idsOf = async (...names: string[]): Promise<string[]> => {
    const ids: string[] = []
    for (const name of names) ids.push(((await world.db('people').where('name', 'like', `${name} %`).first('id')) as { id: string }).id) // prettier-ignore
    return ids
  }
})
