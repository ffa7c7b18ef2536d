import { expect } from 'chai'
import { ActOnInvoice, AnswerClearing, ClearHold, ReadInvoice } from '#contract/bill/endpoints.ts'
import { ReadMyDecisions } from '#contract/decide/endpoints.ts'
import type { RuleJson } from '#contract/rules/endpoints.ts'
import { putInForce, ruleOf, rulesNow } from '#test-helpers/ruleVersions.ts'
import { billed, goodsLine, ordered, posted, received } from '#test-helpers/steps.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('differences in invoices that rules ask about', () => {
  const world = useWorld()
  const idOf = async (name: string): Promise<string> =>
    (await world.db('people').where('name', 'like', `${name} %`).first('id'))!.id as string
  const rule = (name: string, personId: string, changed: Partial<RuleJson>): RuleJson =>
    ruleOf(name, {
      kinds: ['billDifference'],
      from: '50.00',
      who: { kind: 'people', personIds: [personId] },
      ...changed,
    })
  before(async () => {
    await putInForce(world, [
      ...(await rulesNow(world)),
      rule('A difference that counts', await idOf('Adaeze'), {
        conditions: [{ fact: 'costCentre', not: false, values: ['LS-210'] }],
      }),
      rule('One that counts much', await idOf('Henrik'), { from: '500.00', stage: 2 }),
    ])
  })
  const sheetOf = async (id: string, who = 'Leonie') => (await world.as(who)).do(ReadInvoice, { params: { id } })
  const holdOf = async (id: string, kind = 'price', who = 'Leonie') =>
    (await sheetOf(id, who)).holds.find(one => one.kind === kind && one.endedAt === null)
  const invoiceAt = async (price: string, freight = '0.00') => {
    const order = await ordered(world, [await goodsLine(world, 'PS-1200', '10')])
    await received(world, order)
    return (await billed(world, order, { price, freight })).id
  }
  const clear = async (id: string, kind = 'price', who = 'Pilar') => {
    const { version } = await sheetOf(id)
    const params = { id, holdId: (await holdOf(id, kind))!.id }
    return (await world.as(who)).call(ClearHold, { params, body: { version, reason: 'Agreed by telephone.' } })
  }
  const answer = async (who: string, id: string, how: 'approve' | 'reject' | 'withdraw', reason = '') => {
    const { version } = await sheetOf(id)
    const params = { id, holdId: (await holdOf(id))!.id }
    return (await world.as(who)).call(AnswerClearing, { params, body: { version, answer: how, reason } })
  }

  it('are accepted at once below the amount, and asked about from it on', async () => {
    const [small, large] = [await invoiceAt('89.99'), await invoiceAt('90.00')]
    expect((await clear(small)).body).to.deep.include({ asked: false })
    expect((await sheetOf(small)).state).to.equal('matched')
    expect((await clear(large, 'price', 'Leonie')).codes).to.deep.equal(['bill.holdNotYours'])
    expect((await clear(large)).body).to.deep.include({ asked: true })
    expect((await sheetOf(large)).state).to.equal('onHold')
    const hold = await holdOf(large, 'price', 'Adaeze')
    expect(hold!.asked).to.deep.equal({
      state: 'open',
      askedBy: 'Pilar Quenneville',
      reason: 'Agreed by telephone.',
      waitsFor: ['Adaeze Nwoko'],
      refusedBy: '',
      refusedReason: '',
      mayDecide: true,
      mayWithdraw: false,
    })
    expect((await clear(large)).codes).to.deep.equal(['bill.holdAsked'])
    const mine = await (await world.as('Adaeze')).do(ReadMyDecisions, { query: { part: 'mine' } })
    expect(mine.items.find(one => one.documentId === large)).to.deep.include({ purpose: 'difference', amount: '50.00' })
    expect((await answer('Leonie', large, 'approve')).codes).to.deep.equal(['right.notYours'])
    expect((await answer('Pilar', large, 'approve')).codes).to.deep.equal(['bill.ownDifference'])
    expect((await answer('Adaeze', large, 'approve', 'Right.')).status).to.equal(200)
    const after = await sheetOf(large)
    expect([after.state, after.holds[0]!.endReason, after.holds[0]!.endedBy]).to.deep.equal([
      'matched',
      'Agreed by telephone.',
      'Adaeze Nwoko',
    ])
    await posted(world, large)
  })

  it('go stage by stage, stay with a no, and can be asked about again', async () => {
    const id = await invoiceAt('140.00')
    await clear(id)
    expect((await answer('Henrik', id, 'approve')).codes).to.deep.equal(['right.notYours'])
    expect((await answer('Adaeze', id, 'approve')).status).to.equal(200)
    expect((await answer('Henrik', id, 'reject')).codes).to.deep.equal(['decide.noReason'])
    expect((await answer('Henrik', id, 'reject', 'Ask for a credit note.')).status).to.equal(200)
    expect((await holdOf(id))!.asked).to.deep.include({
      state: 'refused',
      refusedBy: 'Henrik Solvang-Abe',
      refusedReason: 'Ask for a credit note.',
    })
    expect((await sheetOf(id)).state).to.equal('onHold')
    expect((await clear(id)).body).to.deep.include({ asked: true })
    expect((await answer('Pilar', id, 'withdraw')).status).to.equal(200)
    expect((await holdOf(id, 'price', 'Pilar'))!.mayClear).to.equal(true)
  })

  it('are asked about each by itself, and no more once the hold or the invoice is gone', async () => {
    const id = await invoiceAt('140.00', '80.00')
    await clear(id)
    expect((await clear(id, 'charges')).body, 'of the whole bill: no cost centre').to.deep.include({ asked: false })
    expect((await sheetOf(id)).state).to.equal('onHold')
    const { version } = await sheetOf(id)
    await (await world.as('Leonie')).do(ActOnInvoice, { params: { id }, body: { version, action: 'reject', reason: 'A new one comes.' } }) // prettier-ignore
    const mine = await (await world.as('Adaeze')).do(ReadMyDecisions, { query: { part: 'mine' } })
    expect(mine.items.filter(one => one.documentId === id)).to.deep.equal([])
    expect(await world.db('consents').where({ documentId: id }).select('state')).to.deep.equal([{ state: 'dropped' }])
  })

  it('two at the same second: one is told', async () => {
    const id = await invoiceAt('91.00')
    await clear(id)
    const { version } = await sheetOf(id)
    const params = { id, holdId: (await holdOf(id))!.id }
    const adaeze = await world.as('Adaeze')
    const body = { version, answer: 'approve' as const, reason: '' }
    const both = await Promise.all([1, 2].map(() => adaeze.call(AnswerClearing, { params, body })))
    expect(both.map(one => one.status).sort()).to.deep.equal([200, 409])
  })
})
