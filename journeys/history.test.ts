import { expect } from 'chai'
import { addDays } from '#core/calendar/days.ts'
import { loadDemo } from '#demo/load.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('the finished purchases behind the demo', function () {
  this.timeout(300_000)
  const world = useWorld(true)

  it('are made through the services, paid, and dearer from year to year', async () => {
    await loadDemo(world.jobs, { months: 6 })
    const today = new Date().toISOString().slice(0, 10)
    const old = await world
      .db('orders')
      .where('issuedAt', '<', `${addDays(today, -70)}T00:00:00Z`)
      .select('id', 'title')
    expect(old.length).to.be.above(10)
    const unpaid = await world
      .db('invoices')
      .join('invoiceLines', 'invoiceLines.invoiceId', 'invoices.id')
      .join('orderLines', 'orderLines.id', 'invoiceLines.orderLineId')
      .whereIn(
        'orderLines.orderId',
        old.map(one => one.id),
      )
      .whereNot('invoices.state', 'paid')
      .select('invoices.number', 'invoices.state')
    expect(unpaid).to.deep.equal([])
    const prices = await world
      .db('orderLines')
      .join('orders', 'orders.id', 'orderLines.orderId')
      .where('orders.title', 'like', 'Salt for%')
      .orderBy('orders.issuedAt')
      .select<{ price: string }[]>('orderLines.price')
    expect(prices.length).to.be.above(2)
    expect(Number(prices[0]!.price)).to.be.below(Number(prices.at(-1)!.price))
  })
})
