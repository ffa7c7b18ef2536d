import { expect } from 'chai'
import fc from 'fast-check'
import { minor } from '#core/money/amount.ts'
import { NO_LIMITS, orderKey, POOL_RULES, type ProposedLine, proposeOrders, routeOf, savedTogether, weighOrder, whyNotGroups, whyNotOneOrder } from '#core/order/proposeOrders.ts' // prettier-ignore

const line = (id: string, changed: Partial<ProposedLine> = {}): ProposedLine => ({ id, supplierId: 's', currency: 'EUR', addressId: 'quay', incoterm: null, incotermPlace: '', needBy: '2026-12-10', agreement: '', routes: ['orderNow'], amount: minor(10_000), ...changed }) // prettier-ignore
const ids = (lines: readonly ProposedLine[], rules = {}) => proposeOrders(lines, { ...POOL_RULES, ...rules }).map(one => [...one.lineIds].sort().join('')) // prettier-ignore

describe('proposed orders', () => {
  it('keep suppliers, currencies and agreements apart, and call off what may be', () => {
    expect(ids([line('a'), line('b', { supplierId: 't' }), line('c'), line('d', { currency: 'USD' })])).to.deep.equal(['ac', 'b', 'd']) // prettier-ignore
    const called = line('e', { agreement: 'F-1', routes: ['orderNow', 'callOff'] })
    const other = line('f', { agreement: 'F-2', routes: ['callOff'] })
    const not = line('g', { agreement: 'F-1' })
    expect([called, other, not].map(routeOf)).to.deep.equal(['callOff', 'callOff', 'orderNow'])
    expect(ids([called, other, not, line('h')])).to.deep.equal(['e', 'f', 'gh'])
    expect(proposeOrders([called], POOL_RULES)).to.deep.equal([{ route: 'callOff', lineIds: ['e'] }])
  })

  it('keep places and Incoterms apart where the team wants it', () => {
    const lines = [line('a'), line('b', { addressId: 'mill' }), line('c', { incoterm: 'DAP', incotermPlace: 'Quay' })]
    expect(ids(lines, { byPlace: false, byIncoterm: false })).to.deep.equal(['abc'])
    expect(ids(lines, { byPlace: true, byIncoterm: false })).to.deep.equal(['ac', 'b'])
    expect(ids(lines, { byPlace: false, byIncoterm: true })).to.deep.equal(['ab', 'c'])
  })

  it('hold what is needed within some days of the first; lines without a day go with the last', () => {
    const lines = [line('c', { needBy: '2026-12-21' }), line('a'), line('b', { needBy: '2026-12-20' }), line('d', { needBy: null })] // prettier-ignore
    expect(ids(lines, { windowDays: 10 })).to.deep.equal(['ab', 'cd'])
    expect(ids(lines, { windowDays: 11 })).to.deep.equal(['abcd'])
    expect(ids(lines, { windowDays: 0 })).to.deep.equal(['a', 'b', 'cd'])
    expect(ids(lines, { windowDays: null })).to.deep.equal(['abcd'])
    expect(ids([line('x', { needBy: null }), line('y', { needBy: null })], { windowDays: 0 })).to.deep.equal(['xy'])
  })

  it('hold every line once, of one key each, whatever order they come in', () => {
    const made = fc.array(fc.record({ supplierId: fc.constantFrom('s', 't'), currency: fc.constantFrom('EUR', 'USD'), agreement: fc.constantFrom('', 'F-1'), day: fc.integer({ min: 1, max: 28 }) }), { maxLength: 12 }) // prettier-ignore
    fc.assert(
      fc.property(made, fc.integer({ min: 0, max: 20 }), (rows, windowDays) => {
        const lines = rows.map((row, at) => line(`l${at}`, { supplierId: row.supplierId, currency: row.currency, agreement: row.agreement, routes: ['orderNow', 'callOff'], needBy: `2026-12-${String(row.day).padStart(2, '0')}` })) // prettier-ignore
        const rules = { ...POOL_RULES, windowDays }
        const orders = proposeOrders(lines, rules)
        expect(orders.flatMap(one => one.lineIds).sort()).to.deep.equal(lines.map(one => one.id).sort())
        const of = new Map(lines.map(one => [one.id, one]))
        for (const { lineIds } of orders) expect(new Set(lineIds.map(id => orderKey(of.get(id)!))).size).to.equal(1)
        expect(proposeOrders([...lines].reverse(), rules).map(one => one.lineIds)).to.have.deep.members(orders.map(one => one.lineIds)) // prettier-ignore
      }),
    )
  })
})

