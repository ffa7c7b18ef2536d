import { expect } from 'chai'
import { asKind, ceilingName, fieldText, takenText, tiersText, type Use } from '#web/agreements/agreementText.ts'
import { readFor } from '#web/shared/words.ts'

const use = (changed: Partial<Use>): Use => ({ scope: 'line', of: 'Sea salt', unit: 'KGM', amount: '', quantity: '400', taken: { amount: '0.00', quantity: '12' }, byKind: {} as never, percent: '3', full: false, usedUpOn: null, perDay: '', ...changed }) // prettier-ignore

describe('an agreement in words', () => {
  before(() => readFor('en-GB', 'Europe/Amsterdam'))

  it('says prices by quantity, what a ceiling is over and how much is taken', () => {
    expect(tiersText([{ from: '0', price: '4.2' }, { from: '100', price: '4' }])).to.equal('4.20, from 100: 4.00') // prettier-ignore
    expect([ceilingName(use({})), ceilingName(use({ scope: 'whole', of: '' }))]).to.deep.equal(['Sea salt', 'In all'])
    expect(takenText(use({}), 'EUR')).to.equal('12 of 400 kg')
    expect(takenText(use({ amount: '500.00', quantity: '', taken: { amount: '120.00', quantity: '0' } }), 'EUR')).to.equal('120.00 of EUR 500.00') // prettier-ignore
  })

  it('names what differs with the line that it is of', () => {
    expect([fieldText({ field: 'endsOn', of: '' }), fieldText({ field: 'price', of: 'Sea salt' })]).to.deep.equal(['ends', 'Sea salt: price']) // prettier-ignore
  })

  it('carries prices over to another rule', () => {
    const tiers = { kind: 'tiers' as const, tiers: [{ from: '0', price: '4' }] }
    expect(asKind(tiers, 'tiers', '2026-01-01')).to.equal(tiers)
    const periods = asKind(tiers, 'periods', '2026-01-01')
    expect(periods).to.deep.equal({ kind: 'periods', periods: [{ from: '2026-01-01', tiers: tiers.tiers }] })
    expect(asKind(periods, 'index', '2026-01-01')).to.deep.include({ basePrice: '4', fixedShare: '0.4' })
    expect(asKind(asKind(periods, 'index', '2026-01-01'), 'tiers', '2026-01-01')).to.deep.equal(tiers)
  })
})
