import { expect } from 'chai'
import { addDays } from '#core/calendar/days.ts'
import { orderActions } from '#core/order/actions.ts'
import { CHASE_REST, chaseOrder, missing, whyNotChase } from '#core/order/chaseOrder.ts'
import { orderDesk } from '#core/order/desk.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { ADA, NOBODY, OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const at = (day: string, hour = '12'): { now: string; today: string } => ({
  now: `${day}T${hour}:00:00.000Z`,
  today: day,
})
const issued = (changed: Partial<OrderFacts> = {}): OrderFacts => {
  const world = new OrderToPay()
  world.issue()
  return { ...world.order(), needBy: TODAY, ...changed }
}
const LATE = addDays(TODAY, 1)
const codes = (order: OrderFacts, clock = at(LATE), actor = ADA): string[] =>
  whyNotChase(order, actor, clock).map(reason => reason.code)

describe('chasing an order', () => {
  it('asks for what is late, else for an answer, else for nothing', () => {
    expect(missing(issued(), LATE)).to.equal('delivery')
    expect(missing(issued(), TODAY)).to.equal('answer')
    expect(missing(issued({ state: 'acknowledged' }), TODAY)).to.equal(null)
    expect(missing(issued({ state: 'acknowledged' }), LATE)).to.equal('delivery')
    expect(missing(issued({ answer: { id: 'a', revision: 0, lines: [] } }), TODAY)).to.equal(null)
    for (const state of ['draft', 'closed', 'sealed', 'cancelled'] as const)
      expect(missing(issued({ state }), LATE), state).to.equal(null)
  })

  it('is not done by who may not, not without need, and not twice a day', () => {
    expect(codes(issued())).to.deep.equal([])
    expect(codes(issued(), at(LATE), NOBODY)).to.deep.equal(['right.notYours'])
    expect(codes(issued({ state: 'acknowledged' }), at(TODAY))).to.deep.equal(['order.nothingToChase'])
    const chased = issued({ chasedAt: at(LATE, '12').now })
    expect(codes(chased, at(LATE, '20'))).to.deep.equal(['order.chasedAlready'])
    expect(codes(chased, at(addDays(LATE, 1), '07'))).to.deep.equal(['order.chasedAlready'])
    expect(codes(chased, at(addDays(LATE, 1), '08'))).to.deep.equal([])
  })

  it('mails the supplier what is missing, and says so in its history', () => {
    const order = issued()
    const decided = chaseOrder(order, ADA, at(LATE), 'The seals are hungry.')
    expect(decided.ok && decided.did).to.deep.equal({
      action: 'chased',
      changes: { missing: 'delivery' },
      reason: 'The seals are hungry.',
    })
    expect(decided.ok && decided.next).to.deep.equal({ state: 'issued', revision: 0, chasedAt: at(LATE).now })
    expect(decided.ok && decided.says).to.have.length(1)
    expect(decided.ok && decided.says[0]).to.deep.include({
      template: 'order.chased.delivery',
      to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
      key: `chase:${order.id}:${at(LATE).now}`,
    })
    expect(decided.ok && decided.says[0]!.details).to.deep.include({ needBy: TODAY, note: 'The seals are hungry.' })
    const refused = chaseOrder(issued({ state: 'closed' }), ADA, at(LATE), '')
    expect(refused.ok).to.equal(false)
  })

  it('is offered where something is missing, and the order then rests on its buyer’s Desk', () => {
    const offered = (order: OrderFacts, day: string): boolean =>
      orderActions(order, ADA, at(day)).some(one => one.action === 'chase')
    expect([offered(issued(), LATE), offered(issued({ state: 'acknowledged' }), TODAY)]).to.deep.equal([true, false])
    const from = (order: OrderFacts): string | null | undefined =>
      orderDesk({ ...order, createdAt: at(TODAY).now, place: '' }).find(entry => entry.key === 'late')?.from
    expect(from(issued())).to.equal(LATE)
    expect(from(issued({ chasedAt: at(addDays(LATE, 2)).now }))).to.equal(addDays(LATE, 2 + CHASE_REST))
    expect(from(issued({ chasedAt: at(addDays(TODAY, -9)).now }))).to.equal(LATE)
  })
})