describe('what a proposed order costs', () => {
  const limits = { minimumOrder: minor(25_000), freight: minor(4500), freightFrom: minor(50_000) }
  const of = (...amounts: number[]) => amounts.map(amount => ({ amount: minor(amount) }))

  it('is its lines, what is missing to the least that is taken, and freight up to where it is free', () => {
    expect(weighOrder(of(10_000, 5000), limits)).to.deep.equal({ total: 15_000n, missing: 10_000n, freight: 4500n })
    expect(weighOrder(of(25_000), limits)).to.deep.equal({ total: 25_000n, missing: 0n, freight: 4500n })
    expect(weighOrder(of(49_999), limits).freight).to.equal(4500n)
    expect(weighOrder(of(50_000), limits).freight).to.equal(0n)
    expect(weighOrder([], limits)).to.deep.equal({ total: 0n, missing: 25_000n, freight: 0n })
    expect(weighOrder(of(1), NO_LIMITS)).to.deep.equal({ total: 1n, missing: 0n, freight: 0n })
    expect(weighOrder(of(1), { ...limits, freightFrom: null }).freight).to.equal(4500n)
  })

  it('falls where orders are put together', () => {
    expect(savedTogether([of(10_000), of(20_000)], limits)).to.deep.equal({ freight: 4500n, reaches: true })
    expect(savedTogether([of(30_000), of(30_000)], limits)).to.deep.equal({ freight: 9000n, reaches: false })
    expect(savedTogether([of(1000), of(2000)], limits)).to.deep.equal({ freight: 4500n, reaches: false })
    expect(savedTogether([of(60_000), of(60_000)], limits)).to.deep.equal({ freight: 0n, reaches: false })
  })
})

describe('groups of lines that are drafted', () => {
  const pool = (id: string, changed: object = {}) => ({ ...line(id), requisitionId: 'r', requisition: 'R-1', requestTitle: '', position: 1, state: 'toBuy', kind: 'goods', itemId: null, description: id, unit: 'C62', price: '1', priceBase: '1', supplierName: '', overReceiptPercent: 0, proof: 'count', details: {}, splits: [], agreementLineId: null, asked: false, event: '', sums: {}, ...changed }) as never // prettier-ignore
  const codes = (lines: never[], route: 'orderNow' | 'callOff' = 'orderNow'): string[] => whyNotOneOrder(lines, route).map(one => one.code) // prettier-ignore

  it('are one order each: of one supplier, currency and, called off, agreement', () => {
    expect(codes([pool('a'), pool('b')])).to.deep.equal([])
    expect(codes([pool('a'), pool('b', { supplierId: 't' })])).to.deep.equal(['pool.notOneOrder'])
    expect(codes([pool('a'), pool('b', { currency: 'USD' })])).to.deep.equal(['pool.notOneOrder'])
    const called = (id: string, agreement: string) => pool(id, { agreement, routes: ['orderNow', 'callOff'] })
    expect(codes([called('a', 'F-1'), called('b', 'F-2')])).to.deep.equal([])
    expect(codes([called('a', 'F-1'), called('b', 'F-2')], 'callOff')).to.deep.equal(['pool.notOneOrder'])
    expect(codes([pool('a', { state: 'ordered' })])).to.deep.equal(['order.lineNotToBuy'])
  })

  it('hold a line once', () => {
    expect(whyNotGroups([{ lineIds: ['a'] }, { lineIds: ['b'] }])).to.deep.equal([])
    expect(whyNotGroups([{ lineIds: ['a', 'b'] }, { lineIds: ['b'] }]).map(one => one.code)).to.deep.equal(['pool.lineTwice']) // prettier-ignore
  })
})
