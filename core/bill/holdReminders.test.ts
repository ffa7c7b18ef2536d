import { expect } from 'chai'
import { clearersOf, endsByOrder, nextTold, reminderOf, type WaitingHold } from '#core/bill/holdReminders.ts'
import { clearHold } from '#core/bill/clearHold.ts'
import { type Clearer, HOLD_KIND_CODES } from '#core/bill/holds.ts'
import { actorOf, OrderToPay } from '#test-helpers/orderToPay.ts'

const waiting = (changed: Partial<WaitingHold> = {}): WaitingHold => ({ kind: 'price', ended: false, clearedBy: 'buyer', asked: null, escalated: false, hoursOpen: 10, hoursQuiet: 10, ...changed }) // prettier-ignore
const patience = { remindHours: 8, escalateHours: 24 }
const says = (changed: Partial<WaitingHold>, wanted = patience) => reminderOf(waiting(changed), wanted)

describe('a hold that waits', () => {
  it('reminds those whose it is each time so many hours went by', () => {
    expect([says({ hoursQuiet: 7.9 }), says({ hoursQuiet: 8 }), says({ hoursOpen: 23, hoursQuiet: 7 })]).to.deep.equal([null, 'remind', null]) // prettier-ignore
    expect(says({}, { ...patience, remindHours: 0 })).to.equal(null)
  })

  it('is told above once, where there is somebody above', () => {
    expect(says({ hoursOpen: 24, hoursQuiet: 1 })).to.equal('escalate')
    expect(says({ hoursOpen: 23.9, hoursQuiet: 1 })).to.equal(null)
    expect(says({ hoursOpen: 50, hoursQuiet: 9, escalated: true })).to.equal('remind')
    expect(says({ hoursOpen: 50, hoursQuiet: 9, clearedBy: 'financeController' })).to.equal('remind')
    expect(says({ hoursOpen: 50, hoursQuiet: 9 }, { ...patience, escalateHours: 0 })).to.equal('remind')
  })

  it('says beforehand who hears of it if nobody does, and which differences a revision of the order ends', () => {
    const next = (changed: Partial<WaitingHold>, wanted = patience) => nextTold(waiting(changed), wanted)
    expect(next({})).to.deep.equal({ role: 'financeController', hours: 24 })
    expect([next({ clearedBy: 'receiver' })?.role, next({ escalated: true }), next({ kind: 'dispute' }), next({ clearedBy: 'financeController' }), next({}, { ...patience, escalateHours: 0 })]).to.deep.equal(['buyer', null, null, null, null]) // prettier-ignore
    expect(HOLD_KIND_CODES.filter(endsByOrder).sort()).to.deep.equal(['amount', 'below', 'charges', 'currency', 'early', 'price', 'quantity', 'unit']) // prettier-ignore
  })

  it('leaves alone what has ended, is disputed or is asked of somebody', () => {
    const old = { hoursOpen: 99, hoursQuiet: 99 }
    expect([says({ ...old, ended: true }), says({ ...old, kind: 'dispute' }), says({ ...old, asked: { state: 'open' } as WaitingHold['asked'] })]).to.deep.equal([null, null, null]) // prettier-ignore
    expect(says({ ...old, asked: { state: 'refused' } as WaitingHold['asked'] })).to.equal('escalate')
  })

  it('may be cleared by those above as well, once it was told there', () => {
    const roles: Clearer[] = ['requester', 'receiver', 'buyer', 'invoiceClerk', 'treasurer', 'financeController']
    expect(roles.map(clearedBy => clearersOf({ clearedBy, escalated: true }).join(' '))).to.deep.equal(['requester buyer', 'receiver buyer', 'buyer financeController', 'invoiceClerk financeController', 'treasurer financeController', 'financeController']) // prettier-ignore
    expect(clearersOf({ clearedBy: 'buyer', escalated: false })).to.deep.equal(['buyer'])
    const world = new OrderToPay()
    const invoice = { ...world.bill([{ line: 0, quantity: '1', net: 9_999n }]), state: 'onHold' as const }
    const kept = { id: 'h', kind: 'price' as const, position: 1, quantity: '1', amount: invoice.net, clearedBy: 'buyer' as const, ended: false, cleared: false, asked: null } // prettier-ignore
    const clear = (escalated: boolean) => clearHold({ ...invoice, holds: [{ ...kept, escalated }] }, 'h', actorOf('adaeze', { roles: ['financeController'] }), 'It is right so.') // prettier-ignore
    expect([clear(false).ok, clear(true).ok]).to.deep.equal([false, true])
  })
})
