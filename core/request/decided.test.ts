import { expect } from 'chai'
import { minor } from '#core/money/amount.ts'
import { type DecidedAround, decidedRequest, type DecidedRequestLine } from '#core/request/decided.ts'

const around: DecidedAround = {
  requester: { id: 'ines', roles: ['requester'] },
  overBudget: false,
  parents: new Map([
    ['Pumps', 'Water technology'],
    ['Water technology', null],
  ]),
  items: new Map([
    ['i1', { number: 'PU-1', suppliers: 1 }],
    ['i2', { number: 'PU-2', suppliers: 2 }],
  ]),
  suppliers: new Map([['s1', { number: 'S-101', state: 'paused' }]]),
  sites: new Map([['q', { code: 'QUAY' }]]),
  accounts: new Map([
    ['a1', { costCentre: 'LS-210', account: '6020', project: 'KELP' }],
    ['a2', { costCentre: 'AC-110', account: '6010', project: null }],
  ]),
}
const line = (changed: Partial<DecidedRequestLine> = {}): DecidedRequestLine => ({
  id: '1',
  kind: 'goods',
  category: 'Pumps',
  itemId: null,
  supplierId: null,
  addressId: null,
  baseAmount: minor(1000),
  splits: [{ accountId: 'a1', share: '1' }],
  ...changed,
})
const facts = (changed: Partial<DecidedRequestLine>) =>
  decidedRequest(minor(1000), [line(changed)], around).lines[0]!.facts

describe('a request as rules see it', () => {
  it('has its requester with their roles, and whether it goes over a budget', () => {
    const of = (overBudget: boolean) => decidedRequest(minor(1000), [], { ...around, overBudget })
    expect(of(false)).to.deep.include({ kind: 'requisition', requesterId: 'ines', total: 1000n })
    expect(of(false).facts).to.deep.equal({ requester: 'ines', requesterRole: ['requester'] })
    expect(of(true).facts).to.deep.include({ overBudget: 'yes' })
  })

  it('has lines with their category and those above it, item, supplier and place', () => {
    expect(facts({})).to.deep.equal({ lineKind: 'goods', category: ['Pumps', 'Water technology'] })
    expect(facts({ category: '' })).to.deep.equal({ lineKind: 'goods', category: [] })
    expect(facts({ itemId: 'i2', supplierId: 's1', addressId: 'q' })).to.deep.equal({
      lineKind: 'goods',
      category: ['Pumps', 'Water technology'],
      item: 'PU-2',
      supplier: 'S-101',
      supplierState: 'paused',
      site: 'QUAY',
    })
  })

  it('does not tell whom a personal fee goes to', () => {
    expect(facts({ kind: 'personalFee', supplierId: 's1' })).to.have.all.keys('lineKind', 'category')
  })

  it('has a sole source where only one supplier can be asked', () => {
    expect(facts({ itemId: 'i1' }).soleSource).to.equal('yes')
    expect(facts({ itemId: 'i2', supplierId: 's1' }).soleSource).to.equal(undefined)
    expect(facts({ supplierId: 's1' }).soleSource).to.equal('yes')
    expect(facts({}).soleSource).to.equal(undefined)
  })

  it('has parts that re-add to the line, one for each account', () => {
    const { parts } = decidedRequest(minor(1000), [line({ splits: [{ accountId: 'a1', share: '1' }, { accountId: 'a2', share: '2' }] })], around).lines[0]! // prettier-ignore
    expect(parts).to.deep.equal([
      { amount: 333n, facts: { costCentre: 'LS-210', account: '6020', project: 'KELP' } },
      { amount: 667n, facts: { costCentre: 'AC-110', account: '6010' } },
    ])
  })
})
