import { expect } from 'chai'
import type { Message } from '#core/acts/decision.ts'
import { promiseDays } from '#core/order/promiseDays.ts'
import { togetherMails } from '#core/order/togetherMails.ts'
import { editableFields, rowDifference, sameValue, type SentRow, WORKBOOK_FIELDS, workbookValues, type WorkbookValues } from '#core/order/workbook.ts' // prettier-ignore
import { actsIn, againstPlan, planActs, planOrder } from '#core/order/workbookOrder.ts'
import { KEY_HEADING, readReturned, rowKey, WORKBOOK_HEADINGS, workbookOf } from '#core/order/workbookReading.ts'
import { ADA, NOBODY, OrderToPay } from '#test-helpers/orderToPay.ts'

const VALUES: WorkbookValues = { quantity: '10', needBy: '2026-07-01', promised: '', place: 'QUAY: Saltmere Quay', price: '12.5', buyer: 'Pilar', act: '' } // prettier-ignore
const sent: SentRow = { lineId: 'line1', orderId: 'order', values: VALUES, may: WORKBOOK_FIELDS }
const returned = (changed: Partial<WorkbookValues>) => ({ row: 2, lineId: 'line1', values: { ...VALUES, ...changed }, reasons: [] }) // prettier-ignore

describe('a row of a workbook that comes back', () => {
  const state = (changed: Partial<WorkbookValues>, now: Partial<WorkbookValues> = {}): string =>
    rowDifference(sent, returned(changed), { ...VALUES, ...now }).state

  it('changes what differs from what went out; figures are the same however they are written', () => {
    expect([state({}), state({ quantity: '10.0' }), state({ quantity: '9' })]).to.deep.equal(['same', 'same', 'ready'])
    expect([sameValue('price', '1.50', '1.5'), sameValue('buyer', 'a', 'b'), sameValue('price', '', '1')]).to.deep.equal([true, false, false]) // prettier-ignore
    expect(rowDifference(sent, returned({ promised: '2026-07-09' }), VALUES).changes).to.deep.equal([{ field: 'promised', before: '', after: '2026-07-09', now: '' }]) // prettier-ignore
  })

  it('is a conflict only where somebody else changed the same field to something else meanwhile', () => {
    expect(state({ quantity: '9' }, { quantity: '8' })).to.equal('conflict')
    expect(state({ quantity: '9' }, { quantity: '9' })).to.equal('same')
    expect(state({ quantity: '9' }, { price: '11' })).to.equal('ready')
    expect(rowDifference(sent, returned({ quantity: '9' }), null).state).to.equal('ready')
    expect(rowDifference(sent, { ...returned({ quantity: 'x' }), reasons: [{ code: 'workbook.figure', level: 'stop', details: {} }] }, VALUES).state).to.equal('refused') // prettier-ignore
  })
})

