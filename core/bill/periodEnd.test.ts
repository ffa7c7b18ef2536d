import { expect } from 'chai'
import { billedUnproven, byAccount } from '#core/bill/periodEnd.ts'
import { NO_QUANTITIES } from '#core/ledger/quantity.ts'
import { OrderToPay } from '#test-helpers/orderToPay.ts'

describe('what is billed and did not come', () => {
  const world = new OrderToPay({ lines: [{ price: '20' }] })
  world.issue()
  const order = { currency: 'NOK', rate: '0.1', base: 'EUR' }
  const line = (received: string, billed: string, more: object = {}) => ({ ...world.order().lines[0]!, ...more, sums: { ...NO_QUANTITIES, received, billed } }) // prettier-ignore
  const open = (received: string, billed: string, more: object = {}) => {
    const found = billedUnproven(line(received, billed, more), order)
    return found === null ? null : [found.quantity, found.amount]
  }

  it('is what of a line is billed above what came, at the ordered price in the base currency', () => {
    expect(open('6', '10')).to.deep.equal(['4', 800n])
    expect(open('10', '10')).to.equal(null)
    expect(open('12', '10')).to.equal(null)
    expect(open('0', '3')).to.deep.equal(['3', 600n])
    // more went back than had come: what is billed is all that is open
    expect(open('-1', '3')).to.deep.equal(['3', 600n])
  })

  it('is nothing of what need not be proven', () => {
    expect(open('0', '3', { proof: 'none' })).to.equal(null)
    expect(open('0', '3', { matchLevel: '2' })).to.equal(null)
  })

  it('is spread over the accounts that pay, to the cent', () => {
    const splits = [{ accountId: 'a', share: '1' }, { accountId: 'b', share: '2' }] // prettier-ignore
    const found = billedUnproven(line('0', '5', { price: '2', splits }), order)!
    expect([...byAccount([found, found])]).to.deep.equal([['a', 66n], ['b', 134n]]) // prettier-ignore
  })
})
