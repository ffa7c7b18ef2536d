import { expect } from 'chai'
import { gapText, type Plan, type PlanWish, reasonText, wishSentence, wishText } from '#web/award/planText.ts'

const supplier = (id: string, name: string): Plan['suppliers'][number] => ({ id, name, country: 'NL', score: null, isNew: false }) // prettier-ignore
const plan = {
  currency: 'EUR',
  suppliers: [supplier('A', 'Aldis'), supplier('B', 'Beacon'), supplier('C', 'Coldline')],
  lines: ['a', 'b', 'c', 'd', 'e'].map((id, index) => ({ id, position: index + 1, description: `Part ${id}`, quantity: '1', unit: 'C62', incumbentId: null })), // prettier-ignore
}
const wish = (what: PlanWish['what'], id = 'w'): PlanWish => ({ id, must: true, worth: '', worthIn: 'amount', what })
const said = (what: PlanWish['what']): string => wishText(plan, wish(what))
const share = (limits: object, whom: object = { kind: 'suppliers', supplierIds: ['A'] }): PlanWish['what'] =>
  ({ kind: 'share', whom, in: 'percent', least: '', most: '', ...limits }) as PlanWish['what']

describe('what a plan says', () => {
  it('puts every kind of wish into a sentence', () => {
    expect(said({ kind: 'mostSuppliers', count: 1 })).to.equal('at most one supplier')
    expect(said({ kind: 'mostSuppliers', count: 4 })).to.equal('at most 4 suppliers')
    expect(said({ kind: 'oneSupplier', lineIds: ['a', 'c'] })).to.equal('one supplier for line 1 and line 3')
    expect(said({ kind: 'keepIncumbent', lineIds: ['a', 'b', 'c', 'd', 'e'] })).to.equal(
      'keep who delivers now on all lines',
    )
    expect(said({ kind: 'shareLine', lineIds: ['b'], most: '70' })).to.equal('no one above 70 % of line 2')
    expect(said({ kind: 'twoSuppliers', lineIds: ['a', 'b', 'c', 'd'] })).to.equal(
      'two suppliers or more for line 1, line 2, line 3 and 1 more',
    )
    expect(said({ kind: 'scoreAtLeast', score: '70' })).to.equal('nobody who scores below 70')
    expect(said({ kind: 'deliveredWithin', days: 30 })).to.equal('all here within 30 days')
    expect(said({ kind: 'nobodyNew', unlessScore: '' })).to.equal('nobody new at all')
    expect(said({ kind: 'nobodyNew', unlessScore: '80' })).to.equal('nobody new without a score of 80')
    expect(said({ kind: 'without', supplierId: 'B' })).to.equal('without Beacon')
    expect(said({ kind: 'without', supplierId: 'gone' })).to.equal('without a supplier')
    expect(said({ kind: 'oneSupplier', lineIds: ['gone'] })).to.equal('one supplier for line ?')
  })

  it('says shares with their limits and whom they are about', () => {
    expect(said(share({ least: '10' }))).to.equal('at least 10 % to Aldis')
    expect(said(share({ least: '10', most: '60' }))).to.equal('at least 10 %, at most 60 % to Aldis')
    expect(said(share({ most: '5000', in: 'amount' })).replace(/\s/g, ' ')).to.equal('at most EUR 5 000 to Aldis')
    expect(said(share({ least: '5' }, { kind: 'country', country: 'NL' }))).to.equal('at least 5 % to suppliers in NL')
    expect(said(share({ least: '5' }, { kind: 'suppliers', supplierIds: ['A', 'B', 'C'] }))).to.equal(
      'at least 5 % to Aldis, Beacon and 1 more',
    )
    expect(wishSentence(plan, wish(share({})))).to.deep.equal({ lead: 'any part', part: 'to Aldis' })
  })

  it('never says less of a gap than there is', () => {
    expect(['0.0000', '0.0099', '0.0101', '0.1234', '0.9999', '1.0001', '12.34'].map(gapText)).to.deep.equal([
      '0.01 %',
      '0.01 %',
      '0.02 %',
      '0.13 %',
      '1.00 %',
      '1.1 %',
      '12.4 %',
    ])
  })

  it('gives the reasons that go into the award: cost, proof, and the wishes that are kept', () => {
    const row = { cost: '411208.00', gap: '0.2812', breaks: ['out'] }
    const wishes = [wish({ kind: 'mostSuppliers', count: 4 }), wish({ kind: 'without', supplierId: 'B' }, 'out')]
    const plain = (text: string): string => text.replace(/\s/g, ' ')
    expect(plain(reasonText(plan, row, wishes))).to.equal(
      'Award plan: EUR 411 208.00, at most 0.29 % above the cheapest possible. Wishes kept: at most 4 suppliers.',
    )
    expect(plain(reasonText(plan, { ...row, gap: null }, []))).to.equal('Award plan: EUR 411 208.00.')
  })
})
