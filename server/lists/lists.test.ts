import { expect } from 'chai'
import { parse } from 'csv-parse/sync'
import { Invoices } from '#contract/bill/endpoints.ts'
import { Decisions } from '#contract/decide/endpoints.ts'
import { Budgets } from '#contract/insight/endpoints.ts'
import type { defineList } from '#contract/list.ts'
import { Orders, ToBuy } from '#contract/order/endpoints.ts'
import { BankMessages, Payables, Runs } from '#contract/pay/endpoints.ts'
import { Deliveries } from '#contract/receive/endpoints.ts'
import { Items } from '#contract/request/catalogue.ts'
import { Requisitions } from '#contract/request/endpoints.ts'
import { Suppliers } from '#contract/source/endpoints.ts'
import { Onboardings } from '#contract/source/onboarding.ts'
import { allRoutes } from '#server/app/routes.ts'
import { type Client, useWorld } from '#test-helpers/world.ts'

type List = ReturnType<typeof defineList>

/** Every list, and somebody who reads it. */
const LISTS: readonly (readonly [string, List, string])[] = [
  ['requests', Requisitions, 'Pilar'],
  ['own requests', Requisitions, 'Joren'],
  ['decisions', Decisions, 'Marit'],
  ['items', Items, 'Ines'],
  ['lines to buy', ToBuy, 'Pilar'],
  ['orders', Orders, 'Pilar'],
  ['deliveries', Deliveries, 'Yuki'],
  ['deliveries of one’s own', Deliveries, 'Joren'],
  ['invoices', Invoices, 'Leonie'],
  ['what is to pay', Payables, 'Casimir'],
  ['payment runs', Runs, 'Casimir'],
  ['messages of banks', BankMessages, 'Casimir'],
  ['suppliers', Suppliers, 'Rasmus'],
  ['onboardings', Onboardings, 'Rasmus'],
  ['budgets', Budgets, 'Adaeze'],
]

interface Query {
  view?: string
  sort?: string
  state?: string
  q?: string
  where?: string
}
type Page = Awaited<ReturnType<typeof firstPage>>
const firstPage = (who: Client, list: List, query: Query = {}, limit = 200) =>
  who.do(list.page, { query: { ...query, limit } })

/** The rows of a list, some at a time. */
async function paged(who: Client, list: List, query: Query, limit: number): Promise<Page['rows']> {
  const rows: Page['rows'] = []
  for (let after: string | undefined; ;) {
    const page = await who.do(list.page, { query: { ...query, limit, ...(after ? { after } : {}) } })
    expect(page.rows.length).to.be.at.most(limit)
    rows.push(...page.rows)
    if (!page.next) return rows
    after = page.next
  }
}
const keys = (rows: Page['rows']): string[] => rows.map(row => `${row.id} ${row.number}`)