describe('reading a workbook', () => {
  const headings = [KEY_HEADING, 'Order', ...Object.values(WORKBOOK_HEADINGS)]
  const row = (lineId: string, changed: Partial<WorkbookValues> = {}, workbook = 'w'): string[] => [rowKey(workbook, lineId), 'O-1', ...Object.values({ ...VALUES, ...changed })] // prettier-ignore
  const read = (rows: string[][], head = headings) =>
    readReturned([head, ...rows], 'w', { lineIds: new Set(['a', 'b']), buyers: ['Pilar', 'Rasmus'], places: ['QUAY: Saltmere Quay', 'FENN: Fenn Hatchery'], today: '2026-06-01' }) // prettier-ignore
  const codes = (rows: string[][]): string[] => read(rows).map(one => one.reasons.map(reason => reason.code).join())

  it('finds columns wherever they were moved, and refuses where one is gone', () => {
    const moved = [...headings].reverse()
    expect(read([[...row('a', { quantity: '7' })].reverse()], moved)[0]!.values).to.deep.equal({ ...VALUES, quantity: '7' }) // prettier-ignore
    expect(() => read([row('a')], headings.slice(0, -1))).to.throw('workbook.noColumns')
    expect(() => read([row('a')], headings.slice(1))).to.throw('workbook.noColumns')
  })

  it('knows which workbook it is, and that it is none where rows are of several', () => {
    expect(workbookOf([headings, row('a'), row('b')])).to.equal('w')
    expect(workbookOf([headings, row('a'), row('b', {}, 'v')])).to.equal(null)
    expect([workbookOf([['Order']]), workbookOf([])]).to.deep.equal([null, null])
  })

  it('refuses rows that are not of it or lost their key, and skips empty ones', () => {
    expect(codes([row('a'), headings.map(() => ''), row('z'), row('b', {}, 'v'), row('').map((cell, at) => (at === 0 ? '' : cell))])).to.deep.equal(['', 'workbook.foreignRow', 'workbook.foreignRow', 'workbook.noKey']) // prettier-ignore
  })

  it('takes a doubled row once where both say the same, and refuses both where they differ', () => {
    expect(codes([row('a'), row('a')])).to.deep.equal([''])
    expect(codes([row('a'), row('b'), row('a', { quantity: '1' })])).to.deep.equal(['workbook.twice', '', 'workbook.twice']) // prettier-ignore
    expect(read([row('a'), row('a', { quantity: '1' })])[1]!.reasons[0]!.details).to.deep.equal({ row: 3, other: 2 })
  })

  it('reads figures and days as people write them, and never guesses', () => {
    expect(read([row('a', { quantity: '1 234,5', needBy: '4 Dec', act: 'Close the order', buyer: 'rasmus' })])[0]!.values).to.deep.include({ quantity: '1234.5', needBy: '2026-12-04', act: 'closeOrder', buyer: 'Rasmus' }) // prettier-ignore
    expect(codes([row('a', { quantity: '1,234' }), row('b', { price: '-1' })])).to.deep.equal(['import.ambiguousNumber', 'workbook.figure']) // prettier-ignore
    expect(codes([row('a', { needBy: '03/04/2027' }), row('b', { promised: 'soon' })])).to.deep.equal(['workbook.dayTwice', 'workbook.day']) // prettier-ignore
    expect(codes([row('a', { needBy: '2026-02-30' }), row('b', { needBy: '13/04/2027' })])).to.deep.equal(['workbook.day', '']) // prettier-ignore
    expect(codes([row('a', { buyer: 'Wren' }), row('b', { act: 'burn it' })])).to.deep.equal(['workbook.buyer', 'workbook.act']) // prettier-ignore
    expect(codes([row('a', { quantity: '' }), row('b', { quantity: '0', needBy: '' })])).to.deep.equal(['workbook.figure', '']) // prettier-ignore
    expect(read([row('a', { place: 'fenn' })])[0]!.values.place).to.equal('FENN: Fenn Hatchery')
    expect(codes([row('a', { place: 'Moon base' }), row('b', { place: '' })])).to.deep.equal(['workbook.place', ''])
  })
})

