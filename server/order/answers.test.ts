import { expect } from 'chai'
import { ActOnOrder, AnswerResponse, ChangeOrder, IssueOrder, OrderUbl, ReadAnswerFile, ReadOrder, RecordAnswer, TellSupplier } from '#contract/order/endpoints.ts' // prettier-ignore
import { OwnAnswerFile, SupplierOrder, SupplierUbl } from '#contract/order/supplierOrders.ts'
import { childrenOf, find, parseXml, textAt } from '#core/formats/xml.ts'
import { drafted, goodsLine, type Issued, ordered, today } from '#test-helpers/steps.ts'
import { sendAll, useWorld } from '#test-helpers/world.ts'

const NS = 'xmlns="urn:oasis:names:specification:ubl:schema:xsd:OrderResponse-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2"' // prettier-ignore
const response = (number: string, quantity: string): string =>
  `<OrderResponse ${NS}><cbc:ID>R-1</cbc:ID><cbc:OrderResponseCode>CA</cbc:OrderResponseCode><cac:OrderReference><cbc:ID>${number}</cbc:ID></cac:OrderReference><cac:OrderLine><cac:LineItem><cbc:ID>1</cbc:ID><cbc:LineStatusCode>3</cbc:LineStatusCode><cbc:Quantity unitCode="C62">${quantity}</cbc:Quantity></cac:LineItem></cac:OrderLine></OrderResponse>`

