import { expect } from 'chai'
import fc from 'fast-check'
import { assign } from '#core/bill/assign.ts'
import { linkProposals, type LooseLine, type OpenLine } from '#core/bill/linkProposals.ts'

const loose = (changed: Partial<LooseLine> = {}): LooseLine => ({ id: 'l1', words: 'Circulation pump PS 1200', sellerItem: '', buyerItem: '', order: '', orderLine: '', unit: 'C62', quantity: '4', price: '85', ...changed }) // prettier-ignore
const open = (changed: Partial<OpenLine> = {}): OpenLine => ({ id: 'o1', order: 'O-7', position: 1, words: 'Circulation pump PS 1200', supplierItem: 'NP 12-00', item: 'PS-1200', units: new Map([['C62', '1']]), open: '4', proven: '4', price: '85', ...changed }) // prettier-ignore
const only = (line: Partial<LooseLine>, order: Partial<OpenLine>) => linkProposals([loose(line)], [open(order)])[0]

/** The best sum over every way to assign. */
function bestOf(gains: readonly ReadonlyMap<number, number>[], used: ReadonlySet<number> = new Set(), row = 0): number {
  if (row === gains.length) return 0
  const ways = [...gains[row]!].filter(([column]) => !used.has(column)).map(([column, gain]) => gain + bestOf(gains, new Set([...used, column]), row + 1)) // prettier-ignore
  return Math.max(bestOf(gains, used, row + 1), ...ways)
}

describe('the best one-to-one assignment', () => {
  it('is as good as the best of all, with no column taken twice', () => {
    const rows = fc.array(fc.array(fc.tuple(fc.nat(5), fc.integer({ min: 1, max: 30 })), { maxLength: 5 }), { maxLength: 5 }) // prettier-ignore
    fc.assert(
      fc.property(rows, made => {
        const gains = made.map(row => new Map(row))
        const found = assign(gains, 6)
        const columns = found.filter(one => one !== null)
        expect(new Set(columns).size).to.equal(columns.length)
        expect(found.reduce<number>((sum, column, row) => sum + (column === null ? 0 : gains[row]!.get(column)!), 0)).to.equal(bestOf(gains)) // prettier-ignore
      }),
      { numRuns: 300, seed: 5 },
    )
  })

  it('takes the second best for one where that is better for both', () => {
    expect(assign([new Map([[0, 9], [1, 8]]), new Map([[0, 9]])], 2)).to.deep.equal([1, 0]) // prettier-ignore
    expect(assign([new Map(), new Map([[0, 1]])], 1)).to.deep.equal([null, 0])
    expect(assign([], 3)).to.deep.equal([])
  })
})

describe('lines of a bill without a reference', () => {
  it('are proposed by words, price and quantity, with what makes them like', () => {
    expect(only({}, {})).to.deep.equal({ lineId: 'l1', orderLineId: 'o1', score: 85, because: ['words', 'unit', 'price', 'quantity', 'proven'], others: 0 }) // prettier-ignore
  })

  it('are the likelier by the supplier’s number, ours, or the order’s, however those are spelled', () => {
    expect(only({ words: 'Pumpe', sellerItem: 'np12.00' }, {})).to.deep.include({ score: 90, because: ['supplierItem', 'unit', 'price', 'quantity', 'proven'] }) // prettier-ignore
    expect(only({ words: 'Pumpe', buyerItem: 'ps 1200', price: '400', quantity: '9' }, {})).to.deep.include({ score: 50, because: ['item', 'unit'] }) // prettier-ignore
    expect(only({ words: 'Pumpe', order: 'o7', orderLine: '1', price: '85', quantity: '2' }, {})?.because).to.include.members(['order', 'orderLine']) // prettier-ignore
    // another order's number does not make its line number say anything
    expect(only({ words: 'Pumpe', order: 'O-8', orderLine: '1' }, {})?.because).to.not.include('orderLine')
  })

  it('fall short of a proposal where only little is like', () => {
    expect(only({ words: 'Garden hose', price: '84', quantity: '2' }, {})).to.equal(undefined)
    expect(only({ price: '106.25' }, {})!.because).to.not.include('price')
    expect(only({ price: '95.62' }, {})!.because).to.include('price')
    expect(only({ price: '95.63' }, {})!.because).to.not.include('price')
    expect(only({ words: 'Circulation pump PS 1200', unit: 'KGM', sellerItem: 'NP 12-00' }, {})).to.deep.include({ score: 45 }) // prettier-ignore
  })

  it('compare price and quantity in the unit of the order', () => {
    const box = new Map([['C62', '1'], ['BX', '12']]) // prettier-ignore
    expect(only({ unit: 'BX', quantity: '1', price: '1020' }, { units: box, open: '12', proven: '12' })).to.deep.include({ score: 85 }) // prettier-ignore
  })

  it('are assigned all at once: two like lines go to two like order lines, and what is ambiguous says so', () => {
    const lines = [loose({ id: 'a', quantity: '4' }), loose({ id: 'b', quantity: '6' })]
    const orders = [open({ id: 'x', open: '6', proven: '6' }), open({ id: 'y', open: '4', position: 2 })]
    expect(linkProposals(lines, orders).map(one => [one.lineId, one.orderLineId, one.others])).to.deep.equal([['a', 'y', 1], ['b', 'x', 0]]) // prettier-ignore
    // the only order line goes to the likest of two
    expect(linkProposals([loose({ id: 'a', price: '80' }), loose({ id: 'b' })], [open()]).map(one => one.lineId)).to.deep.equal(['b']) // prettier-ignore
    expect(linkProposals([], orders)).to.deep.equal([])
    expect(linkProposals(lines, [])).to.deep.equal([])
  })
})
