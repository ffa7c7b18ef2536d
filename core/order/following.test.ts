import { expect } from 'chai'
import type { Decision } from '#core/acts/decision.ts'
import { addDays } from '#core/calendar/days.ts'
import { isPastPromise, missing } from '#core/order/chaseOrder.ts'
import { askedLines, sayDays, whyNotDayLink } from '#core/order/dayLink.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { byWaiting, wantsAWord } from '#core/order/following.ts'
import { releasedIn } from '#core/order/released.ts'
import { minor } from '#core/money/amount.ts'
import { stop } from '#core/reasons.ts'
import { OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const codes = (decision: Decision<unknown>): string[] => (decision.ok ? [] : decision.reasons.map(one => one.code))
function issued(): OrderToPay {
  const world = new OrderToPay({ lines: [{}, {}] })
  world.issue()
  return world
}
/** An order with its days: when it is needed, and what was promised for its lines. */
const dated = (world: OrderToPay, needBy: string, promised: (string | null)[] = []): OrderFacts => {
  const order = world.order()
  return { ...order, needBy, issuedAt: `${TODAY}T08:00:00Z`, lines: order.lines.map((line, at) => ({ ...line, needBy, promisedDate: promised[at] ?? null })) } // prettier-ignore
}
const wants = (order: OrderFacts, today: string, more: Partial<Parameters<typeof wantsAWord>[0]> = {}): string[] =>
  wantsAWord({ order, agreed: new Map(), supplierReasons: [], ...more }, today).map(one => one.code)

describe('an order that is followed', () => {
  it('wants a word when it is late by what was wished or promised, and not a day before', () => {
    const order = dated(issued(), '2026-06-10')
    expect([wants(order, '2026-06-10'), wants(order, '2026-06-11')]).to.deep.equal([['follow.unanswered'], ['follow.late', 'follow.unanswered']]) // prettier-ignore
    const promised = dated(issued(), '2026-06-30', ['2026-06-08'])
    expect([isPastPromise(promised, '2026-06-08'), isPastPromise(promised, '2026-06-09')]).to.deep.equal([false, true])
    expect(wants(promised, '2026-06-09')[0]).to.equal('follow.pastPromise')
    expect([missing(promised, '2026-06-09'), missing(promised, '2026-06-08')]).to.deep.equal(['delivery', 'answer'])
  })

  it('wants a word three days after nobody answered, when it is promised later than needed, and when it is answered otherwise', () => {
    const order = dated(issued(), '2026-07-30')
    expect([wants(order, addDays(TODAY, 2)), wants(order, addDays(TODAY, 3))]).to.deep.equal([[], ['follow.unanswered']]) // prettier-ignore
    expect(wants(dated(issued(), '2026-07-30', ['2026-08-02']), TODAY)).to.deep.equal(['follow.laterThanNeeded'])
    expect(wants(dated(issued(), '2026-07-30', ['2026-07-30']), TODAY)).to.deep.equal([])
    const world = issued()
    world.answer([{ quantity: '5' }])
    expect(wants(dated(world, '2026-07-30'), addDays(TODAY, 9))).to.deep.equal(['follow.answeredDifferently'])
  })

  it('wants a word when only a part is in, when it is dearer than its agreement, and when its supplier may not be ordered from', () => {
    const world = issued()
    world.answer()
    expect(wants(dated(world, '2026-07-30'), TODAY)).to.deep.equal([])
    world.receive([{ line: 1, quantity: '4' }])
    expect(wants(dated(world, '2026-07-30'), TODAY)).to.deep.equal(['follow.part'])
    const order = dated(issued(), '2026-07-30')
    expect(wants(order, TODAY, { agreed: new Map([['line1', '10'], ['line2', '9.99']]) })).to.deep.equal(['follow.aboveAgreement']) // prettier-ignore
    expect(wants(order, TODAY, { supplierReasons: [stop('order.supplier.barred')] })).to.deep.equal(['order.supplier.barred']) // prettier-ignore
  })

  it('wants none when it is over', () => {
    const world = issued()
    world.close()
    expect(wants(dated(world, '2026-01-01'), TODAY)).to.deep.equal([])
  })

  it('is looked at by when it is needed, then by what it is worth', () => {
    const facts = (needBy: string | null, value: number) => ({ order: { ...issued().order(), needBy }, value: minor(value), agreed: new Map(), supplierReasons: [] }) // prettier-ignore
    const sorted = [facts(null, 9), facts('2026-07-01', 1), facts('2026-06-01', 1), facts('2026-07-01', 5)].sort(byWaiting) // prettier-ignore
    expect(sorted.map(one => `${one.order.needBy} ${one.value}`)).to.deep.equal(['2026-06-01 1', '2026-07-01 5', '2026-07-01 1', 'null 9']) // prettier-ignore
  })

  it('says what its end would release', () => {
    const world = issued()
    world.receive([{ line: 1, quantity: '4' }])
    expect([releasedIn(world.order(), 'cancelled'), releasedIn(world.order(), 'closed')]).to.deep.equal([world.amount('committed'), (world.amount('committed') * 8n) / 10n]) // prettier-ignore
  })
})

describe('the link of a reminder', () => {
  const link = { revision: 0, endsAt: '2026-06-22T23:59:59Z', usedAt: null }
  const clock = { now: '2026-06-01T09:00:00Z', today: TODAY }
  const say = (order: OrderFacts, days: { lineId: string; date: string }[], changed: Partial<typeof link> = {}) =>
    sayDays(order, { ...link, ...changed }, days, 'Casting.', { name: 'Nordhavn' }, clock)

  it('keeps the days that are said, once, for the revision that it was made for', () => {
    const world = issued()
    const said = say(world.order(), [{ lineId: 'line1', date: '2026-06-20' }])
    expect(said.ok && [said.next.promises, said.says[0]!.template]).to.deep.equal([[{ lineId: 'line1', date: '2026-06-20' }], 'order.daySaid']) // prettier-ignore
    expect(codes(say(world.order(), [{ lineId: 'line1', date: '2026-06-20' }], { usedAt: '2026-06-01T08:00:00Z' as never }))).to.deep.equal(['link.used']) // prettier-ignore
    expect(codes(say(world.order(), [{ lineId: 'line1', date: '2026-06-20' }], { endsAt: '2026-05-31T00:00:00Z' }))).to.deep.equal(['link.expired']) // prettier-ignore
    world.revise([{ line: 1, quantity: '9' }])
    expect(whyNotDayLink(link, world.order(), clock.now).map(one => one.code)).to.deep.equal(['order.superseded'])
  })

  it('takes no day that is past, of a line that is in, or none at all', () => {
    const world = issued()
    expect(codes(say(world.order(), []))).to.deep.equal(['order.noDay'])
    expect(codes(say(world.order(), [{ lineId: 'line1', date: '2026-05-31' }]))).to.deep.equal(['order.promisePast'])
    expect(codes(say(world.order(), [{ lineId: 'line1', date: TODAY }]))).to.deep.equal([])
    expect(codes(say(world.order(), [{ lineId: 'line1', date: '2029-06-01' }]))).to.deep.equal(['order.promisePast'])
    world.receive([{ line: 1, quantity: '10' }])
    expect(askedLines(world.order()).map(line => line.id)).to.deep.equal(['line2'])
    expect(codes(say(world.order(), [{ lineId: 'line1', date: '2026-06-20' }]))).to.deep.equal(['order.foreignLine'])
  })
})