describe('answers of suppliers, by telephone and as files', () => {
  const world = useWorld()
  const told = { who: 'Ms Berg', on: today(), how: 'telephone' } as const
  const sheetOf = async (id: string) => (await world.as('Pilar')).do(ReadOrder, { params: { id } })
  const fresh = async () => ordered(world, [await goodsLine(world, 'PS-1200', '3')], { answer: false })
  const record = async (
    order: Issued,
    changed: Partial<{ quantity: string; price: string; date: string }> = {},
    who = 'Pilar',
    more: object = {},
  ) => {
    // prettier-ignore
    const { version, revision, lines } = await sheetOf(order.id)
    const answers = lines.map(({ id, quantity, price, needBy }) => ({ lineId: id, quantity, price, date: needBy ?? today(), ...changed })) // prettier-ignore
    return (await world.as(who)).call(RecordAnswer, { params: { id: order.id }, body: { version, revision, note: '', told, lines: answers, ...more } }) // prettier-ignore
  }
  const change = async (id: string, quantity: string) => {
    const { version, title, message, charges, lines } = await sheetOf(id)
    const body = { version, title, message, charges, reason: 'Fewer will do.', lines: lines.map(line => ({ id: line.id, quantity, price: line.price, needBy: line.needBy, description: line.description })) } // prettier-ignore
    await (await world.as('Pilar')).do(ChangeOrder, { params: { id }, body })
  }

  it('confirm when typed in, say who said it, and the supplier is told', async () => {
    const order = await fresh()
    expect((await sheetOf(order.id)).actions.map(one => one.action)).to.include('recordAnswer')
    expect((await record(order)).status).to.equal(200)
    const sheet = await sheetOf(order.id)
    expect([sheet.state, sheet.responses.map(one => [one.told?.who, one.by, one.state])]).to.deep.equal(['acknowledged', [['Ms Berg', 'Pilar Quenneville', 'confirmed']]]) // prettier-ignore
    expect(sheet.actions.map(one => one.action)).to.not.include('recordAnswer')
    const mail = await world.db('outbox').where({ documentId: order.id }).whereLike('key', 'order-answer-recorded:%').first<{ payload: { text: string } }>() // prettier-ignore
    expect(mail!.payload.text).to.include('Ms Berg answered order').and.not.include('differs')
  })

  it('wait for the buyer where they differ, and are accepted like any other', async () => {
    const order = await fresh()
    expect((await record(order, { quantity: '2' })).status).to.equal(200)
    const { version, responses, sentence } = await sheetOf(order.id)
    expect([sentence.code, responses[0]!.state]).to.deep.equal(['order.is.answeredDifferently', 'waiting'])
    expect((await record(order)).codes).to.deep.equal(['order.responseWaiting'])
    await (await world.as('Pilar')).do(AnswerResponse, { params: { id: order.id, responseId: responses[0]!.id }, body: { version, answer: 'accept', reason: '' } }) // prettier-ignore
    expect((await sheetOf(order.id)).state).to.equal('acknowledged')
  })

  it('are refused from a stale page, for an old revision, from others, and from the future', async () => {
    const order = await fresh()
    await change(order.id, '2')
    expect((await record(order, {}, 'Pilar', { revision: 0 })).codes).to.deep.equal(['order.superseded'])
    expect((await record(order, {}, 'Pilar', { version: 1 })).status).to.equal(409)
    expect((await record(order, {}, 'Ines')).status).to.equal(403)
    expect((await record(order, {}, 'Pilar', { told: { ...told, on: '2999-01-01' } })).codes).to.deep.equal(['behalf.future']) // prettier-ignore
    expect((await sheetOf(order.id)).responses).to.deep.equal([])
  })

  it('are filled in from a UBL file, on both sides, by whom it concerns', async () => {
    const order = await fresh()
    const file = { params: { id: order.id }, body: { text: response(`${order.number}/0`, '2') } }
    const ours = await (await world.as('Pilar')).do(ReadAnswerFile, file)
    expect([ours.revision, ours.lines.map(one => one.quantity), ours.left]).to.deep.equal([0, ['2'], []])
    expect(await (await world.as(`at ${order.company}`)).do(OwnAnswerFile, file)).to.deep.equal(ours)
    expect((await (await world.as('at Seefelder Pumpen GmbH')).call(OwnAnswerFile, file)).status).to.equal(404)
    expect((await (await world.as(`at ${order.company}`)).call(ReadAnswerFile, file)).status).to.equal(403)
    expect((await (await world.as('Pilar')).call(ReadAnswerFile, { ...file, body: { text: response('O-1', '2') } })).codes).to.deep.equal(['orderResponse.otherOrder']) // prettier-ignore
    expect((await sheetOf(order.id)).responses).to.deep.equal([])
  })

  it('are asked for with the change as UBL; the revision before accepts nothing and says so', async () => {
    const order = await fresh()
    await change(order.id, '2')
    const root = parseXml(await (await world.as('Pilar')).text(OrderUbl, { params: { id: order.id, revision: 1 } }))
    const item = find(childrenOf(root, 'OrderLine')[0], 'LineItem')
    expect([root.name, textAt(root, 'ID'), textAt(root, 'Note'), textAt(item, 'LineStatusCode'), textAt(item, 'Quantity')]).to.deep.equal(['OrderChange', `${order.number}/1`, 'Fewer will do.', '3', '2']) // prettier-ignore
    const own = await world.as(`at ${order.company}`)
    expect(await own.text(SupplierUbl, { params: { id: order.id, revision: 1 } })).to.include('OrderChange')
    expect((await (await world.as('at Seefelder Pumpen GmbH')).call(SupplierUbl, { params: { id: order.id, revision: 1 } })).status).to.equal(404) // prettier-ignore
    const before = await own.do(SupplierOrder, { params: { id: order.id }, query: { revision: 0 } })
    expect([before.answerable, before.why.map(one => one.code)]).to.deep.equal([false, ['order.superseded']])
  })

  it('are no longer asked for once the order is cancelled: the mail carries the cancellation', async () => {
    const order = await fresh()
    const { version } = await sheetOf(order.id)
    await (await world.as('Pilar')).do(ActOnOrder, { params: { id: order.id }, body: { version, action: 'cancel', reason: 'The tank stays.', needRemains: false } }) // prettier-ignore
    await sendAll(world)
    const { mails } = (await (await fetch(`http://127.0.0.1:${world.mail.httpPort}/mails?to=@`)).json()) as { mails: { subject: string; attachments: { name: string }[] }[] } // prettier-ignore
    const mail = mails.filter(one => one.subject === `Order ${order.number} is cancelled`)
    expect(mail.map(one => one.attachments.map(part => part.name))).to.deep.equal([[`${order.number}-r0-cancelled.xml`]]) // prettier-ignore
    expect((await record(order)).codes).to.include('order.isCancelled')
  })

  it('come after the supplier was told, where an order does not leave by mail', async () => {
    for (const channel of ['spoken', 'buyer'] as const) {
      const draft = await drafted(world, [await goodsLine(world, 'PS-1200', '2')])
      const pilar = await world.as('Pilar')
      const { version, title, message, charges, lines } = await sheetOf(draft.id)
      const body = { version, title, message, charges, reason: '', conditions: { orderChannel: channel }, lines: lines.map(({ id, quantity, price, needBy, description }) => ({ id, quantity, price, needBy, description })) } // prettier-ignore
      const changed = await pilar.do(ChangeOrder, { params: { id: draft.id }, body })
      await pilar.do(IssueOrder, { params: { id: draft.id }, body: { version: changed.version } })
      const mails = await world.db('outbox').where({ documentId: draft.id, kind: 'mail' }).select<{ payload: { to: string; attach: object } }[]>('payload') // prettier-ignore
      expect(mails.map(one => one.payload.attach), channel).to.deep.equal(channel === 'spoken' ? [] : [{ orderId: draft.id, revision: 0 }]) // prettier-ignore
      const sheet = await sheetOf(draft.id)
      expect([sheet.sentence.code, sheet.tone]).to.deep.equal([`order.is.untold.${channel}`, 'attention'])
      const desk = async () => (await world.db('deskEntries').where({ documentId: draft.id, key: 'tell' })).length
      expect(await desk()).to.equal(1)
      await pilar.do(TellSupplier, { params: { id: draft.id }, body: { version: sheet.version, note: '', told } })
      expect([(await sheetOf(draft.id)).sentence.code, await desk()]).to.deep.equal(['order.is.issued', 0])
      const again = await pilar.call(TellSupplier, { params: { id: draft.id }, body: { version: sheet.version + 1, note: '', told } }) // prettier-ignore
      expect(again.codes).to.deep.equal(['order.toldAlready'])
    }
  })
})
