import { expect } from 'chai'
import { ReadDecideSettings, SaveDecideSettings } from '#contract/consent/settings.ts'
import { Decide, EditLines, FreeRequest, ReadEvidence } from '#contract/decide/endpoints.ts'
import type { BodyOf } from '#contract/endpoint.ts'
import {
  ActOnRequisition,
  CheckRequisition,
  ChooseDeciders,
  CreateRequisition,
  ReadRequisition,
  SaveRequisition,
  SubmitRequisition,
} from '#contract/request/endpoints.ts'
import type { LineBody } from '#contract/request/lines.ts'
import { putInForce, rulesNow } from '#test-helpers/ruleVersions.ts'
import { account, draft, figures, goodsLine, today } from '#test-helpers/steps.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

type Edit = BodyOf<typeof EditLines>['lines'][number]

describe('a request that is changed while it is decided', () => {
  const world = useWorld()
  const sheet = async (id: string, who = 'Joren') => (await world.as(who)).do(ReadRequisition, { params: { id } })
  /** A line that LS-210 pays (Marit decides), and one that AC-110 pays (Tomas). */
  async function twoCentres(title: string): Promise<string> {
    const free = { itemId: null, offerId: null, price: '100' }
    const lines = [
      await goodsLine(world, 'PS-1200', '10', { ...free, description: 'Pump seals' }),
      await goodsLine(world, 'PS-1200', '10', { ...free, description: 'Hall filters', splits: [{ accountId: await account(world, 'AC-110', '6020'), share: '1' }] }), // prettier-ignore
    ]
    return await submitted(lines, title)
  }
  async function submitted(lines: LineBody[], title: string): Promise<string> {
    const { id, version } = await draft(world, lines, title)
    await (await world.as('Joren')).do(SubmitRequisition, { params: { id }, body: { version, checkReason: 'Needed.' } })
    return id
  }
  const lineOf = async (id: string, description: string) =>
    (await sheet(id)).lines.find(line => line.description === description)!
  const edit = async (who: string, id: string, lines: Edit[], reason = 'It is enough.', version?: number) =>
    (await world.as(who)).call(EditLines, { params: { id }, body: { version: version ?? (await sheet(id)).version, reason, lines } }) // prettier-ignore
  const decide = async (who: string, id: string, decision: 'approve' | 'reject' | 'return' = 'approve') =>
    (await world.as(who)).do(Decide, { params: { id }, body: { version: (await sheet(id)).version, decision, reason: 'So it is.' } }) // prettier-ignore
  const states = async (id: string) =>
    Object.fromEntries(
      (await sheet(id)).steps.map(step => [step.approvers[0]!.name.split(' ')[0]!, step.state] as const),
    )
  const mailsTo = async (who: string, about: string): Promise<{ subject: string; text: string }[]> => {
    await sendAll(world)
    const { email } = (await world.db('people').where('name', 'like', `${who} %`).first('email'))!
    const answer = await fetch(`http://127.0.0.1:${world.mail.httpPort}/?to=${encodeURIComponent(email)}`)
    const { mails } = (await answer.json()) as { mails: { subject: string; text: string }[] }
    return mails.filter(mail => mail.subject.includes(about))
  }

  it('keeps what others decided about other lines; budget, total and mails follow', async () => {
    const id = await twoCentres('Seals and filters')
    await decide('Tomas', id)
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const seals = await lineOf(id, 'Pump seals')
    expect((await edit('Marit', id, [{ id: seals.id, quantity: '8' }])).body).to.deep.include({ askedAgain: 0 })
    expect((await figures(world, accountId)).reserved).to.equal(before.reserved - 20_000n)
    expect(await states(id)).to.deep.equal({ Tomas: 'approved', Marit: 'open' })
    const read = await sheet(id, 'Tomas')
    expect(read.total).to.equal('1800.00')
    expect(read.changes).to.deep.equal([{ line: 'Pump seals', key: 'quantity', before: '10', after: '8' }])
    expect(read.history[0]).to.deep.include({ action: 'linesChanged', actor: 'Marit Oland', reason: 'It is enough.' })
    for (const who of ['Joren', 'Tomas']) {
      const mails = await mailsTo(who, 'Seals and filters')
      const told = mails.filter(mail => mail.subject.startsWith('Changed: '))
      expect(told, who).to.have.length(1)
      expect(told[0]!.text).to.include('· Pump seals: 10 → 8').and.to.include('Marit Oland')
    }
    await decide('Marit', id)
    expect((await sheet(id)).state).to.equal('approved')
  })

  it('asks again whom the change concerns, and lets their decision stand when it is undone', async () => {
    const splits = [await account(world, 'LS-210', '6210'), await account(world, 'AC-110', '6020')]
    const line = await goodsLine(world, 'PS-1200', '10', { itemId: null, offerId: null, price: '100', description: 'Shared', splits: splits.map(accountId => ({ accountId, share: '1' })) }) // prettier-ignore
    const id = await submitted([line], 'Shared by two')
    await decide('Tomas', id)
    const { id: lineId } = await lineOf(id, 'Shared')
    expect((await edit('Marit', id, [{ id: lineId, quantity: '10.5' }])).status).to.equal(200)
    expect(await states(id), 'exactly five per cent').to.deep.equal({ Tomas: 'approved', Marit: 'open' })
    expect((await edit('Marit', id, [{ id: lineId, quantity: '12' }])).body).to.deep.include({ askedAgain: 2 })
    expect(await states(id)).to.deep.equal({ Tomas: 'open', Marit: 'open' })
    expect((await edit('Marit', id, [{ id: lineId, quantity: '10' }], 'Not after all.')).body).to.deep.include({ askedAgain: 1 }) // prettier-ignore
    expect(await states(id)).to.deep.equal({ Tomas: 'approved', Marit: 'open' })
    expect((await sheet(id)).changes).to.deep.equal([])
    const { decisions } = await (
      await world.as('Wren')
    ).do(ReadEvidence, { query: { fromDay: today(), toDay: today() } })
    expect(decisions.filter(one => one.title === 'Shared by two').map(one => one.decider), 'one that stands is told once').to.deep.equal(['Tomas Brackenfeld']) // prettier-ignore
    await decide('Marit', id)
    expect((await sheet(id)).state).to.equal('approved')
  })

  it('has lines refused; they stay to be seen, cost nothing and do not come back by themselves', async () => {
    const id = await twoCentres('One line too many')
    const filters = await lineOf(id, 'Hall filters')
    expect((await edit('Tomas', id, [{ id: filters.id, refuse: true }], 'There are some left.')).status).to.equal(200)
    const read = await sheet(id)
    expect(read.total).to.equal('1000.00')
    expect(read.lines.map(line => [line.description, line.state])).to.deep.equal([
      ['Pump seals', 'open'],
      ['Hall filters', 'cancelled'],
    ])
    expect(read.budgets.map(one => one.label.slice(0, 6))).to.deep.equal(['LS-210'])
    expect(await states(id), 'nothing of it is for Tomas any more').to.deep.equal({ Marit: 'open' })
    const seals = await lineOf(id, 'Pump seals')
    expect((await edit('Marit', id, [{ id: seals.id, refuse: true }])).codes).to.deep.equal(['decide.allRefused'])
    await decide('Marit', id, 'return')
    const joren = await world.as('Joren')
    const { version } = await sheet(id)
    const body = { title: 'One line too many', reason: '', lines: [await goodsLine(world, 'PS-1200', '5', { id: seals.id, itemId: null, offerId: null, price: '100', description: 'Pump seals' })] } // prettier-ignore
    await joren.do(SaveRequisition, { params: { id }, body: { ...body, version } })
    await joren.do(SubmitRequisition, { params: { id }, body: { version: version + 1 } })
    const again = await sheet(id)
    expect(again.lines.map(line => [line.position, line.state])).to.deep.equal([
      [1, 'open'],
      [2, 'cancelled'],
    ])
    expect(again.total).to.equal('500.00')
    await decide('Marit', id)
    expect((await sheet(id)).lines.map(line => line.state)).to.deep.equal(['toBuy', 'cancelled'])
    const copy = await joren.do(ActOnRequisition, { params: { id }, body: { version: (await sheet(id)).version, action: 'copy' } }) // prettier-ignore
    expect((await sheet(copy.id)).lines).to.have.length(1)
  })

  it('refuses lines of others, an offer’s price, what is stale, what is wrong, and everybody who does not decide it', async () => {
    const id = await twoCentres('Not so')
    const [seals, filters] = [await lineOf(id, 'Pump seals'), await lineOf(id, 'Hall filters')]
    const codes = async (who: string, lines: Edit[], reason?: string, version?: number): Promise<string[]> => [
      ...(await edit(who, id, lines, reason, version)).codes,
    ]
    expect(await codes('Marit', [{ id: filters.id, quantity: '1' }])).to.deep.equal(['decide.lineNotYours'])
    expect(await codes('Joren', [{ id: seals.id, quantity: '1' }])).to.deep.equal(['decide.own'])
    expect(await codes('Ines', [{ id: seals.id, quantity: '1' }])).to.not.deep.equal([])
    expect(await codes('Marit', [{ id: seals.id, quantity: '10' }])).to.deep.equal(['decide.nothingChanged'])
    expect(await codes('Marit', [{ id: seals.id, quantity: '0' }])).to.include('line.quantity')
    expect(await codes('Marit', [{ id: seals.id, needBy: '2020-01-01' }])).to.include('line.needByPast')
    expect(await codes('Marit', [{ id: crypto.randomUUID(), quantity: '1' }])).to.deep.equal(['document.notFound']) // prettier-ignore
    expect(await codes('Marit', [{ id: seals.id, quantity: '9' }], 'Why not.', 1)).to.deep.equal(['document.changed'])
    const offered = await submitted([await goodsLine(world, 'PS-1200', '1')], 'At an offer')
    const { id: lineId } = (await sheet(offered)).lines[0]!
    expect((await edit('Marit', offered, [{ id: lineId, price: '1' }])).codes).to.deep.equal(['decide.priceOfOffer'])
    expect((await lineOf(id, 'Pump seals')).quantity).to.equal('10')
    await decide('Marit', id, 'reject')
    expect(await codes('Tomas', [{ id: filters.id, quantity: '1' }])).to.deep.equal(['state.notNow'])
  })

  it('makes links of mails that were sent before say so, and sends new ones that work', async () => {
    const id = await twoCentres('By a link later')
    const link = (mail: { text: string }): string => /Approve: \S*\/answer\/(\S+)/.exec(mail.text)![1]!
    const [old] = (await mailsTo('Tomas', 'By a link later')).filter(mail => mail.subject.includes('waits'))
    const filters = await lineOf(id, 'Hall filters')
    expect((await edit('Tomas', id, [{ id: filters.id, quantity: '9' }])).status).to.equal(200)
    const asking = (await mailsTo('Tomas', 'By a link later')).filter(mail => mail.subject.includes('waits'))
    const fresh = asking.find(mail => link(mail) !== link(old!))
    expect(asking).to.have.length(2)
    expect(fresh!.text).to.include('Changed since it was asked about:\n· Hall filters: 10 → 9')
    expect(old!.text).to.not.include('Changed since')
    const shown = await fetch(`${world.address}/api/answers/${link(fresh!)}`)
    expect(((await shown.json()) as { changes: unknown }).changes).to.deep.equal([{ line: 'Hall filters', before: '10', after: '9' }]) // prettier-ignore
    const press = (token: string) =>
      fetch(`${world.address}/api/answers/${token}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-ivory-order': '1' },
        body: JSON.stringify({ answer: 'approve', reason: '' }),
      })
    expect((await press(link(old!))).status).to.equal(422)
    expect((await press(link(fresh!))).status).to.equal(200)
    expect(await states(id)).to.deep.include({ Tomas: 'approved' })
  })

  it('is decided and changed by two at the same second: one of them is told that it is another now', async () => {
    const id = await twoCentres('At the same second')
    const { version } = await sheet(id)
    const filters = await lineOf(id, 'Hall filters')
    const answers = await Promise.all([
      edit('Tomas', id, [{ id: filters.id, quantity: '3' }], 'Three will do.', version),
      (await world.as('Marit')).call(Decide, { params: { id }, body: { version, decision: 'approve', reason: '' } }),
    ])
    expect(answers.map(one => one.status).sort()).to.deep.equal([200, 409])
    expect(answers.flatMap(one => one.codes)).to.deep.equal(['document.changed'])
  })

  it('that its requester changes after its approval is asked about only where that is more than is borne', async () => {
    const id = await twoCentres('After its approval')
    for (const who of ['Marit', 'Tomas']) await decide(who, id)
    const joren = await world.as('Joren')
    async function resubmit(quantity: string, act: 'change' | 'withdraw' = 'change'): Promise<void> {
      await joren.do(ActOnRequisition, { params: { id }, body: { version: (await sheet(id)).version, action: act } })
      if (act === 'withdraw') await joren.do(ActOnRequisition, { params: { id }, body: { version: (await sheet(id)).version, action: 'reopen' } }) // prettier-ignore
      const now = await sheet(id)
      const lines = now.lines.map(({ id: lineId, kind, itemId, offerId, description, unit, price, priceBase, currency, supplierId, needBy, addressId, splits, ...line }) => ({ id: lineId, kind, itemId, offerId, description, unit, price, priceBase, currency, supplierId, needBy, addressId, splits, quantity: description === 'Pump seals' ? quantity : line.quantity })) // prettier-ignore
      await joren.do(SaveRequisition, { params: { id }, body: { version: now.version, title: now.title, reason: '', lines: lines as never } }) // prettier-ignore
      await joren.do(SubmitRequisition, { params: { id }, body: { version: (await sheet(id)).version } })
    }
    await resubmit('10')
    expect((await sheet(id)).state, 'nothing is otherwise').to.equal('approved')
    await resubmit('20')
    expect((await sheet(id)).state).to.equal('waiting')
    expect(await states(id)).to.deep.equal({ Marit: 'open', Tomas: 'approved' })
    expect((await sheet(id)).changes.map(one => [one.line, one.before, one.after])).to.deep.equal([['Pump seals', '10', '20']]) // prettier-ignore
    expect((await mailsTo('Tomas', 'After its approval')).filter(mail => mail.subject.startsWith('Changed: ')), 'whose decision stands').to.have.length(1) // prettier-ignore
    await resubmit('10', 'withdraw')
    expect(await states(id), 'what was withdrawn is asked about from the beginning').to.deep.equal({ Marit: 'open', Tomas: 'open' }) // prettier-ignore
    await decide('Tomas', id)
    const wren = await world.as('Wren')
    await wren.do(FreeRequest, { params: { id }, body: { version: (await sheet(id)).version, reason: 'Found anew.', how: 'askAgain' } }) // prettier-ignore
    expect(await states(id)).to.deep.equal({ Marit: 'open', Tomas: 'approved' })
  })

  it('is as Setup wants it: by nobody who decides, or with everybody asked again', async () => {
    const wren = await world.as('Wren')
    const usual = await wren.do(ReadDecideSettings)
    expect(usual).to.deep.include({ secondFrom: '5000.00', wayDays: 14 })
    const put = (changed: Partial<(typeof usual)['editing']>) =>
      wren.call(SaveDecideSettings, { body: { ...usual, editing: { ...usual.editing, ...changed } } })
    expect((await put({ fields: { ...usual.editing.fields, words: 'again' } })).status).to.equal(400)
    expect((await put({ tolerancePercent: '-1' })).status).to.equal(400)
    expect((await wren.call(SaveDecideSettings, { body: { ...usual, hoursTo: '08:00' } })).status).to.equal(400)
    expect((await (await world.as('Joren')).call(SaveDecideSettings, { body: usual })).status).to.equal(403)
    expect((await put({ byDeciders: false })).status).to.equal(200)
    const id = await twoCentres('As Setup wants it')
    const seals = await lineOf(id, 'Pump seals')
    expect((await edit('Marit', id, [{ id: seals.id, quantity: '1' }])).codes).to.deep.equal(['decide.noEditing'])
    expect((await sheet(id, 'Marit')).actions.map(one => one.action)).to.not.include('editLines')
    expect((await put({ again: 'all', tolerance: '1.00', decreases: true })).body).to.deep.include({ wayDays: 14 })
    await decide('Tomas', id)
    expect((await edit('Marit', id, [{ id: seals.id, quantity: '9' }])).body).to.deep.include({ askedAgain: 0 })
    expect((await sheet(id, 'Marit')).actions.map(one => one.action)).to.include('editLines')
    await put({})
  })
})

describe('whoever asks, before submitting', () => {
  const world = useWorld()
  it('chooses among those whom a rule names, and adds somebody; nobody is taken away', async () => {
    const [marit, tomas, adaeze] = await Promise.all(
      ['Marit', 'Tomas', 'Adaeze'].map(async name => (await world.db('people').where('name', 'like', `${name} %`).first('id'))!.id as string), // prettier-ignore
    )
    const rules = await rulesNow(world)
    await putInForce(world, [
      ...rules,
      { ...rules[0]!, id: crypto.randomUUID(), name: 'One of two', conditions: [], measure: 'document', from: '0.00', below: null, stage: 2, who: { kind: 'people', personIds: [tomas!, adaeze!] }, need: 'choose', note: '' }, // prettier-ignore
    ])
    const joren = await world.as('Joren')
    const { id, version } = await joren.do(CreateRequisition, { body: { title: 'My choice', reason: '', lines: [await goodsLine(world, 'PS-1200', '2')] } }) // prettier-ignore
    const check = () => joren.do(CheckRequisition, { params: { id } })
    const first = await check()
    expect(first.choices.map(one => [one.rule, one.people.map(person => person.id).sort(), one.chosen])).to.deep.equal([['One of two', [tomas, adaeze].sort(), null]]) // prettier-ignore
    expect((await joren.call(SubmitRequisition, { params: { id }, body: { version } })).codes).to.include(
      'decide.choose',
    )
    const { ruleId } = first.choices[0]!
    const choose = (who: typeof joren, chosen: Record<string, string>, added: string[], at: number) =>
      who.call(ChooseDeciders, { params: { id }, body: { version: at, chosen, added } })
    expect((await choose(joren, { [ruleId]: marit! }, [], version)).codes).to.deep.equal(['decide.notAmong'])
    expect((await choose(await world.as('Ines'), { [ruleId]: tomas! }, [], version)).status).to.not.equal(200)
    const kept = await choose(joren, { [ruleId]: tomas! }, [adaeze!], version)
    expect(kept.status).to.equal(200)
    const second = await check()
    expect(second.added.map(one => one.name)).to.deep.equal(['Adaeze Nwoko'])
    expect(second.steps.flatMap(step => step.approvers.map(one => one.id))).to.have.members([marit, tomas, adaeze])
    await joren.do(SubmitRequisition, { params: { id }, body: { version: kept.body.version } })
    const { steps } = await joren.do(ReadRequisition, { params: { id } })
    expect(steps.map(step => [step.approvers[0]!.id, step.state]).sort()).to.deep.equal(
      [[marit, 'open'], [adaeze, 'open'], [tomas, 'later']].sort(), // prettier-ignore
    )
    expect((await choose(joren, {}, [], kept.body.version + 1)).codes).to.include('state.notNow')
  })
})
