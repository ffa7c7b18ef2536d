import { expect } from 'chai'
import { ActOnOrder, DraftOrders, ReadOrder, ToBuy } from '#contract/order/endpoints.ts'
import { ActOnPool, AskRequester, PoolLine, ReturnLines, SplitLine } from '#contract/order/pool.ts'
import {
  ActOnRequisition,
  AnswerQuestion,
  ReadRequisition,
  SaveRequisition,
  SubmitRequisition,
} from '#contract/request/endpoints.ts'
import { account, approved, draft, figures, goodsLine } from '#test-helpers/steps.ts'
import { useWorld, type World } from '#test-helpers/world.ts'

const linesOf = async (world: World, requisitionId: string) =>
  (await world.db('requisitionLines').where({ requisitionId }).orderBy('position')) as {
    id: string
    quantity: string
    state: string
    baseAmount: bigint
    supplierId: string
    splitFrom: string | null
  }[]

describe('the pool of purchasing', () => {
  const world = useWorld()
  const act = async (
    lineIds: string[],
    action: 'take' | 'handOn' | 'leave' | 'bundle' | 'mark' | 'unmark',
    more: { personId?: string | null; text?: string } = {},
  ) =>
    (await world.as('Pilar')).call(ActOnPool, {
      body: {
        lineIds,
        action,
        personId: more.personId ?? null,
        text: more.text ?? '',
        marked: action === 'mark' ? 'askForQuotes' : null,
      },
    })
  const cells = async (id: string, view = 'all') =>
    (await (await world.as('Pilar')).do(ToBuy.page, { query: { view, limit: 200 } })).rows.find(row => row.id === id)
      ?.cells

  it('shows lines with routes, age, need-by and whether they can be there in time', async () => {
    const [line] = await linesOf(world, await approved(world, [await goodsLine(world, 'PS-1200', '2')]))
    expect(await cells(line!.id)).to.deep.include({ routes: 'orderNow', inTime: 'fine', age: '0', buyer: null })
    expect(await cells(line!.id, 'untaken')).to.not.equal(undefined)
  })

  it('lets lines be taken, handed on, put together and put back', async () => {
    const [line] = await linesOf(world, await approved(world, [await goodsLine(world, 'PS-1200', '2')]))
    await act([line!.id], 'take')
    expect((await cells(line!.id, 'mine'))!.buyer).to.equal('Pilar Quenneville')
    const rasmus = (await world.db('people').where({ name: 'Rasmus Tielemann' }).first('id')) as { id: string }
    await act([line!.id], 'handOn', { personId: rasmus.id })
    expect(await cells(line!.id, 'mine')).to.equal(undefined)
    const yuki = (await world.db('people').where({ name: 'Yuki Amberley' }).first('id')) as { id: string }
    expect((await act([line!.id], 'handOn', { personId: yuki.id })).codes).to.deep.equal(['pool.withoutRight'])
    await act([line!.id], 'bundle', { text: 'January' })
    expect((await cells(line!.id))!.bundle).to.equal('January')
    await act([line!.id], 'leave')
    expect((await cells(line!.id))!.buyer).to.equal(null)
  })

  it('marks for quotes only what its requester allows', async () => {
    const [only, both] = await linesOf(
      world,
      await approved(world, [
        await goodsLine(world, 'PS-1200', '2'),
        await goodsLine(world, 'PS-1220', '1', {
          routes: ['orderNow', 'askForQuotes'],
          routeReason: 'Last price was high.',
        }),
      ]),
    )
    expect((await act([only!.id, both!.id], 'mark')).codes).to.deep.equal(['pool.routeForbids'])
    expect((await act([both!.id], 'mark')).status).to.equal(200)
    expect(await cells(both!.id, 'markedForQuotes')).to.not.equal(undefined)
    await act([both!.id], 'unmark')
    expect(await cells(both!.id, 'markedForQuotes')).to.equal(undefined)
    const line = await (await world.as('Pilar')).do(PoolLine, { params: { id: both!.id } })
    expect(line).to.deep.include({ routeReason: 'Last price was high.', open: '1' })
  })

  it('orders only on routes that all chosen lines allow; a call-off names its agreement', async () => {
    const lines = await linesOf(
      world,
      await approved(world, [
        await goodsLine(world, 'SW-1200', '10', { routes: ['callOff'] }),
        await goodsLine(world, 'SW-1220', '10', { routes: ['orderNow', 'callOff'] }),
      ]),
    )
    const pilar = await world.as('Pilar')
    const ids = lines.map(line => line.id)
    expect((await pilar.call(DraftOrders, { body: { lineIds: ids } })).codes).to.deep.equal(['pool.routeForbids'])
    const { orders } = await pilar.do(DraftOrders, { body: { lineIds: ids, route: 'callOff' } })
    expect(orders).to.have.length(1)
    const row = (await world.db('orders').where({ id: orders[0]!.id }).first('agreement')) as { agreement: string }
    expect(row.agreement).to.match(/^F-\d+$/)
    const [none] = await linesOf(
      world,
      await approved(world, [await goodsLine(world, 'PS-1200', '1', { routes: ['orderNow', 'callOff'] })]),
    )
    expect((await pilar.call(DraftOrders, { body: { lineIds: [none!.id], route: 'callOff' } })).codes).to.include(
      'pool.noAgreement',
    )
  })

  it('asks the requester: the line pauses, visibly, until it is answered', async () => {
    const id = await approved(world, [await goodsLine(world, 'PS-1200', '2'), await goodsLine(world, 'PS-1220', '2')])
    const lines = await linesOf(world, id)
    const [pilar, joren] = [await world.as('Pilar'), await world.as('Joren')]
    await pilar.do(AskRequester, { body: { lineIds: lines.map(line => line.id), question: 'Is titanium needed?' } })
    expect((await pilar.call(DraftOrders, { body: { lineIds: [lines[0]!.id] } })).codes).to.deep.equal([
      'pool.questionOpen',
    ])
    const sheet = await joren.do(ReadRequisition, { params: { id } })
    expect([sheet.sentence.code, sheet.tone, sheet.questions.length]).to.deep.equal([
      'requisition.is.askedYou',
      'attention',
      2,
    ])
    expect((await pilar.do(ReadRequisition, { params: { id } })).sentence.code).to.equal('requisition.is.asked')
    const answer = { params: { id, questionId: sheet.questions[0]!.id }, body: { answer: 'Yes, for both.' } }
    expect((await pilar.call(AnswerQuestion, answer)).status).to.equal(403)
    await joren.do(AnswerQuestion, answer)
    expect((await joren.call(AnswerQuestion, answer)).codes).to.deep.equal(['pool.answeredAlready'])
    const after = await joren.do(ReadRequisition, { params: { id } })
    expect(after.questions.map(one => one.answer)).to.deep.equal(['Yes, for both.', 'Yes, for both.'])
    await pilar.do(DraftOrders, { body: { lineIds: lines.map(line => line.id) } })
  })

  it('splits a line over suppliers; quantity and budget stay the same in sum', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const id = await approved(world, [await goodsLine(world, 'CP-1200', '4')])
    const [line] = await linesOf(world, id)
    const pilar = await world.as('Pilar')
    const known = await pilar.do(PoolLine, { params: { id: line!.id } })
    expect(known.offers.map(offer => offer.supplier)).to.have.members(['Nordhavn Pumpeverk', 'Seefelder Pumpen GmbH'])
    const split = (quantity: string, offerId: string | null = null) =>
      pilar.call(SplitLine, {
        params: { id: line!.id },
        body: { quantity, offerId, supplierId: null, price: null, currency: null },
      })
    expect((await split('4')).codes).to.deep.equal(['pool.cut'])
    expect((await split('0')).codes).to.deep.equal(['pool.cut'])
    await split('1', known.offers.find(offer => offer.supplier.startsWith('Seefelder'))!.id)
    const after = await linesOf(world, id)
    expect(after.map(one => [Number(one.quantity), one.baseAmount])).to.deep.equal([
      [3, 657000n],
      [1, 208500n],
    ])
    expect(after[1]!.splitFrom).to.equal(line!.id)
    expect((await figures(world, accountId)).reserved - before.reserved).to.equal(865500n)
    const { orders } = await pilar.do(DraftOrders, { body: { lineIds: after.map(one => one.id) } })
    expect(orders).to.have.length(2)
    expect(
      (
        await pilar.call(SplitLine, {
          params: { id: after[0]!.id },
          body: { quantity: '1', offerId: null, supplierId: null, price: null, currency: null },
        })
      ).codes,
    ).to.deep.equal(['order.lineNotToBuy'])
    expect((await pilar.do(ReadOrder, { params: { id: orders[0]!.id } })).lines).to.have.length(1)
  })

  it('does not make a line dearer than was approved by splitting it', async () => {
    const [line] = await linesOf(world, await approved(world, [await goodsLine(world, 'PS-1200', '10')]))
    const cut = async (price: string) =>
      (await world.as('Pilar')).call(SplitLine, {
        params: { id: line!.id },
        body: { quantity: '4', offerId: null, supplierId: null, price, currency: null },
      })
    expect((await cut('850')).codes).to.deep.equal(['pool.overApproved'])
    expect((await cut('90')).status).to.equal(200)
  })

  it('a request that went back with a question, a cancelled order and a split can be changed and goes its way again', async () => {
    const [pilar, joren] = [await world.as('Pilar'), await world.as('Joren')]
    const id = await approved(world, [await goodsLine(world, 'PS-1200', '6'), await goodsLine(world, 'PS-1220', '2')])
    const [first, second] = await linesOf(world, id)
    await pilar.do(SplitLine, {
      params: { id: first!.id },
      body: { quantity: '2', offerId: null, supplierId: null, price: null, currency: null },
    })
    const { orders } = await pilar.do(DraftOrders, { body: { lineIds: [second!.id] } })
    await pilar.do(ActOnOrder, {
      params: { id: orders[0]!.id },
      body: { version: 1, action: 'cancel', reason: 'Too early.', needRemains: true },
    })
    await pilar.do(AskRequester, { body: { lineIds: [first!.id], question: 'Which shaft is it for?' } })
    await pilar.do(ReturnLines, {
      body: { lineIds: [first!.id], how: 'returnRequest', reason: 'Please say which shaft.' },
    })
    const sheet = await joren.do(ReadRequisition, { params: { id } })
    expect([sheet.state, sheet.sentence.code, sheet.lines.length]).to.deep.equal([
      'returned',
      'requisition.is.returned',
      3,
    ])
    const submitted = async (quantity: string, version: number) => {
      const kept = { ...(await goodsLine(world, 'PS-1200', quantity)), id: sheet.lines[0]!.id }
      const saved = await joren.do(SaveRequisition, {
        params: { id },
        body: { version, title: 'Again', reason: '', lines: [kept] },
      })
      await joren.do(SubmitRequisition, {
        params: { id },
        body: { version: saved.version, checkReason: 'For the long shaft.' },
      })
      return await joren.do(ReadRequisition, { params: { id } })
    }
    const less = await submitted('4', sheet.version)
    expect([less.state, less.lines[0]!.state], 'less than was approved').to.deep.equal(['approved', 'toBuy'])
    const back = await joren.do(ActOnRequisition, { params: { id }, body: { version: less.version, action: 'change' } })
    const more = await submitted('40', back.version)
    expect([more.state, more.sentence.code.startsWith('requisition.is.waiting')]).to.deep.equal(['waiting', true])
  })

  it('nobody writes to the line of another request', async () => {
    const [other] = await linesOf(world, await approved(world, [await goodsLine(world, 'PS-1200', '1')]))
    const mine = await draft(world, [])
    const stolen = { ...(await goodsLine(world, 'PS-1220', '9')), id: other!.id }
    const answer = await (
      await world.as('Joren')
    ).call(SaveRequisition, { params: { id: mine.id }, body: { version: 1, title: 'x', reason: '', lines: [stolen] } })
    expect(answer.status).to.equal(404)
    const twice = { ...(await goodsLine(world, 'PS-1220', '9')), id: '11111111-1111-4111-8111-111111111111' }
    const doubled = await (
      await world.as('Joren')
    ).call(SaveRequisition, {
      params: { id: mine.id },
      body: { version: 1, title: 'x', reason: '', lines: [twice, twice] },
    })
    expect(doubled.status).to.equal(404)
  })

  it('sends a request back while nothing of it is bought, and lets single lines go', async () => {
    const accountId = await account(world, 'LS-210', '6210')
    const before = await figures(world, accountId)
    const pilar = await world.as('Pilar')
    const back = async (lineIds: string[], how: 'returnRequest' | 'dropLines') =>
      pilar.call(ReturnLines, { body: { lineIds, how, reason: 'The kind of seal is missing.' } })
    const first = await approved(world, [await goodsLine(world, 'PS-1200', '2')])
    expect((await back([(await linesOf(world, first))[0]!.id], 'returnRequest')).status).to.equal(200)
    expect((await (await world.as('Joren')).do(ReadRequisition, { params: { id: first } })).state).to.equal('returned')
    const second = await approved(world, [
      await goodsLine(world, 'PS-1200', '2'),
      await goodsLine(world, 'PS-1220', '2'),
    ])
    const lines = await linesOf(world, second)
    await pilar.do(DraftOrders, { body: { lineIds: [lines[0]!.id] } })
    expect((await back([lines[1]!.id], 'returnRequest')).codes).to.deep.equal(['pool.partBought'])
    expect((await back([lines[1]!.id], 'dropLines')).status).to.equal(200)
    expect((await linesOf(world, second)).map(line => line.state)).to.deep.equal(['onDraftOrder', 'cancelled'])
    expect((await figures(world, accountId)).reserved - before.reserved).to.equal(17000n)
  })
})
