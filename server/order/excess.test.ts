import { expect } from 'chai'
import { ReadMyDecisions } from '#contract/decide/endpoints.ts'
import { ReadDesk } from '#contract/desk/endpoints.ts'
import {
  AnswerExcess,
  AnswerResponse,
  AskExcess,
  ChangeOrder,
  IssueOrder,
  ReadOrder,
} from '#contract/order/endpoints.ts'
import { RespondToOrder } from '#contract/order/supplierOrders.ts'
import { Decide } from '#contract/decide/endpoints.ts'
import { CreateRequisition, SubmitRequisition } from '#contract/request/endpoints.ts'
import { putInForce, ruleOf, rulesNow } from '#test-helpers/ruleVersions.ts'
import {
  account,
  drafted,
  draftedFrom,
  figures,
  goodsLine,
  issuedFrom,
  moved,
  standIn,
  today,
} from '#test-helpers/steps.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

describe('orders above what was approved', () => {
  const world = useWorld()
  const read = async (id: string, who = 'Pilar') => (await world.as(who)).do(ReadOrder, { params: { id } })
  const wantedOf = async (id: string, price: string) => {
    const { title, charges, lines } = await read(id)
    return {
      title,
      message: '',
      charges,
      lines: lines.map(({ id: lineId, quantity, needBy, description }) => ({ id: lineId, quantity, price, needBy, description })), // prettier-ignore
    }
  }
  const change = async (id: string, price: string, reason = 'Steel went up.') =>
    (await world.as('Pilar')).call(ChangeOrder, {
      params: { id },
      body: { ...(await wantedOf(id, price)), version: (await read(id)).version, reason },
    })
  const ask = async (id: string, price?: string) =>
    (await world.as('Pilar')).call(AskExcess, {
      params: { id },
      body: {
        version: (await read(id)).version,
        reason: 'Steel went up.',
        wanted: price === undefined ? null : await wantedOf(id, price),
      },
    })
  const answer = async (who: string, id: string, how: 'approve' | 'reject' | 'withdraw', reason = 'Fine.') =>
    (await world.as(who)).call(AnswerExcess, {
      params: { id },
      body: { version: (await read(id)).version, answer: how, reason },
    })
  const issue = async (id: string) =>
    (await world.as('Pilar')).call(IssueOrder, { params: { id }, body: { version: (await read(id)).version } })
  const idOf = async (name: string): Promise<string> =>
    (await world.db('people').where('name', 'like', `${name} %`).first('id'))!.id as string

  it('a draft waits for the holder of what pays, stands among what she decides, and is issued after the yes', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const order = await drafted(world, [await goodsLine(world, 'PS-1200', '5')], 'Dear pumps')
    await change(order.id, '99')
    expect((await issue(order.id)).codes).to.deep.equal(['order.overApproved'])
    expect((await ask(order.id)).status).to.equal(200)
    expect((await ask(order.id)).codes).to.deep.equal(['order.excessAsked'])
    expect((await issue(order.id)).codes).to.deep.equal(['order.overApproved'])
    const sheet = await read(order.id, 'Marit')
    expect(sheet.sentence).to.deep.include({ code: 'order.is.excessAsked' })
    expect(sheet.sentence.details.who).to.equal('Marit Oland')
    expect(sheet.excess).to.deep.include({ state: 'open', amount: '70.00', currency: 'EUR', askedBy: 'Pilar Quenneville', wanted: null }) // prettier-ignore
    expect(sheet.excess!.lines.map(line => [line.approved, line.upTo])).to.deep.equal([['425.00', '495.00']])
    expect(sheet.steps.map(step => step.approvers.map(one => one.name))).to.deep.equal([['Marit Oland']])
    const marit = await world.as('Marit')
    const items = (await marit.do(ReadMyDecisions, { query: { part: 'mine' } })).items
    expect(items.find(one => one.documentId === order.id)).to.deep.include({ purpose: 'excess', amount: '70.00', path: `/order/${order.id}` }) // prettier-ignore
    const onDesk = async (who: string) =>
      (await (await world.as(who)).do(ReadDesk)).items.filter(one => one.path === `/order/${order.id}`).map(one => one.key.split(':')[0]) // prettier-ignore
    expect([await onDesk('Marit'), await onDesk('Pilar')]).to.deep.equal([['excess'], []])
    expect((await answer('Ines', order.id, 'approve')).status).to.equal(403)
    expect((await answer('Pilar', order.id, 'approve')).codes).to.deep.equal(['order.ownExcess'])
    expect((await answer('Marit', order.id, 'approve')).status).to.equal(200)
    expect([await onDesk('Marit'), await onDesk('Pilar')]).to.deep.equal([[], ['issue']])
    const before = await figures(world, accountId)
    expect((await issue(order.id)).status).to.equal(200)
    expect(moved(before, await figures(world, accountId)).committed).to.equal(49_500n)
    expect(
      (await read(order.id)).delivery.map(one => one.kind),
      'what the supplier was sent, not what the house was told',
    ).to.deep.equal(['mail'])
    await sendAll(world)
    const { email } = (await world.db('people').where('name', 'like', 'Pilar %').first('email'))!
    const sent = await fetch(`http://127.0.0.1:${world.mail.httpPort}/?to=${encodeURIComponent(String(email))}`)
    const { mails } = (await sent.json()) as { mails: { subject: string; text: string }[] }
    const mail = mails.find(one => one.subject.includes('Dear pumps') && one.subject.includes('may cost more'))
    expect(mail?.text.replace(/\s+/g, ' '))
      .to.include('Marit Oland agreed')
      .and.include('EUR 70.00 more than was approved')
  })

  it('a change of an issued order is asked for as it shall read, is kept, and made after the yes; a no leaves it', async () => {
    const order = await drafted(world, [await goodsLine(world, 'PS-1200', '5')])
    await issuedFrom(world, order)
    expect((await change(order.id, '110')).codes).to.deep.equal(['order.overApproved'])
    expect((await ask(order.id, '90')).codes).to.deep.equal(['order.excessNone'])
    expect((await ask(order.id, '110')).status).to.equal(200)
    expect((await answer('Marit', order.id, 'reject', 'Too dear.')).status).to.equal(200)
    expect((await read(order.id)).excess).to.deep.include({ state: 'refused', wanted: null })
    expect((await read(order.id)).excess!.answer).to.deep.equal({ who: 'Marit Oland', reason: 'Too dear.' })
    expect((await change(order.id, '110')).codes).to.deep.equal(['order.overApproved'])

    expect((await ask(order.id, '105')).status).to.equal(200)
    expect((await answer('Pilar', order.id, 'withdraw', '')).status).to.equal(200)
    expect((await ask(order.id, '105')).status).to.equal(200)
    expect((await answer('Marit', order.id, 'approve')).status).to.equal(200)
    const { excess } = await read(order.id)
    expect(excess!.wanted!.lines[0]!.price).to.equal('105')
    expect((await change(order.id, '105.01')).codes).to.deep.equal(['order.overApproved'])
    expect((await change(order.id, '105')).status).to.equal(200)
    expect(await read(order.id)).to.deep.include({ revision: 1, total: '525.00' })
    expect((await read(order.id)).excess!.wanted, 'made already').to.equal(null)
  })

  it('a supplier’s dearer answer can be asked about; another change meanwhile ends the question', async () => {
    const order = await drafted(world, [await goodsLine(world, 'PS-1200', '5')])
    const issued = await issuedFrom(world, order, false)
    const seller = await world.as(`at ${issued.company}`)
    await seller.do(RespondToOrder, {
      params: { id: order.id },
      body: {
        revision: 0,
        note: 'Steel.',
        lines: issued.lines.map(line => ({ lineId: line.id, quantity: line.quantity, price: '101', date: today() })),
      },
    })
    const accept = async () => {
      const { version, responses } = await read(order.id)
      return (await world.as('Pilar')).call(AnswerResponse, {
        params: { id: order.id, responseId: responses.find(one => one.state === 'waiting')!.id },
        body: { version, answer: 'accept', reason: '' },
      })
    }
    expect((await accept()).codes).to.deep.equal(['order.overApproved'])
    expect((await ask(order.id)).status).to.equal(200)
    await change(order.id, '86', 'A little more.')
    expect((await read(order.id)).excess!.state).to.equal('dropped')
    expect((await answer('Marit', order.id, 'approve')).codes).to.deep.equal(['order.excessDecided'])
    await seller.do(RespondToOrder, {
      params: { id: order.id },
      body: {
        revision: 1,
        note: 'Steel.',
        lines: issued.lines.map(line => ({ lineId: line.id, quantity: line.quantity, price: '101', date: today() })),
      },
    })
    expect((await ask(order.id)).status).to.equal(200)
    expect((await answer('Marit', order.id, 'approve')).status).to.equal(200)
    expect((await accept()).status).to.equal(200)
    expect(await read(order.id)).to.deep.include({ total: '505.00', state: 'acknowledged' })
  })

  it('goes to whom rules name for what is above, stage by stage, be it to a stand-in', async () => {
    const henrik = await idOf('Henrik')
    await putInForce(world, [
      ...(await rulesNow(world)),
      ruleOf('Who holds what pays, from 300', { kinds: ['orderExcess'], from: '300.00' }),
      ruleOf('Much dearer than approved', {
        kinds: ['orderExcess'],
        conditions: [{ fact: 'costCentre', not: false, values: ['LS-210'] }],
        from: '100.00',
        who: { kind: 'people', personIds: [henrik] },
      }),
    ])
    const asked = async (price: string) => {
      const order = await drafted(world, [await goodsLine(world, 'PS-1200', '5')])
      await change(order.id, price)
      expect((await ask(order.id)).status).to.equal(200)
      return order.id
    }
    const [small, large] = [await asked('104.99'), await asked('105')]
    const whom = async (id: string) =>
      (await read(id)).steps.map(step => [step.approvers[0]?.name, step.rules[0]?.name])
    expect(await whom(small)).to.deep.equal([['Marit Oland', undefined]])
    expect(await whom(large)).to.deep.equal([['Henrik Solvang-Abe', 'Much dearer than approved']])
    expect((await answer('Marit', large, 'approve')).codes).to.deep.equal(['right.notYours'])
    const end = await standIn(world, 'Henrik', 'Tomas')
    expect((await answer('Tomas', large, 'approve')).status).to.equal(200)
    expect((await issue(large)).status).to.equal(200)
    await end()

    // Marit asked for it herself and holds what pays: the next in her chain decides that part, too
    const marit = await world.as('Marit')
    const { id, version } = await marit.do(CreateRequisition, { body: { title: 'Her own', reason: '', lines: [await goodsLine(world, 'PS-1200', '20')] } }) // prettier-ignore
    await marit.do(SubmitRequisition, { params: { id }, body: { version, checkReason: 'Needed.' } })
    await (await world.as('Henrik')).do(Decide, { params: { id }, body: { version: version + 1, decision: 'approve', reason: '' } }) // prettier-ignore
    const own = await draftedFrom(world, id)
    await change(own.id, '105')
    expect((await ask(own.id)).status).to.equal(200)
    expect([...new Set((await whom(own.id)).map(([name]) => name))]).to.deep.equal(['Henrik Solvang-Abe'])
  })

  it('two decide at the same second: one is told; a stale page and a reason that says nothing are refused', async () => {
    const order = await drafted(world, [await goodsLine(world, 'PS-1200', '5')])
    await change(order.id, '99')
    const pilar = await world.as('Pilar')
    const { version } = await read(order.id)
    expect((await pilar.call(AskExcess, { params: { id: order.id }, body: { version, reason: '  ', wanted: null } })).status).to.equal(400) // prettier-ignore
    await ask(order.id)
    const marit = await world.as('Marit')
    const body = { version: version + 1, answer: 'approve' as const, reason: '' }
    const both = await Promise.all([1, 2].map(() => marit.call(AnswerExcess, { params: { id: order.id }, body })))
    expect(both.map(one => one.status).sort()).to.deep.equal([200, 409])
  })
})
