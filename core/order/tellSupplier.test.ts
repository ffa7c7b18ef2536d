import { expect } from 'chai'
import { orderActions } from '#core/order/actions.ts'
import { recordAnswer } from '#core/order/answerOrder.ts'
import { cancelOrder } from '#core/order/cancelOrder.ts'
import { missing } from '#core/order/chaseOrder.ts'
import { orderDesk } from '#core/order/desk.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { wantsAWord } from '#core/order/following.ts'
import { issueOrder } from '#core/order/issueOrder.ts'
import { reviseOrder } from '#core/order/reviseOrder.ts'
import { isUntold, tellSupplier } from '#core/order/tellSupplier.ts'
import type { OrderChannel } from '#core/source/defaults.ts'
import { ADA, NOBODY, OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const CLOCK = { now: `${TODAY}T12:00:00.000Z`, today: TODAY }
const told = { who: 'Mr Holm', on: TODAY, how: 'telephone', note: 'He wrote it down.' } as const

describe('an order that does not leave by mail', () => {
  const by = (channel: OrderChannel, changed: Partial<OrderFacts> = {}): OrderFacts => {
    const world = new OrderToPay({ lines: [{}] })
    world.issue()
    return { ...world.order(), channel, issuedAt: `${TODAY}T08:00:00.000Z`, ...changed }
  }
  const saidAt = (channel: OrderChannel) => {
    const world = new OrderToPay({ lines: [{}] })
    const decision = issueOrder({ ...world.order(), channel }, world.accounts(), ADA, '')
    return decision.ok ? decision.says.map(one => [one.template, one.to.kind, one.attach]) : []
  }

  it('goes to its buyer with all that belongs to it, or nowhere', () => {
    const attach = { orderId: 'order', revision: 0 }
    expect(saidAt('mail')).to.deep.equal([['order.issued', 'supplier', attach]])
    expect(saidAt('buyer')).to.deep.equal([['order.handOn', 'person', attach]])
    expect(saidAt('spoken')).to.deep.equal([])
  })

  it('waits for its buyer until somebody says who was told; then an answer is waited for', () => {
    const order = by('spoken')
    const desk = (facts: OrderFacts) => orderDesk({ ...facts, createdAt: CLOCK.now, place: '' }).filter(one => one.key === 'tell') // prettier-ignore
    expect([isUntold(order), desk(order).length, desk(order)[0]?.audiences]).to.deep.equal([true, 1, ['person:ada']])
    const facts = (one: OrderFacts) => wantsAWord({ order: one, agreed: new Map(), supplierReasons: [] }, '2026-06-20').map(note => note.code) // prettier-ignore
    expect(facts(order)).to.deep.equal(['follow.untold'])
    const decision = tellSupplier(order, ADA, told, TODAY)
    expect(decision.ok && [decision.next.toldRevision, decision.next.state, decision.did]).to.deep.equal([0, 'issued', { action: 'supplierTold', changes: { revision: 0, who: 'Mr Holm', on: TODAY, how: 'telephone' }, reason: 'He wrote it down.' }]) // prettier-ignore
    const known = by('spoken', { toldRevision: 0 })
    expect([isUntold(known), desk(known), facts(known)]).to.deep.equal([false, [], ['follow.unanswered']])
  })

  it('is not asked for an answer before, and knows of it by answering', () => {
    const chased = (order: OrderFacts): boolean => orderActions(order, ADA, CLOCK).some(one => one.action === 'chase')
    expect([chased(by('spoken')), chased(by('spoken', { toldRevision: 0 })), chased(by('mail'))]).to.deep.equal([false, true, true]) // prettier-ignore
    expect(missing(by('buyer'), '2026-12-01')).to.equal(null)
    const order = by('spoken')
    const lines = order.lines.map(line => ({
      lineId: line.id,
      quantity: line.quantity,
      price: line.price,
      date: TODAY,
    }))
    const recorded = (facts: OrderFacts) => {
      const decision = recordAnswer(facts, 0, lines, ADA, { note: '', told, today: TODAY, answerId: 'a' })
      return decision.ok ? decision.next.toldRevision : 'refused'
    }
    expect([recorded(order), recorded(by('mail')), recorded(by('spoken', { toldRevision: 0 }))]).to.deep.equal([0, undefined, undefined]) // prettier-ignore
  })

  it('has to be told again after a change, and no more once it is closed', () => {
    expect(isUntold(by('buyer', { toldRevision: 0, revision: 1 }))).to.equal(true)
    for (const state of ['draft', 'closed', 'sealed', 'cancelled'] as const) expect(isUntold(by('buyer', { state })), state).to.equal(false) // prettier-ignore
    expect(isUntold(by('mail'))).to.equal(false)
    const world = new OrderToPay({ lines: [{}] })
    world.issue()
    const order = { ...world.order(), channel: 'buyer' as const, toldRevision: 0 }
    const [line] = order.lines
    const wanted = { title: order.title, message: '', charges: order.chargeItems, lines: [{ id: line!.id, description: line!.description, quantity: '5', price: line!.price, needBy: line!.needBy }] } // prettier-ignore
    const revised = reviseOrder(order, wanted, world.accounts(), ADA, 'Fewer.')
    expect(revised.ok && revised.says.map(one => [one.template, one.to.kind])).to.deep.equal([['order.handOn', 'person']]) // prettier-ignore
  })

  it('is offered to be said by whoever may, once', () => {
    const actions = (order: OrderFacts, actor = ADA) => orderActions(order, actor, CLOCK).filter(one => one.action === 'tellSupplier').map(one => one.reasons.map(reason => reason.code)) // prettier-ignore
    expect(actions(by('spoken'))).to.deep.equal([[]])
    expect(actions(by('spoken'), NOBODY)).to.deep.equal([['right.notYours']])
    expect(actions(by('spoken', { toldRevision: 0 }))).to.deep.equal([])
    const codes = (order: OrderFacts, consent: Parameters<typeof tellSupplier>[2] = told) => {
      const decision = tellSupplier(order, ADA, consent, TODAY)
      return decision.ok ? [] : decision.reasons.map(reason => reason.code)
    }
    expect(codes(by('spoken', { toldRevision: 0 }))).to.deep.equal(['order.toldAlready'])
    expect(codes(by('mail'))).to.deep.equal(['order.toldAlready'])
    expect(codes(by('spoken'), { ...told, who: '' })).to.deep.equal(['behalf.who'])
    expect(codes(by('spoken'), { ...told, on: '2999-01-01' })).to.deep.equal(['behalf.future'])
  })

  it('is cancelled quietly where the supplier never heard of it; else the buyer is asked to say so', () => {
    const said = (channel: OrderChannel, toldRevision: number | null) => {
      const world = new OrderToPay({ lines: [{}] })
      world.issue()
      const decision = cancelOrder({ ...world.order(), channel, toldRevision }, world.accounts(), ADA, 'Not wanted.', false) // prettier-ignore
      return decision.ok ? decision.says.map(one => [one.template, one.to.kind, one.attach]) : []
    }
    const attach = { orderId: 'order', revision: 0, cancelled: 'Not wanted.' }
    expect(said('mail', null)).to.deep.equal([['order.cancelled', 'supplier', attach]])
    expect(said('spoken', null)).to.deep.equal([])
    expect(said('spoken', 0)).to.deep.equal([['order.handOnCancelled', 'person', attach]])
    expect(said('buyer', 0)).to.deep.equal([['order.handOnCancelled', 'person', attach]])
  })
})
