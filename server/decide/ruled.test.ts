import { expect } from 'chai'
import { AskTransfer, DecideTransfer, ListTransfers } from '#contract/budgets/endpoints.ts'
import { PassQuestion, ReadMyDecisions, ReadPassCandidates } from '#contract/decide/endpoints.ts'
import { ReadBudget } from '#contract/insight/endpoints.ts'
import { ApproveRun, ProposeRun, ReadRun } from '#contract/pay/endpoints.ts'
import type { RuleJson } from '#contract/rules/endpoints.ts'
import { writing } from '#server/call.ts'
import { refreshAskedOf } from '#server/consent/consentStore.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { putInForce, ruleOf, rulesNow } from '#test-helpers/ruleVersions.ts'
import { account, billed, goodsLine, ordered, posted, received, today } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('rules about other things than requests', () => {
  const world = useWorld()
  const idOf = async (name: string): Promise<string> =>
    (await world.db('people').where('name', 'like', `${name} %`).first('id'))!.id as string
  const rule = (name: string, personIds: string[], changed: Partial<RuleJson>): RuleJson =>
    ruleOf(name, { kinds: ['transfer'], who: { kind: 'people', personIds }, ...changed })
  before(async () => {
    const [henrik, adaeze] = [await idOf('Henrik'), await idOf('Adaeze')]
    await putInForce(world, [
      ...(await rulesNow(world)),
      rule('Much money moves', [henrik], { from: '1000.00', conditions: [{ fact: 'costCentre', not: false, values: ['LS-210'] }] }), // prettier-ignore
      rule('Finance last', [adaeze], { from: '1000.00', stage: 2 }),
      rule('Two look at a run', [henrik, adaeze], { kinds: ['run'] }),
    ])
  })

  it('ask those of a transfer one stage after the other; money moves with the last yes', async () => {
    const [from, to] = [await account(world, 'LS-210', '6220'), await account(world, 'LS-210', '6210')]
    const ask = async (amount: string): Promise<string> =>
      (await (await world.as('Marit')).do(AskTransfer, { body: { fromId: from, toId: to, amount, reason: 'Parts.' } }))
        .id
    const decide = async (who: string, id: string, version: number) =>
      (await world.as(who)).call(DecideTransfer, {
        params: { id },
        body: { version, action: 'approve', reason: 'Fine.' },
      })
    const left = async (accountId: string): Promise<number> =>
      Number((await (await world.as('Marit')).do(ReadBudget, { params: { id: accountId } })).figures.available)
    const stateOf = async (id: string) =>
      (await (await world.as('Adaeze')).do(ListTransfers)).transfers.find(one => one.id === id)!.state
    const before = await left(from)
    const id = await ask('1000.00')
    expect((await decide('Adaeze', id, 1)).codes, 'not yet').to.deep.equal(['right.notYours'])
    expect((await decide('Henrik', id, 1)).status).to.equal(200)
    expect([await stateOf(id), await left(from)]).to.deep.equal(['waiting', before])
    expect((await decide('Adaeze', id, 2)).status).to.equal(200)
    expect(await stateOf(id)).to.equal('approved')
    expect(await left(from)).to.equal(before - 1000)
    const small = await ask('999.99')
    expect((await decide('Adaeze', small, 1)).status, 'no rule: as it always was').to.equal(200)
    expect(await stateOf(small)).to.equal('approved')
  })

  it('ask two about a run: its file goes to the bank after both; one whose account closes is passed on', async () => {
    await world.db.raw(`update suppliers set terms = '{"days": 0, "from": "invoice"}', defaults = defaults || '{"termsDays": "0"}' where name = 'Nordhavn Pumpeverk'`) // prettier-ignore
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '2')])
    await received(world, order)
    await posted(world, (await billed(world, order)).id)
    const casimir = await world.as('Casimir')
    const run = await casimir.do(ProposeRun, { body: { dueUntil: today(), executeOn: today() } })
    const approve = async (who: string, version: number) =>
      (await world.as(who)).call(ApproveRun, { params: { id: run.id! }, body: { version } })
    expect((await approve('Casimir', 1)).codes).to.deep.equal(['pay.ownRun'])
    expect((await approve('Adaeze', 1)).status).to.equal(200)
    const read = () => casimir.do(ReadRun, { params: { id: run.id! } })
    expect((await read()).state).to.equal('proposed')
    expect(await world.db('outbox').where({ kind: 'bankFile' }).whereRaw(`key like ?`, [`%${(await read()).number}`])).to.deep.equal([]) // prettier-ignore
    expect((await approve('Adaeze', 2)).codes, 'once only').to.deep.equal(['right.notYours'])

    const wren = await world.as('Wren')
    const henrik = (await world.db('people').where('name', 'like', 'Henrik %').first())!
    await world.db('people').where({ id: henrik.id }).update({ active: false })
    const setting = await settingOf(world.jobs)
    await world.db.transaction(trx => refreshAskedOf(writing(trx, setting), henrik.id as string))
    const item = (await wren.do(ReadMyDecisions, { query: { part: 'stalled' } })).items.find(one => one.documentId === run.id)! // prettier-ignore
    expect(item).to.deep.include({ purpose: 'run', stall: 'closed' })
    const params = { id: item.consentId, stepId: item.id }
    const { candidates } = await wren.do(ReadPassCandidates, { params })
    expect(candidates.map(one => one.name))
      .to.include('Adaeze Nwoko')
      .and.not.include('Casimir Floyd-Ortega')
    const body = { version: item.consentVersion, toPersonId: await idOf('Adaeze'), reason: 'Henrik is not here.' }
    expect((await wren.call(PassQuestion, { params, body: { ...body, toPersonId: await idOf('Ines') } })).codes).to.deep.equal(['decide.withoutRight']) // prettier-ignore
    expect((await casimir.call(PassQuestion, { params, body })).status).to.equal(403)
    expect((await wren.call(PassQuestion, { params, body })).status).to.equal(200)
    expect((await wren.call(PassQuestion, { params, body })).codes).to.deep.equal(['document.changed'])
    const { version } = await read()
    expect((await approve('Adaeze', version)).status).to.equal(200)
    expect((await read()).state).to.equal('approved')
    await world.db('people').where({ id: henrik.id }).update({ active: true })
  })
})
