import { expect } from 'chai'
import { insteadOf, type OtherOffer } from '#core/agreements/instead.ts'

const offer = (supplier: string, price: string, changed: Partial<OtherOffer> = {}): OtherOffer => ({ supplier, unit: 'C62', itemUnit: 'C62', packs: [{ unit: 'BX', holds: '10' }], currency: 'EUR', rate: '1', priceBase: '1', tiers: [{ from: '0', price }], ...changed }) // prettier-ignore

describe('what can be taken in place of a spent agreement', () => {
  const of = (offers: OtherOffer[], quantity = '20', unit = 'C62') => insteadOf({ quantity, unit }, offers)?.supplier

  it('is the cheapest for what is wanted, in one currency and unit', () => {
    expect(of([offer('A', '10'), offer('B', '9'), offer('C', '9')])).to.equal('B')
    expect(of([offer('A', '10'), offer('B', '85', { unit: 'BX' })])).to.equal('B')
    expect(of([offer('A', '10'), offer('B', '105', { unit: 'BX' })])).to.equal('A')
    expect(of([offer('A', '10'), offer('B', '9', { rate: '1.2', currency: 'GBP' })])).to.equal('A')
    expect(of([offer('A', '10'), offer('B', '150', { priceBase: '20' })])).to.equal('B')
  })

  it('goes by the price of the quantity, in whatever unit that is wanted', () => {
    const tiered = offer('T', '12', { unit: 'BX', priceBase: '1', tiers: [{ from: '0', price: '120' }, { from: '2', price: '80' }] }) // prettier-ignore
    expect(of([offer('A', '10'), tiered], '19')).to.equal('A')
    expect(of([offer('A', '10'), tiered], '20')).to.equal('T')
    expect(of([offer('A', '10'), tiered], '2', 'BX')).to.equal('T')
    expect(insteadOf({ quantity: '20', unit: 'C62' }, [tiered])).to.deep.equal({ supplier: 'T', price: '80', currency: 'EUR', priceBase: '1', unit: 'BX' }) // prettier-ignore
  })

  it('is nothing where no offer can be compared', () => {
    expect(of([])).to.equal(undefined)
    expect(of([offer('A', '1', { rate: null }), offer('B', '1', { unit: 'KGM' }), offer('C', '1', { tiers: [] })])).to.equal(undefined) // prettier-ignore
    expect(of([offer('A', '1')], '1', 'KGM')).to.equal(undefined)
  })
})
