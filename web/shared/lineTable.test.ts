import { expect } from 'chai'
import { cellsOf, lineColumns } from '#web/shared/lineTable.ts'

describe('the sums of a line table', () => {
  const columns = lineColumns({ '-position': 'Position', what: 'What', '#quantity': 'Quantity', '#price': 'Price', '#amount': 'Amount', '^gauge': 'Gauge' }) // prettier-ignore
  const spans = (cells: Record<string, string>) => cellsOf({ key: 'a', cells }, columns).map(({ column, span }) => `${column.key} ${span}`) // prettier-ignore

  it('say their words over the empty columns after them, and keep every figure in its column', () => {
    expect(spans({ what: 'Freight', amount: '25.00' })).to.deep.equal(['position 1', 'what 3', 'amount 1', 'gauge 1'])
    expect(spans({ what: 'Net', quantity: '4', amount: '25.00' })).to.deep.equal(['position 1', 'what 1', 'quantity 1', 'price 1', 'amount 1', 'gauge 1']) // prettier-ignore
    expect(spans({ amount: '25.00' })).to.deep.equal(['position 1', 'what 1', 'quantity 1', 'price 1', 'amount 1', 'gauge 1']) // prettier-ignore
  })
})