describe('what rows of a workbook come to', () => {
  function issued(): OrderToPay {
    const world = new OrderToPay({ lines: [{}, {}] })
    world.issue()
    return world
  }
  const PLACES = new Map([['FENN', { id: 'fenn', name: 'Fenn Hatchery' }]])
  const want = (lineId: string, values: Partial<WorkbookValues>) => ({ lineId, values })

  it('is one change of all lines of an order, its promises, its buyer', () => {
    const order = issued().order()
    const plan = planOrder(order, [want('line1', { quantity: '8', promised: '2026-08-01' }), want('line2', { needBy: '', buyer: 'Rasmus' })], PLACES) // prettier-ignore
    expect(plan.wanted!.lines.map(line => [line.quantity, line.needBy === null])).to.deep.equal([['8', order.lines[0]!.needBy === null], ['10', true]]) // prettier-ignore
    expect([plan.promises, plan.buyer, plan.ends, plan.reasons]).to.deep.equal([[{ lineId: 'line1', date: '2026-08-01' }], 'Rasmus', null, []]) // prettier-ignore
    expect([planActs(order, plan, [], ADA, 'Why').length, actsIn(plan)]).to.deep.equal([2, 2])
    expect(actsIn(planOrder(order, [want('line1', { act: 'closeOrder' })], PLACES))).to.equal(1)
    expect(planOrder(order, [want('line1', { act: 'cancelLine' })], PLACES).wanted!.lines[0]!.quantity).to.equal('0')
    expect(planOrder(order, [want('line1', { promised: '2026-08-01' })], PLACES).wanted).to.equal(null)
    const moved = planOrder(order, [want('line1', { place: 'FENN: Fenn Hatchery' }), want('line2', { place: '' })], PLACES).wanted!.lines // prettier-ignore
    expect(moved.map(line => [line.addressId, line.place])).to.deep.equal([
      ['fenn', 'Fenn Hatchery'],
      [null, ''],
    ])
    expect(planOrder(order, [want('line1', { quantity: '8' })], PLACES).wanted!.lines[0]!).to.not.have.property('addressId') // prettier-ignore
  })

  it('cannot contradict itself', () => {
    const order = issued().order()
    const codes = (...rows: ReturnType<typeof want>[]): string[] =>
      planOrder(order, rows, PLACES).reasons.map(one => one.code)
    expect(codes(want('line1', { buyer: 'A' }), want('line2', { buyer: 'B' }))).to.deep.equal(['workbook.twoBuyers'])
    expect(codes(want('line1', { act: 'closeOrder' }), want('line2', { act: 'cancelOrder' }))).to.deep.equal(['workbook.endsAndChanges']) // prettier-ignore
    expect(codes(want('line1', { act: 'closeOrder' }), want('line2', { quantity: '1' }))).to.deep.equal(['workbook.endsAndChanges']) // prettier-ignore
    expect(codes(want('line1', { promised: '' }))).to.deep.equal(['workbook.promiseTaken'])
    expect(codes(want('line1', { act: 'closeOrder' }))).to.deep.equal([])
  })

  it('is judged by the rules of orders', () => {
    const world = issued()
    const against = (values: Partial<WorkbookValues>): string[] => {
      const order = world.order()
      return againstPlan(order, planOrder(order, [want('line1', values)], PLACES), world.accounts(), ADA, 'So it is.').map(one => one.code) // prettier-ignore
    }
    expect(against({ quantity: '11' })).to.deep.equal(['order.overRequested'])
    expect(against({ quantity: '9' })).to.deep.equal([])
    expect([against({ act: 'closeOrder' }), against({ act: 'cancelOrder' })]).to.deep.equal([[], []])
    world.receive([{ line: 1, quantity: '4' }])
    expect([against({ quantity: '3' }), against({ act: 'cancelOrder' }), against({ act: 'cancelLine' })]).to.deep.equal([['order.belowProgress'], ['order.startedAlready'], ['order.belowProgress']]) // prettier-ignore
    world.close()
    expect(against({ promised: '2026-08-01' })).to.deep.equal(['order.isClosed'])
  })

  it('is open to those who may, as far as the order lets them', () => {
    const world = new OrderToPay({ lines: [{}] })
    const fields = (actor = ADA): string[] => editableFields(world.order(), world.order().lines[0]!, actor)
    expect(fields()).to.deep.equal(['quantity', 'needBy', 'place', 'price', 'buyer', 'act'])
    expect(fields(NOBODY)).to.deep.equal([])
    world.issue()
    expect(fields()).to.deep.equal([...WORKBOOK_FIELDS])
    world.close()
    expect(fields()).to.deep.equal([])
    expect(editableFields(world.order(), { ...world.order().lines[0]!, quantity: '0' }, ADA)).to.deep.equal([])
    expect(workbookValues({ quantity: '4.50', needBy: null, promisedDate: null, price: '1.000' }, 'Pilar', 'QUAY: Saltmere Quay')).to.deep.equal({ quantity: '4.5', needBy: '', promised: '', place: 'QUAY: Saltmere Quay', price: '1', buyer: 'Pilar', act: '' }) // prettier-ignore
  })

  it('keeps promised days of lines that are there', () => {
    const order = issued().order()
    const codes = (lineId: string, date: string): string[] => {
      const decision = promiseDays(order, [{ lineId, date }], ADA, '')
      return decision.ok ? [] : decision.reasons.map(one => one.code)
    }
    expect([codes('line1', '2026-08-01'), codes('line9', '2026-08-01'), codes('line1', '2026-02-30')]).to.deep.equal([[], ['order.foreignLine'], ['order.promiseDay']]) // prettier-ignore
  })
})

describe('mails about many orders', () => {
  const message = (supplier: string, number: string, template = 'order.revised'): { orderId: string; message: Message } => ({ orderId: number, message: { template, to: { kind: 'supplier', id: supplier, message: 'orders' }, key: number, details: { number, revision: 1, reason: 'Later.', by: 'Ada' }, attach: { orderId: number, revision: 1 } } }) // prettier-ignore

  it('are one to each supplier, with every document', () => {
    const mails = togetherMails([message('a', 'O-1'), message('b', 'O-2'), message('a', 'O-3'), message('a', 'O-4', 'order.cancelled')], 'w') // prettier-ignore
    expect(mails.map(one => `${one.message.template} ${one.message.key}`)).to.deep.equal(['order.cancelled O-4', 'order.revisedTogether w:a', 'order.revised O-2']) // prettier-ignore
    const both = mails[1]!.message
    expect([both.details.numbers, both.details.count, both.attach]).to.deep.equal(['O-1 revision 1, O-3 revision 1', 2, [{ orderId: 'O-1', revision: 1 }, { orderId: 'O-3', revision: 1 }]]) // prettier-ignore
  })
})
