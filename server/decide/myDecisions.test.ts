import { expect } from 'chai'
import {
  AddStep,
  AskBeforeDeciding,
  Decide,
  DropReason,
  KeepReason,
  ReadKeptReasons,
  ReadMyDecisions,
} from '#contract/decide/endpoints.ts'
import { ActTogether, PreviewTogether } from '#contract/documents/together.ts'
import { AnswerQuestion, ReadRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { ChangePerson } from '#contract/setup/endpoints.ts'
import { writing } from '#server/call.ts'
import { refreshAskedOf } from '#server/consent/consentStore.ts'
import { settingOf } from '#server/jobs/parts.ts'
import { draft, goodsLine, standIn } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('what there is to decide', () => {
  const world = useWorld()
  const submitted = async (title: string, quantity = '10'): Promise<string> => {
    const { id, version } = await draft(world, [await goodsLine(world, 'PS-1200', quantity)], title)
    await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version } })
    return id
  }
  const read = async (who: string, part: 'mine' | 'standIn' | 'coming' | 'decided' | 'stalled' = 'mine') =>
    await (await world.as(who)).do(ReadMyDecisions, { query: { part } })
  const sheet = async (id: string, who = 'Joren') => (await world.as(who)).do(ReadRequisition, { params: { id } })

  it('is a sentence: who asks for what, how much, what is left, and why it comes here', async () => {
    const id = await submitted('Pumps to decide')
    const [item] = (await read('Marit')).items.filter(one => one.documentId === id)
    const { total, budgets, number, version } = await sheet(id)
    expect(item).to.deep.include({
      purpose: 'approval',
      title: 'Pumps to decide',
      number,
      version,
      askedBy: 'Joren Vaskuil',
      amount: total,
      waitsFor: '',
      inPlaceOf: null,
      path: `/decide/${id}`,
      lines: 1,
    })
    expect(item!.budget?.left).to.equal(budgets[0]!.after)
    expect(item!.because[0]!.rule).to.not.equal('')
    expect((await read('Tomas')).items.map(one => one.documentId)).to.not.include(id)
  })

  it('stands by what costs most to leave first, counted by whose it is', async () => {
    const { items, counts, total } = await read('Marit')
    const days = items.map(one => one.needBy ?? '9999')
    expect(days).to.deep.equal([...days].sort())
    expect(counts.mine).to.equal(total)
    const end = await standIn(world, 'Marit', 'Henrik')
    const place = await read('Henrik', 'standIn')
    expect(place.items.length).to.be.above(0)
    expect(new Set(place.items.map(one => one.inPlaceOf))).to.deep.equal(new Set(['Marit Oland']))
    expect((await read('Henrik')).items.every(one => one.inPlaceOf === null)).to.equal(true)
    await end()
    expect((await read('Henrik', 'standIn')).total).to.equal(0)
  })

  it('is decided from there, several at once; one that was changed or is another’s is refused by itself', async () => {
    const [one, two, three] = [await submitted('First of many'), await submitted('Second'), await submitted('Third')]
    const ids = [one, two, three]
    const seen = Object.fromEntries(
      (await read('Marit')).items.filter(item => ids.includes(item.documentId)).map(item => [item.documentId, item.version!]), // prettier-ignore
    )
    const asked = { kind: 'requisition' as const, act: 'approve' as const, ids, reason: '' }
    const marit = await world.as('Marit')
    expect((await marit.do(PreviewTogether, { body: asked })).rows.map(row => row.possible)).to.deep.equal([true, true, true]) // prettier-ignore
    expect((await (await world.as('Ines')).do(PreviewTogether, { body: asked })).rows).to.deep.equal([])
    await marit.do(AskBeforeDeciding, { params: { id: two }, body: { version: seen[two]!, question: 'How many?' } })
    const { rows } = await marit.do(ActTogether, { body: { ...asked, seen } })
    expect(rows.map(row => row.done)).to.deep.equal([true, false, true])
    expect(rows[1]!.reasons[0]!.code).to.equal('document.changed')
    expect((await sheet(one)).state).to.equal('approved')
    expect((await sheet(two)).state).to.equal('waiting')
    const decided = (await read('Marit', 'decided')).items.slice(0, 2)
    expect(decided.map(item => [item.documentId, item.outcome])).to.have.deep.members([
      [one, 'approved'],
      [three, 'approved'],
    ])
  })

  it('waits while a question is open, and the answer comes back to who asked', async () => {
    const id = await submitted('Asked before')
    const ask = async (who: string, question: string) =>
      await (
        await world.as(who)
      ).call(AskBeforeDeciding, {
        params: { id },
        body: { version: (await sheet(id)).version, question },
      })
    expect((await ask('Tomas', 'May I ask?')).codes).to.deep.equal(['decide.notYours'])
    expect((await ask('Marit', '  ?')).status).to.equal(400)
    expect((await ask('Marit', 'For which tank?')).status).to.equal(200)
    const marits = async () => (await read('Marit')).items.find(one => one.documentId === id)!
    expect((await marits()).paused).to.equal(true)
    expect(await world.db('outbox').where({ documentId: id }).where('key', 'like', 'asked:%').pluck('key')).to.have.length(1) // prettier-ignore
    const [question] = (await sheet(id)).questions
    expect([question!.by, question!.answer]).to.deep.equal(['Marit Oland', null])
    await (
      await world.as('Joren')
    ).do(AnswerQuestion, {
      params: { id, questionId: question!.id },
      body: { answer: 'The quarantine.' },
    })
    expect((await marits()).paused).to.equal(false)
    const mails = await world
      .db('outbox')
      .where({ documentId: id })
      .where('key', 'like', 'answered:%')
      .select('payload')
    expect(JSON.stringify(mails)).to.include('marit')
  })

  it('closes what was asked when it is decided all the same', async () => {
    const id = await submitted('Decided in spite of it')
    const marit = await world.as('Marit')
    const { version } = await marit.do(AskBeforeDeciding, {
      params: { id },
      body: { version: (await sheet(id)).version, question: 'Really?' },
    })
    await marit.do(Decide, { params: { id }, body: { version, decision: 'approve', reason: '' } })
    expect((await sheet(id)).questions.every(one => one.answeredAt !== null)).to.equal(true)
  })

  it('is one’s own also where a step before it stands still', async () => {
    const id = await submitted('One of two is gone')
    const personId = async (name: string) =>
      (await world.db('people').where('name', 'like', `${name} %`).first('id'))!.id
    const joren = await world.as('Joren')
    const add = {
      version: (await sheet(id)).version,
      personId: await personId('Henrik'),
      reason: 'He knows the pumps.',
    }
    await joren.do(AddStep, { params: { id }, body: add })
    const marit = await personId('Marit')
    const before = await world.db('personRoles').where({ personId: marit }).select('role', 'costCentre')
    const wren = await world.as('Wren')
    const change = async (roles: { role: string; costCentre: string | null }[]) => {
      const { version } = (await world.db('people').where({ id: marit }).first('version'))!
      await wren.do(ChangePerson, { params: { id: marit }, body: { version, active: true, roles } })
    }
    await change([{ role: 'requester', costCentre: null }])
    const steps = (await sheet(id)).steps
    const theirs = steps.find(step => step.approvers[0]!.name.startsWith('Henrik'))!
    expect(steps.find(step => step.id !== theirs.id)!.stall).to.equal('right')
    const item = (await read('Henrik')).items.find(one => one.documentId === id)!
    expect([item.id, item.waitsFor, item.version]).to.deep.equal([theirs.id, '', (await sheet(id)).version])
    await world.db('personRoles').insert(before.map(one => ({ personId: marit, ...one }))).onConflict().ignore() // prettier-ignore
    const setting = await settingOf(world.jobs)
    await world.db.transaction(trx => refreshAskedOf(writing(trx, setting), marit))
  })

  it('shows which lines it is about, and what the same cost last time', async () => {
    const id = await submitted('Compared')
    const [line] = (await sheet(id, 'Marit')).lines
    expect(line!.mine).to.equal(true)
    expect(line!.lastTime === null || Number.isInteger(line!.lastTime.percent)).to.equal(true)
  })

  it('is decided for reasons that can be kept, each once, the last first, by nobody else', async () => {
    const marit = await world.as('Marit')
    for (const reason of ['Too dear this year.', 'Please bundle these.', 'Too dear this year.'])
      await marit.do(KeepReason, { body: { reason } })
    expect((await marit.do(ReadKeptReasons)).reasons).to.deep.equal(['Too dear this year.', 'Please bundle these.'])
    expect((await (await world.as('Tomas')).do(ReadKeptReasons)).reasons).to.deep.equal([])
    await marit.do(DropReason, { body: { reason: 'Please bundle these.' } })
    expect((await marit.do(ReadKeptReasons)).reasons).to.deep.equal(['Too dear this year.'])
    expect((await marit.call(KeepReason, { body: { reason: 'x'.repeat(501) } })).status).to.equal(400)
  })
})
