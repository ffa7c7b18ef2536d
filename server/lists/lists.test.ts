import { expect } from 'chai'
import { parse } from 'csv-parse/sync'
import exceljs from 'exceljs'
import { Credits } from '#contract/bill/credits.ts'
import { Invoices } from '#contract/bill/endpoints.ts'
import { Decisions } from '#contract/decide/endpoints.ts'
import { Budgets } from '#contract/insight/endpoints.ts'
import type { defineList } from '#contract/lists/list.ts'
import { Orders, ToBuy } from '#contract/order/endpoints.ts'
import { BankMessages, Payables, Runs } from '#contract/pay/endpoints.ts'
import { Assets } from '#contract/receive/assets.ts'
import { Overdue } from '#contract/receive/overdue.ts'
import { Inspections } from '#contract/receive/inspections.ts'
import { Deliveries } from '#contract/receive/endpoints.ts'
import { Stock } from '#contract/receive/stock.ts'
import { Items } from '#contract/request/catalogue.ts'
import { Requisitions } from '#contract/request/endpoints.ts'
import { Suppliers } from '#contract/source/endpoints.ts'
import { Agreements } from '#contract/agreements/agreements.ts'
import { Costings } from '#contract/build/costings.ts'
import { AskedSuppliers, Events } from '#contract/source/events.ts'
import { Onboardings } from '#contract/source/onboarding.ts'
import { allRoutes } from '#server/app/routes.ts'
import { addDays } from '#core/calendar/days.ts'
import { OPERATORS, writeConditions } from '#core/lists/conditions.ts'
import { groupCondition } from '#core/lists/groups.ts'
import { sumTexts } from '#core/money/text.ts'
import { today } from '#test-helpers/steps.ts'
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
  ['assets', Assets, 'Yuki'],
  ['inspections', Inspections, 'Yuki'],
  ['credits', Credits, 'Leonie'],
  ['overdue', Overdue, 'Yuki'],
  ['stock', Stock, 'Yuki'],
  ['deliveries', Deliveries, 'Yuki'],
  ['deliveries of one’s own', Deliveries, 'Joren'],
  ['invoices', Invoices, 'Leonie'],
  ['what is to pay', Payables, 'Casimir'],
  ['payment runs', Runs, 'Casimir'],
  ['messages of banks', BankMessages, 'Casimir'],
  ['suppliers', Suppliers, 'Rasmus'],
  ['onboardings', Onboardings, 'Rasmus'],
  ['events', Events, 'Rasmus'],
  ['agreements', Agreements, 'Rasmus'],
  ['costings', Costings, 'Joren'],
  ['suppliers who are asked', AskedSuppliers, 'Rasmus'],
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
    const names = allRoutes({
      single: null,
      readMails: () => Promise.resolve([]),
      answerMail: () => Promise.resolve(true),
    }).flatMap(one => (one.endpoint.name.startsWith('list.') ? [one.endpoint.name] : []))
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

  for (const [name, list, reader] of LISTS)
    it(`of ${name} is counted and added up by each of its columns, and every group opens to its rows`, async () => {
      const who = await world.as(reader)
      const page = await firstPage(who, list, { view: 'all' })
      const sums = async (group = '') =>
        await who.do(list.sums, { query: { view: page.view, ...(group ? { group } : {}) } })
      const [all] = (await sums()).groups
      expect(all?.count).to.equal((await paged(who, list, { view: page.view }, 200)).length)
      for (const column of page.columns.filter(one => one.grouped)) {
        const { groups, more } = await sums(column.key)
        expect(more, column.key).to.equal(false)
        expect(
          groups.reduce((sum, group) => sum + group.count, 0),
          column.key,
        ).to.equal(all?.count)
        expect(sumTexts(groups.map(group => group.amount ?? '0')), column.key).to.equal(sumTexts([all?.amount ?? '0']))
        for (const group of groups.slice(0, 4)) {
          const condition = groupCondition(column, group.values[0] ?? null)
          if (!condition) continue
          const rows = await paged(who, list, { view: page.view, where: writeConditions([[condition]]) }, 200)
          expect(rows.length, `${column.key} ${group.values[0]}`).to.equal(group.count)
        }
      }
      const [first, second] = page.columns.filter(one => one.grouped)
      if (!first || !second) return
      const both = await sums(`${first.key},${second.key}`)
      expect(both.by).to.deep.equal([first.key, second.key])
      expect(both.groups.reduce((sum, group) => sum + group.count, 0)).to.equal(all?.count)
    })

  it('names all that it shows, in its order, for acting on them together', async () => {
    const who = await world.as('Pilar')
    const rows = await paged(who, Orders, { view: 'all', sort: '-supplier' }, 200)
    const { ids, more } = await who.do(Orders.ids, { query: { view: 'all', sort: '-supplier' } })
    expect([ids, more]).to.deep.equal([rows.map(row => row.id), false])
    const some = await who.do(Orders.ids, { query: { view: 'all', where: 'supplier.has:nord' } })
    expect(some.ids.length).to.be.greaterThan(0).and.lessThan(ids.length)
  })

  it('writes figures, days and sums into a workbook as what they are', async () => {
    const who = await world.as('Pilar')
    const query = { view: 'all', group: 'supplier', columns: 'supplier,needBy,revision,amount,number' }
    const bytes = await who.bytes(Orders.export, { format: 'xlsx' }, query)
    const book = new exceljs.Workbook()
    await book.xlsx.load(bytes as never)
    const [list, sums] = [book.getWorksheet('List')!, book.getWorksheet('Sums')!]
    expect(list.getRow(1).values).to.deep.equal([
      undefined,
      'Supplier',
      'Needed by',
      'Revision',
      'Value in the base currency',
      'Currency',
      'Number',
    ])
    const shown = await paged(who, Orders, { view: 'all' }, 200)
    expect(list.rowCount).to.equal(shown.length + 1)
    const row = list.getRow(2)
    expect(row.getCell(2).value).to.be.instanceOf(Date)
    expect([typeof row.getCell(3).value, typeof row.getCell(4).value]).to.deep.equal(['number', 'number'])
    const suppliers = Array.from({ length: shown.length }, (_, index) =>
      String(list.getRow(index + 2).getCell(1).value),
    )
    expect(suppliers, 'rows of a group stand together').to.deep.equal(
      [...suppliers].sort((a, b) =>
        a.toLowerCase() < b.toLowerCase() ? -1 : a.toLowerCase() > b.toLowerCase() ? 1 : 0,
      ),
    )
    const counts = Array.from({ length: sums.rowCount - 2 }, (_, index) =>
      Number(sums.getRow(index + 2).getCell(2).value),
    )
    expect(counts.reduce((sum, count) => sum + count, 0)).to.equal(shown.length)
    expect(sums.getRow(sums.rowCount).getCell(1).value).to.equal('All')
    expect(sums.getRow(sums.rowCount).getCell(2).value).to.equal(shown.length)
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

  it('narrowed by each value that it offers holds as many as it says', async () => {
    for (const [name, list, reader] of LISTS) {
      const who = await world.as(reader)
      const { filters } = await who.do(list.filters)
      const { views } = await firstPage(who, list)
      const view = views.at(-1)!
      const all = await firstPage(who, list, { view })
      for (const { key, options } of filters)
        for (const { value } of options.slice(0, 4)) {
          const at = `${name} ${key} ${value}`
          const page = await firstPage(who, list, { view, where: `${key}.is:${encodeURIComponent(value)}` })
          expect(page.conditions, at).to.deep.equal([[{ column: key, operator: 'is', values: [value] }]])
          const others = await firstPage(who, list, { view, where: `${key}.isNot:${encodeURIComponent(value)}` })
          if (!all.countIsFloor) expect(page.shown + others.shown, at).to.equal(all.shown)
        }
    }
  })

  it('is asked about every column in every way that its kind has, and a condition and its opposite are the whole', async () => {
    const samples: Readonly<Record<string, string>> = {
      ...{ has: ':e', hasNot: ':e', is: ':x', isNot: ':x', last: ':400', next: ':60', empty: '', filled: '' },
      ...{ thisMonth: '', me: '', myTeam: '' },
    }
    const opposites = [
      ['has', 'hasNot'],
      ['is', 'isNot'],
      ['empty', 'filled'],
    ] as const
    for (const [name, list, reader] of LISTS) {
      const who = await world.as(reader)
      const { views, asks } = await firstPage(who, list)
      const view = views.at(-1)!
      const all = await firstPage(who, list, { view })
      for (const { key, type } of asks) {
        const operators = OPERATORS[type as keyof typeof OPERATORS] as readonly string[]
        const shown = new Map<string, number>()
        for (const operator of operators) {
          const values = operator === 'between' ? (type === 'date' ? ':2020-01-01,' : ':0,') : samples[operator]!
          const page = await who.call(list.page, { query: { view, where: `${key}.${operator}${values}`, limit: 200 } })
          expect([page.status, page.body.lost], `${name} ${key} ${operator}`).to.deep.equal([200, []])
          shown.set(operator, page.body.shown)
        }
        if (all.countIsFloor) continue
        for (const [one, other] of opposites)
          if (shown.has(one)) expect(shown.get(one)! + shown.get(other)!, `${name} ${key} ${one}`).to.equal(all.shown)
      }
    }
  })

  it('is ordered by each of its columns both ways, and by two at once, every row once', async () => {
    for (const [name, list, reader] of LISTS) {
      const who = await world.as(reader)
      const { views, columns } = await firstPage(who, list)
      const view = views.at(-1)!
      const ordered = columns.filter(column => column.ordered).map(column => column.key)
      const sorts = [...ordered.flatMap(key => [key, `-${key}`]), `-${ordered[0]},${ordered[1] ?? 'state'}`]
      for (const sort of sorts.filter(() => ordered.length > 0)) {
        const whole = await firstPage(who, list, { view, sort })
        expect(whole.orders.length, `${name} ${sort}`).to.be.above(0)
        const rows = await paged(who, list, { view, sort }, 19)
        expect(new Set(keys(rows)).size, `${name} ${sort}`).to.equal(rows.length)
        expect(keys(rows).slice(0, 200), `${name} ${sort}`).to.deep.equal(keys(whole.rows))
      }
    }
  })

  it('of orders answers what a sentence of conditions asks', async () => {
    const pilar = await world.as('Pilar')
    const rows = (await firstPage(pilar, Orders, { view: 'all' })).rows
    const shown = async (where: string): Promise<string[]> =>
      (await firstPage(pilar, Orders, { view: 'all', where })).rows.map(row => row.number).sort()
    const those = (test: (row: (typeof rows)[number]) => boolean): string[] =>
      rows
        .filter(test)
        .map(row => row.number)
        .sort()
    const day = addDays(today(), 21)
    expect(await shown('needBy.next:21')).to.deep.equal(
      those(row => row.cells.needBy !== null && row.cells.needBy! >= today() && row.cells.needBy! <= day),
    )
    expect(await shown('supplier.has:NORD')).to.deep.equal(those(row => row.cells.supplier!.includes('Nord')))
    expect(await shown('supplier.has:NORD,salt|state.is:draft')).to.deep.equal(
      those(row => /nord|salt/i.test(row.cells.supplier!) || row.state === 'draft'),
    )
    expect(await shown('received.is:none;state.isNot:draft')).to.deep.equal(
      those(row => row.cells.received === 'none' && row.state !== 'draft'),
    )
    expect(await shown('amount.between:100,1000;state.is:issued')).to.deep.equal(
      those(
        row =>
          row.currency === 'EUR' && row.state === 'issued' && Number(row.amount) >= 100 && Number(row.amount) <= 1000,
      ),
    )
    expect(await shown('buyer.me')).to.deep.equal(those(row => row.cells.buyer!.startsWith('Pilar')))
    const rasmus = await world.as('Rasmus')
    const team = (await firstPage(rasmus, Orders, { view: 'all', where: 'buyer.myTeam' })).rows
    expect(team.length).to.be.above(0)
    expect(
      team.every(row => row.cells.buyer!.startsWith('Pilar')),
      'who is led by him',
    ).to.equal(true)
    const lost = await firstPage(pilar, Orders, { view: 'all', where: 'colour.is:red;supplier.has:nord' })
    expect([lost.lost, lost.conditions.length]).to.deep.equal([['colour'], 1])
    const many = Array.from({ length: 41 }, () => 'buyer.me').join(';')
    const refused = await pilar.call(Orders.page, { query: { where: many } })
    expect([refused.status, refused.codes]).to.deep.equal([422, ['list.tooManyConditions']])
    expect((await pilar.call(Orders.page, { query: { where: 'x'.repeat(4001) } })).status).to.equal(400)
    const csv = await pilar.text(Orders.export, {
      params: { format: 'csv' },
      query: { view: 'all', where: 'buyer.me', sort: '-needBy' },
    })
    const exported = (parse(csv, { bom: true, from: 2 }) as string[][]).map(cells => cells[0])
    const page = await firstPage(pilar, Orders, { view: 'all', where: 'buyer.me', sort: '-needBy' })
    expect(exported, 'an export is exactly what is seen').to.deep.equal(page.rows.map(row => row.number))
  })
})
