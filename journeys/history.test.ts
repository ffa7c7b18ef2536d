import { expect } from 'chai'
import { addDays } from '#core/calendar/days.ts'
import { loadDemo } from '#demo/load.ts'
import { useWorld } from '#test-helpers/world.ts'

describe('the finished purchases behind the demo', function () {
  this.timeout(600_000)
  const world = useWorld(true)

  it('are made through the services, paid, and dearer from year to year', async () => {
    await loadDemo(world.jobs, { months: 4 })
    const today = new Date().toISOString().slice(0, 10)
    const old = await world
      .db('orders')
      .where('issuedAt', '<', `${addDays(today, -70)}T00:00:00Z`)
      .select('id', 'title')
    expect(old.length).to.be.above(5)
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
    // eight lamps: offered at 74.00 today, two per cent a year dearer than then
    const lamps = await world
      .db('orderLines')
      .join('orders', 'orders.id', 'orderLines.orderId')
      .join('items', 'items.id', 'orderLines.itemId')
      .where('orders.title', 'like', 'UV lamps, %')
      .where('items.number', 'UL-1200')
      .where('orders.issuedAt', '<', `${addDays(today, -70)}T00:00:00Z`)
      .orderBy('orders.issuedAt')
      .select<{ price: string }[]>('orderLines.price')
    expect(lamps.length).to.be.above(0)
    for (const { price } of lamps) expect(Number(price)).to.be.within(72.5, 73.8)
  })
})
