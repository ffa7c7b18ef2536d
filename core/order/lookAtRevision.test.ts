import { expect } from 'chai'
import { freightOf } from '#core/order/charges.ts'
import type { WantedOrder } from '#core/order/changeLines.ts'
import { lookAtRevision } from '#core/order/lookAtRevision.ts'
import { reviseOrder, whyNotLatest } from '#core/order/reviseOrder.ts'
import { PERSONAL_FEE } from '#core/request/personalFee.ts'
import { minor } from '#core/money/amount.ts'
import { ADA, NOBODY, OrderToPay } from '#test-helpers/orderToPay.ts'

describe('a look at a change before it is made', () => {
  /** Two lines, ten pieces each at 10.00; the account holds 205.00 at most. */
  const world = (level: 'stop' | 'off' = 'off') => {
    const made = new OrderToPay({ lines: [{}, {}], accounts: { a1: { allotted: 20_500n, level } } })
    made.issue()
    return made
  }
  const wanted = (
    made: OrderToPay,
    changed: Partial<WantedOrder['lines'][number]> = {},
    head: Partial<WantedOrder> = {},
  ): WantedOrder => {
    // prettier-ignore
    const { title, message, chargeItems: charges, lines } = made.order()
    return { title, message, charges, lines: lines.map(({ id, description, quantity, price, needBy }, at) => ({ id, description, quantity, price, needBy, ...(at === 0 ? changed : {}) })), ...head } // prettier-ignore
  }
  const look = (made: OrderToPay, ...changed: [Partial<WantedOrder['lines'][number]>?, Partial<WantedOrder>?]) =>
    lookAtRevision(made.order(), wanted(made, ...changed), made.accounts(), ADA)

  it('says what differs, what it comes to, and how the budget moves', () => {
    const made = world()
    const seen = look(made, { quantity: '6', needBy: '2026-08-01' })
    expect(seen.differences.map(one => [one.position, one.fields.map(field => [field.field, field.after])])).to.deep.equal([[1, [['quantity', '6'], ['needBy', '2026-08-01']]]]) // prettier-ignore
    expect([seen.before, seen.after, seen.reasons, seen.same]).to.deep.equal([20_000n, 16_000n, [], false])
    // what was ordered less is still requested, and reserved for it again
    expect(seen.moves).to.deep.equal([{ accountId: 'a1', reserved: 4000n, committed: -4000n }])
    expect(made.amount('committed')).to.equal(20_000n)
  })

  it('is what the revision then does', () => {
    const made = world()
    const change = wanted(made, { price: '10.5' }, { charges: freightOf(minor(100)) })
    const seen = lookAtRevision(made.order(), change, made.accounts(), ADA)
    const done = reviseOrder(made.order(), change, made.accounts(), ADA, 'So it is.')
    const committed = done.ok ? (done.budget ?? []).filter(one => one.kind === 'committed').reduce((sum, one) => sum + one.amount, 0n) : -1n // prettier-ignore
    expect(seen.moves).to.deep.equal([{ accountId: 'a1', reserved: 0n, committed }])
    expect(seen.after - seen.before).to.equal(600n)
  })

  it('says what stands against it, without asking why it is made', () => {
    const codes = (...of: Parameters<typeof look>): string[] => look(...of).reasons.map(one => one.code)
    expect(codes(world(), { price: '12' })).to.deep.equal(['order.overApproved'])
    expect(codes(world('stop'), { price: '10.5' }, { charges: freightOf(minor(100)) })).to.deep.equal(['budget.over'])
    expect(codes(world(), { quantity: '-1' })).to.deep.equal(['line.quantity'])
    expect(look(world(), { quantity: '-1' })).to.deep.include({ differences: [], before: 20_000n, after: 20_000n, moves: [] }) // prettier-ignore
    expect(lookAtRevision(world().order(), wanted(world()), [], NOBODY).reasons.map(one => one.code)).to.deep.equal(['right.notYours']) // prettier-ignore
  })

  it('says nothing of whom a personal fee is for, and changes nothing by what stood in its place', () => {
    const made = new OrderToPay({ lines: [{ kind: 'personalFee' }] })
    made.issue()
    const fee = made.order()
    const change = (description: string, quantity = fee.lines[0]!.quantity) => lookAtRevision(fee, wanted(made, { description, quantity }), made.accounts(), ADA) // prettier-ignore
    expect(change(PERSONAL_FEE).same).to.equal(true)
    expect(change(PERSONAL_FEE, '9').differences[0]!.fields.map(one => one.field)).to.deep.equal(['quantity'])
    expect(change('Dr Alma Reyes').differences[0]!.fields).to.deep.equal([{ field: 'description', before: PERSONAL_FEE, after: PERSONAL_FEE }]) // prettier-ignore
  })

  it('says where nothing differs', () => {
    expect(look(world())).to.deep.include({ same: true, reasons: [], differences: [], moves: [] })
    expect(look(world(), { quantity: '10.0' }).same).to.equal(true)
    const said = look(world(), {}, { message: 'Ring the bell.' })
    expect([said.same, said.differences.map(one => [one.position, one.fields[0]!.field])]).to.deep.equal([false, [[0, 'message']]]) // prettier-ignore
  })

  it('is for the revision in force only', () => {
    expect(whyNotLatest({ revision: 2 }, 2)).to.deep.equal([])
    expect(whyNotLatest({ revision: 2 }, 1).map(one => [one.code, one.details])).to.deep.equal([['order.superseded', { revision: 1, current: 2 }]]) // prettier-ignore
  })
})
