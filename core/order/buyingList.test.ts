import { expect } from 'chai'
import { listColumns, listedOrders, readListRow } from '#core/order/buyingList.ts'
import { notAllowed } from '#core/order/againstRequest.ts'
import { orderActions } from '#core/order/actions.ts'
import { issueOrder } from '#core/order/issueOrder.ts'
import type { PlacedGoods } from '#core/order/goodsRow.ts'
import { minor } from '#core/money/amount.ts'
import { RuleBroken } from '#core/reasons.ts'
import { ADA, OrderToPay, TODAY } from '#test-helpers/orderToPay.ts'

const CELLS = { supplier: 'Nordhavn', item: 'PS-1200', quantity: '12', price: '8,50', cost_centre: 'ls-210', account: '6210', need_by: '2027-01-15' } // prettier-ignore
const faults = (changed: object): string[] => readListRow({ ...CELLS, ...changed }, 4, 'EUR').reasons.map(reason => `${reason.place} ${reason.code}`) // prettier-ignore
const codeOf = (work: () => unknown): string => {
  try {
    work()
    return 'read'
  } catch (error) {
    return error instanceof RuleBroken ? `${error.reasons[0]!.code} ${String(error.reasons[0]!.details.columns ?? error.reasons[0]!.details.column)}` : String(error) // prettier-ignore
  }
}

describe('a list of goods to be ordered', () => {
  it('is read by its headings, in any order and as people write them', () => {
    const columns = listColumns(['Remark', 'Qty', 'Cost Centre', 'ACCOUNT', 'Item', 'Supplier', 'Needed by', 'Unit price']) // prettier-ignore
    expect([...columns]).to.deep.equal([['quantity', 1], ['cost_centre', 2], ['account', 3], ['item', 4], ['supplier', 5], ['need_by', 6], ['price', 7]]) // prettier-ignore
    expect(codeOf(() => listColumns(['supplier', 'quantity']))).to.equal('list.columns cost_centre, account, item or description') // prettier-ignore
    expect(codeOf(() => listColumns(['supplier', 'qty', 'quantity']))).to.equal('list.columnTwice quantity')
    expect(codeOf(() => listColumns(['constructor', '__proto__']))).to.include('list.columns')
  })

  it('has rows that say what is bought, or why they cannot be read', () => {
    expect(readListRow(CELLS, 4, 'EUR').goods).to.deep.include({ quantity: '12', price: '8.50', priceBase: '1', currency: 'EUR', unit: 'C62', costCentre: 'LS-210', needBy: '2027-01-15' }) // prettier-ignore
    expect(faults({})).to.deep.equal([])
    expect(faults({ item: '', description: 'Rope' })).to.deep.equal([])
    expect(faults({ item: '' })).to.deep.equal(['rows.4.description import.missing'])
    expect(faults({ price: '' })).to.deep.equal(['rows.4.price import.missing'])
    expect(faults({ quantity: '0' })).to.deep.equal(['rows.4.quantity import.number'])
    expect(faults({ quantity: '1,234' })).to.deep.equal(['rows.4.quantity import.ambiguousNumber'])
    expect(faults({ need_by: 'Friday', currency: 'XXX' })).to.have.members(['rows.4.need_by import.day', 'rows.4.currency money.unknownCurrency']) // prettier-ignore
  })

  it('makes one draft for each supplier and currency, in the order of the rows', () => {
    const goods = (row: number, supplierId: string, currency: string): PlacedGoods => ({ ...readListRow({ ...CELLS, currency, description: `Row ${row}` }, row, 'EUR').goods, row, supplierId, supplierName: supplierId, overReceiptPercent: 0, itemId: null, accountId: 'a', addressId: null, rate: '1' }) // prettier-ignore
    const made = listedOrders([goods(2, 'a', 'EUR'), goods(3, 'b', 'EUR'), goods(4, 'a', 'USD'), goods(5, 'a', 'EUR')], 'EUR') // prettier-ignore
    expect(made.map(one => [one.order.supplierId, one.order.currency, one.rows, one.order.title])).to.deep.equal([['a', 'EUR', [2, 5], 'Row 2 and 1 more'], ['b', 'EUR', [3], 'Row 3'], ['a', 'USD', [4], 'Row 4']]) // prettier-ignore
    expect(made[0]!.order.total).to.equal(20_400n)
    expect(made[0]!.order.lines.map(line => [line.requisitionLineId, line.splits])).to.deep.equal([[null, [{ accountId: 'a', share: '1' }]], [null, [{ accountId: 'a', share: '1' }]]]) // prettier-ignore
  })
})

describe('an order that is written without a request', () => {
  /** Ten pieces at 10.00 that nobody requested. */
  const direct = (changed: object = {}) => {
    const order = new OrderToPay().order()
    return { ...order, requests: [], lines: order.lines.map(line => ({ ...line, requestLineId: null })), direct: true, ...changed } // prettier-ignore
  }
  const accounts = new OrderToPay().accounts()
  const codes = (order: ReturnType<typeof direct>): string[] => {
    const decision = issueOrder(order, accounts, ADA, '')
    return decision.ok ? [] : decision.reasons.map(reason => reason.code)
  }

  it('is approved before it is issued, up to what was asked for', () => {
    const order = direct()
    expect(codes(order)).to.deep.equal(['order.notApproved'])
    expect(codes(direct({ direct: false }))).to.deep.equal([])
    expect(notAllowed(order).map(one => [one.approved, one.value])).to.deep.equal([[0n, 10_000n]])
    expect(orderActions(order, ADA, { now: `${TODAY}T12:00:00.000Z`, today: TODAY }).map(one => one.action)).to.include('askExcess') // prettier-ignore
    const given = (upTo: bigint) => direct({ excess: { consent: { state: 'given' }, upTo: new Map([[order.lines[0]!.id, minor(upTo)]]), revision: 0 } }) // prettier-ignore
    expect([codes(given(10_000n)), codes(given(9999n))]).to.deep.equal([[], ['order.notApproved']])
  })

  it('costs nothing without anybody being asked', () => {
    const free = direct()
    expect(codes({ ...free, lines: free.lines.map(line => ({ ...line, price: '0', amount: minor(0), baseAmount: minor(0) })) })).to.deep.equal([]) // prettier-ignore
  })
})
