import { expect } from 'chai'
import { differingRows, importedOrders, type PlacedOrderLine, readOrderRow } from '#core/order/orderImport.ts'

const ROW = {
  order: 'PO-77',
  supplier: 'Nordhavn',
  currency: 'dkk',
  item: ' PS-1200 ',
  description: 'Pump seal',
  quantity: '12,5',
  unit: 'mtr',
  price: '3.20',
  price_base: '',
  need_by: '2026-12-01',
  cost_centre: 'ls-210',
  account: '6210',
  project: '',
  place: '',
  received: '',
  billed: '',
  promised: '',
}
const faults = (changed: Partial<typeof ROW>): string[] =>
  readOrderRow({ ...ROW, ...changed }, 5, 'EUR').reasons.map(reason => `${reason.place} ${reason.code}`)

const placed = (changed: Partial<PlacedOrderLine> = {}): PlacedOrderLine => ({
  ...readOrderRow(ROW, 2, 'EUR').line!,
  row: 2,
  supplierId: 's',
  supplierName: 'Nordhavn',
  overReceiptPercent: 5,
  itemId: null,
  accountId: 'a',
  addressId: null,
  rate: '0.134',
  ...changed,
})

describe('a row of an open order', () => {
  it('says how far it has come: never more billed than ordered, and never all of it', () => {
    const read = readOrderRow({ ...ROW, received: '12,5', billed: '4', promised: '2026-12-20' }, 2, 'EUR').line
    expect(read).to.deep.include({ received: '12.5', billed: '4', promised: '2026-12-20' })
    expect(faults({ received: '13', billed: '12.5' })).to.deep.equal(['rows.5.billed import.orderDone'])
    expect(faults({ received: '12.4', billed: '12.5' })).to.deep.equal([])
    expect(faults({ received: '20', billed: '12' })).to.deep.equal([])
    expect(faults({ billed: '12.6' })).to.deep.equal(['rows.5.billed import.billedMore'])
    expect(faults({ received: '-1' })).to.deep.equal(['rows.5.received import.number'])
    expect(faults({ billed: 'x', promised: 'soon' })).to.have.members(['rows.5.billed import.number', 'rows.5.promised import.day']) // prettier-ignore
    const [order] = importedOrders([placed({ received: '3', billed: '1', promised: null })], 'EUR')
    expect(order!.soFar).to.deep.equal([{ received: '3', billed: '1', promised: null }])
  })

  it('is read with its codes in capitals, its figures exact, and what it leaves out as usual', () => {
    expect(readOrderRow(ROW, 2, 'EUR').line).to.deep.equal({
      ...{ order: 'PO-77', supplier: 'Nordhavn', currency: 'DKK', item: 'PS-1200', description: 'Pump seal' },
      ...{ quantity: '12.5', unit: 'MTR', price: '3.20', priceBase: '1', needBy: '2026-12-01' },
      ...{ costCentre: 'LS-210', account: '6210', project: null, place: '' },
      ...{ received: '0', billed: '0', promised: null },
    })
    const bare = readOrderRow(
      { ...ROW, currency: '', unit: '', need_by: '', project: 'x1', price_base: '100' },
      2,
      'EUR',
    )
    expect(bare.line).to.deep.include({
      currency: 'EUR',
      unit: 'C62',
      needBy: null,
      project: 'X1',
      priceBase: '100',
    })
  })

  it('is refused with its place where something is missing, no figure, or unknown', () => {
    expect(faults({})).to.deep.equal([])
    for (const column of ['order', 'supplier', 'description', 'cost_centre', 'account'] as const)
      expect(faults({ [column]: ' ' })).to.deep.equal([`rows.5.${column} import.missing`])
    expect(faults({ quantity: '' })).to.deep.equal(['rows.5.quantity import.missing'])
    expect(faults({ quantity: '0' })).to.deep.equal(['rows.5.quantity import.number'])
    expect(faults({ quantity: 'ten' })).to.deep.equal(['rows.5.quantity import.number'])
    expect(faults({ quantity: '1,234' })).to.deep.equal(['rows.5.quantity import.ambiguousNumber'])
    expect(faults({ price: '0' }), 'goods may be free').to.deep.equal([])
    expect(faults({ price: '-1' })).to.deep.equal(['rows.5.price import.number'])
    expect(faults({ price_base: '0' })).to.deep.equal(['rows.5.price_base import.number'])
    expect(faults({ currency: 'ABC' })).to.deep.equal(['rows.5.currency money.unknownCurrency'])
    expect(faults({ unit: 'boxes' })).to.deep.equal(['rows.5.unit line.unit'])
    expect(faults({ unit: 'M4' }), 'money is counted by other kinds').to.deep.equal(['rows.5.unit line.unit'])
    expect(faults({ need_by: '2026-02-30' })).to.deep.equal(['rows.5.need_by import.day'])
  })

  it('says the same of its order as the rows before', () => {
    expect(
      differingRows([placed(), placed({ row: 3 }), placed({ row: 4, order: 'PO-78', currency: 'EUR' })]),
    ).to.deep.equal([])
    const differing = differingRows([
      placed(),
      placed({ row: 3, supplierId: 't' }),
      placed({ row: 4, currency: 'EUR' }),
    ])
    expect(
      differing.map(one => [one.row, one.reasons[0]?.code, one.reasons[0]?.place, one.reasons[0]?.details.row]),
    ).to.deep.equal([
      [3, 'import.orderDiffers', 'rows.3.supplier', 2],
      [4, 'import.orderDiffers', 'rows.4.currency', 2],
    ])
  })
})

describe('orders from before', () => {
  it('are made of their rows, rounded once at the line, at the rate of the day', () => {
    const [first, second, ...more] = importedOrders(
      [
        placed(),
        placed({ order: 'PO-78', currency: 'EUR', rate: '1' }),
        placed({ quantity: '1', needBy: '2026-11-30' }),
      ],
      'EUR',
    )
    expect(more).to.deep.equal([])
    expect(first).to.deep.include({
      formerNumber: 'PO-77',
      title: 'PO-77: Pump seal and 1 more',
      supplierId: 's',
      currency: 'DKK',
      rate: '0.134',
      needBy: '2026-11-30',
      total: 4320n,
      baseTotal: 579n,
      from: [],
    })
    expect(first!.lines.map(line => [line.amount, line.baseAmount])).to.deep.equal([
      [4000n, 536n],
      [320n, 43n],
    ])
    expect(first!.lines[0]).to.deep.include({
      requisitionLineId: null,
      kind: 'goods',
      proof: 'count',
      overReceiptPercent: 5,
      splits: [{ accountId: 'a', share: '1' }],
    })
    expect(second).to.deep.include({ title: 'PO-78: Pump seal', total: 4000n, baseTotal: 4000n })
  })
})