describe('every list', function () {
  this.timeout(120_000)
  const world = useWorld()

  it('is here', () => {
    const names = allRoutes({ single: null, readMails: () => Promise.resolve([]) }).flatMap(one =>
      one.endpoint.name.startsWith('list.') ? [one.endpoint.name] : [],
    )
    expect([...new Set(LISTS.map(([, list]) => list.page.name))].sort()).to.deep.equal([...names].sort())
  })

  for (const [name, list, reader] of LISTS)
    it(`of ${name} pages through each of its views in each of its orders, every row once, and counts them`, async () => {
      const who = await world.as(reader)
      const { views, sorts } = await firstPage(who, list)
      for (const view of views)
        for (const sort of sorts) {
          const at = `${view} by ${sort}`
          const whole = await firstPage(who, list, { view, sort })
          expect([whole.view, whole.sort], at).to.deep.equal([view, sort])
          if (whole.next === null && !whole.countIsFloor) expect(whole.shown, at).to.equal(whole.rows.length)
          const rows = await paged(who, list, { view, sort }, 23)
          expect(new Set(keys(rows)).size, at).to.equal(rows.length)
          expect(keys(rows).slice(0, 200), at).to.deep.equal(keys(whole.rows))
        }
      for (const view of views) {
        const counted = await Promise.all(sorts.map(async sort => (await firstPage(who, list, { view, sort })).shown))
        expect(new Set(counted).size, `${view}: the order does not change how many there are`).to.equal(1)
      }
    })

  it('narrowed by a state holds only that state, and all states together are the whole', async () => {
    for (const [name, list, reader] of LISTS) {
      const who = await world.as(reader)
      const { states, views } = await firstPage(who, list)
      const view = views.at(-1)!
      let sum = 0
      for (const state of states) {
        const page = await firstPage(who, list, { view, state })
        expect(new Set(page.rows.map(row => row.state)).size, `${name} ${state}`).to.be.at.most(1)
        if (page.rows[0]) expect(page.rows[0].state, name).to.equal(state)
        sum += page.shown
      }
      const all = await firstPage(who, list, { view })
      if (states.length > 0 && !all.countIsFloor) expect(sum, name).to.be.at.most(all.shown)
    }
  })

  it('finds a row by its own number, and says how many it hides', async () => {
    for (const [name, list, reader] of LISTS) {
      const who = await world.as(reader)
      const { views } = await firstPage(who, list)
      const view = views.at(-1)!
      const all = await firstPage(who, list, { view })
      const row = all.rows[Math.floor(all.rows.length / 2)]
      if (!row) continue
      const found = await firstPage(who, list, { view, q: row.number })
      expect(keys(found.rows), name).to.include(`${row.id} ${row.number}`)
      if (!all.countIsFloor) expect(found.hidden, name).to.be.at.least(all.shown - found.shown)
      const none = await firstPage(who, list, { view, q: 'no such thing anywhere' })
      expect([none.rows, none.shown, none.next], name).to.deep.equal([[], 0, null])
    }
  })

  it('exports what it shows, row by row in the same order', async () => {
    for (const [name, list, reader] of LISTS) {
      const who = await world.as(reader)
      const { views } = await firstPage(who, list)
      const view = views.at(-1)!
      const rows = await paged(who, list, { view }, 200)
      const csv = await who.text(list.export, { params: { format: 'csv' }, query: { view } })
      const numbers = (parse(csv, { bom: true, from: 2 }) as string[][]).map(cells => cells[0])
      expect(numbers, name).to.deep.equal(rows.map(row => row.number))
    }
  })

  it('takes views, orders, states and filters that it does not know as none', async () => {
    for (const [name, list, reader] of LISTS) {
      const who = await world.as(reader)
      const plain = await firstPage(who, list)
      const odd = await who.call(list.page, {
        query: { view: 'nowhere', sort: 'sideways', state: 'lost', where: 'a:b;c', limit: 200 },
      })
      expect(odd.status, name).to.equal(200)
      expect(keys(odd.body.rows), name).to.deep.equal(keys(plain.rows))
      expect((await who.call(list.page, { query: { limit: 0 } as never })).status, name).to.equal(400)
      expect((await who.call(list.page, { query: { limit: 201 } as never })).status, name).to.equal(400)
    }
  })

  it('of suppliers is narrowed by each value that it offers', async () => {
    const rasmus = await world.as('Rasmus')
    const { filters } = await rasmus.do(Suppliers.filters)
    expect(filters.length).to.be.above(2)
    const all = await firstPage(rasmus, Suppliers, { view: 'all' })
    for (const { key, options } of filters)
      for (const { value } of options.slice(0, 6)) {
        const page = await firstPage(rasmus, Suppliers, { view: 'all', where: `${key}:${value}` })
        expect(page.narrow, key).to.deep.equal([{ key, value }])
        expect(page.shown, `${key} ${value}`).to.be.within(0, all.shown)
        expect(page.hidden, `${key} ${value}`).to.equal(all.shown - page.shown)
      }
  })
})
