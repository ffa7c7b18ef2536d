import { expect } from 'chai'
import { readUblOrderResponse } from '#core/formats/ublOrderResponse.ts'
import { readOrderAnswer } from '#core/formats/orderAnswer.ts'
import { orderActions } from '#core/order/actions.ts'
import { recordAnswer } from '#core/order/answerOrder.ts'
import { RuleBroken } from '#core/reasons.ts'
import { ADA, NOBODY, OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const NS = 'xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2"' // prettier-ignore
const xml = (root: string, inner: string): string => `<${root} xmlns="urn:oasis:names:specification:ubl:schema:xsd:${root}-2" ${NS}><cbc:ID>AB-7</cbc:ID>${inner}</${root}>` // prettier-ignore
interface Said { line?: string; code?: string; quantity?: string; unit?: string; price?: string; base?: string; date?: string; note?: string; money?: string } // prettier-ignore
const tag = (name: string, value: string | undefined, attribute = ''): string => value === undefined ? '' : `<cbc:${name}${attribute}>${value}</cbc:${name}>` // prettier-ignore
const line = (said: Said): string => `<cac:OrderLine><cac:LineItem>${tag('ID', said.line ?? '1')}${tag('Note', said.note)}${tag('LineStatusCode', said.code)}${tag('Quantity', said.quantity, said.unit ? ` unitCode="${said.unit}"` : '')}${said.date ? `<cac:Delivery><cac:PromisedDeliveryPeriod><cbc:EndDate>${said.date}</cbc:EndDate></cac:PromisedDeliveryPeriod></cac:Delivery>` : ''}${said.price ? `<cac:Price>${tag('PriceAmount', said.price, ` currencyID="${said.money ?? 'EUR'}"`)}${tag('BaseQuantity', said.base)}</cac:Price>` : ''}</cac:LineItem></cac:OrderLine>` // prettier-ignore
const codeOf = (work: () => unknown): string => {
  try {
    work()
    return 'read'
  } catch (error) {
    return error instanceof RuleBroken ? error.reasons[0]!.code : String(error)
  }
}

describe('the file of a supplier’s answer', () => {
  /** Two lines, ten pieces each at 10.00. */
  const world = new OrderToPay({ lines: [{}, {}] })
  world.issue()
  const order = world.order()
  const about = (number: string): string => `<cac:OrderReference><cbc:ID>${number}</cbc:ID></cac:OrderReference>`
  const response = (code: string, lines: string, number = order.number): string =>
    xml('OrderResponse', `${tag('OrderResponseCode', code || undefined)}<cbc:Note>By lorry</cbc:Note>${about(number)}${lines}`) // prettier-ignore
  const read = (text: string) => readOrderAnswer(order, readUblOrderResponse(text), TODAY)
  const short = (text: string) => read(text).lines.map(one => [one.quantity, one.price, one.date])
  const asOrdered = order.lines.map(one => [one.quantity, one.price, one.needBy ?? TODAY])

  it('accepts or refuses the whole, in long and in short', () => {
    expect(short(response('AP', ''))).to.deep.equal(asOrdered)
    expect(short(response('RE', '')).map(([quantity]) => quantity)).to.deep.equal(['0', '0'])
    const simple = (accepted: string) => xml('OrderResponseSimple', `<cbc:AcceptedIndicator>${accepted}</cbc:AcceptedIndicator><cbc:RejectionNote>Out of stock</cbc:RejectionNote>${about(order.number)}`) // prettier-ignore
    expect(short(simple('true'))).to.deep.equal(asOrdered)
    expect(short(simple('false')).map(([quantity]) => quantity)).to.deep.equal(['0', '0'])
    expect(read(simple('false')).note).to.equal('Out of stock')
  })

  it('says of each line what is promised; what it does not say stays as it was ordered', () => {
    const text = response('CA', line({ code: '3', quantity: '4', price: '11.5', date: '2027-01-08', note: 'Two lots' }))
    const answer = read(text)
    expect(answer.lines.map(one => one.lineId)).to.deep.equal(order.lines.map(one => one.id))
    expect(short(text)).to.deep.equal([['4', '11.5', '2027-01-08'], asOrdered[1]])
    expect([answer.unsaid, answer.left, answer.note]).to.deep.equal([[2], [], 'By lorry\nTwo lots'])
    expect(read(response('AP', '')).unsaid).to.deep.equal([])
    expect(short(response('CA', line({ code: '7', quantity: '4' }) + line({ line: '2', code: '5', quantity: '3', date: '2027-02-01' })))).to.deep.equal([['0', '10', asOrdered[0]![2]], ['10', '10', '2027-02-01']]) // prettier-ignore
    expect(short(response('RE', line({ code: '3', quantity: '4' })))[0]![0]).to.equal('4')
    expect(short(response('RE', line({ quantity: '4' })))[0]![0]).to.equal('0')
  })

  it('gives prices for as many as the order does', () => {
    expect(short(response('CA', line({ price: '1150', base: '100' })))[0]![1]).to.equal('11.5')
    expect(codeOf(() => read(response('CA', line({ price: '3', money: 'USD' }))))).to.equal('answer.currency')
  })

  it('names the revision behind the number, however that is written', () => {
    const revision = (number: string) => read(response('AP', '', number)).revision
    const digits = order.number.replace(/\D/g, '')
    expect([revision(order.number), revision(`${order.number}/2`), revision(` o ${digits} r1`), revision(`O-0${digits}`)]).to.deep.equal([null, 2, 1, null]) // prettier-ignore
    expect(codeOf(() => read(response('AP', '', 'O-9999')))).to.equal('orderResponse.otherOrder')
    expect(codeOf(() => read(response('AP', '', `${order.number}0`)))).to.equal('orderResponse.otherOrder')
  })

  it('leaves lines that cannot be read, and says which and why', () => {
    const rows = [
      { line: '9' },
      { code: '4' },
      { quantity: '4', unit: 'KGM' },
      { quantity: 'four' },
      { price: '1', base: '0' },
      { quantity: '8' },
      { quantity: '7' },
    ]
    const { left, lines } = read(response('CA', rows.map(line).join('')))
    expect(left.map(one => [one.row, one.reason.code])).to.deep.equal([[1, 'orderResponse.noLine'], [2, 'orderResponse.lineCode'], [3, 'units.noConversion'], [4, 'orderResponse.figure'], [5, 'orderResponse.figure'], [7, 'orderResponse.twice']]) // prettier-ignore
    expect(lines[0]!.quantity).to.equal('8')
  })

  it('is refused where it only says that the order came, or is something else', () => {
    expect(codeOf(() => read(response('AB', '')))).to.equal('orderResponse.onlyReceived')
    expect(codeOf(() => read(response('XX', '')))).to.equal('orderResponse.code')
    expect(codeOf(() => read(xml('Order', '')))).to.equal('orderResponse.notOne')
    expect(codeOf(() => read('<OrderResponse/>'))).to.equal('orderResponse.notOne')
    expect(codeOf(() => read('no xml'))).to.equal('xml.notWellFormed')
    expect(codeOf(() => read('<!DOCTYPE a [<!ENTITY b "c">]><a/>'))).to.equal('xml.doctype')
  })

  it('never speaks of a line that is cancelled', () => {
    const changed = new OrderToPay({ lines: [{}, {}] })
    changed.issue()
    changed.revise([{ line: 2, quantity: '0' }])
    const { lines, left } = readOrderAnswer(changed.order(), readUblOrderResponse(response('AP', line({ line: '2', quantity: '3' }), changed.order().number)), TODAY) // prettier-ignore
    expect(lines.map(one => one.lineId)).to.deep.equal([changed.order().lines[0]!.id])
    expect(left.map(one => one.reason.code)).to.deep.equal(['orderResponse.noLine'])
  })
})

describe('an answer that one of us types in', () => {
  const told = { who: 'Ms Berg', on: TODAY, how: 'telephone', note: '' } as const
  const world = new OrderToPay({ lines: [{}] })
  world.issue()
  const order = world.order()
  const full = order.lines.map(one => ({ lineId: one.id, quantity: one.quantity, price: one.price, date: TODAY }))
  const record = (changed: { who?: string; on?: string } = {}, actor = ADA, lines = full) =>
    recordAnswer(order, 0, lines, actor, { note: '', told: { ...told, ...changed }, today: TODAY, answerId: 'a1' })
  const codes = (decision: ReturnType<typeof record>) => (decision.ok ? [] : decision.reasons.map(one => one.code))

  it('follows the same rules, and says who told us, when and how', () => {
    const decision = record()
    expect(decision.ok && [decision.next.state, decision.next.given.state, decision.did.action]).to.deep.equal(['acknowledged', 'confirmed', 'confirmed']) // prettier-ignore
    expect(decision.ok && decision.did.changes).to.deep.include({ by: 'Ms Berg', on: TODAY, how: 'telephone', typedBy: ADA.name }) // prettier-ignore
    const other = record({}, ADA, full.map(one => ({ ...one, quantity: '4' }))) // prettier-ignore
    expect(other.ok && [other.next.given.state, other.did.action]).to.deep.equal(['waiting', 'answeredDifferently'])
    expect(other.ok && other.says.map(one => [one.template, one.to, one.key, one.details.lines])).to.deep.equal([['order.answerRecorded', { kind: 'supplier', id: order.supplierId, message: 'orders' }, 'order-answer-recorded:a1', 1]]) // prettier-ignore
    expect(codes(record({}, ADA, []))).to.deep.equal(['order.answerEveryLine'])
  })

  it('is refused from who may not, without a name, and from tomorrow', () => {
    expect(codes(record({}, NOBODY))).to.deep.equal(['right.notYours'])
    expect(codes(record({ who: ' ' }))).to.deep.equal(['behalf.who'])
    expect(codes(record({ on: '2999-01-01' }))).to.deep.equal(['behalf.future'])
  })

  it('is offered as long as an answer is missing', () => {
    const offered = (facts: typeof order): boolean => orderActions(facts, ADA, { now: `${TODAY}T12:00:00.000Z`, today: TODAY }).some(one => one.action === 'recordAnswer' && one.reasons.length === 0) // prettier-ignore
    expect(offered(order)).to.equal(true)
    expect(offered({ ...order, state: 'acknowledged' })).to.equal(false)
    expect(offered({ ...order, answer: { id: 'a', revision: 0, lines: full } })).to.equal(false)
  })
})
