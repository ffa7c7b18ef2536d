import { expect } from 'chai'
import fc from 'fast-check'
import { lineAmount, minor } from '#core/money/amount.ts'
import { type ComparedOffer, compareOffers, inOrder, priceLadder } from '#core/request/comparison.ts'
import { allowedQuantity, type Offer, tierAt } from '#core/request/offer.ts'

const offer: ComparedOffer = {
  id: 'a',
  unit: 'C62',
  currency: 'EUR',
  priceBase: '1',
  minimum: '1',
  multiple: '1',
  leadTimeDays: 5,
  validFrom: '2026-01-01',
  validTo: null,
  tiers: [{ from: '1', price: '10' }],
  agreement: '',
  freight: null,
  buyerPaysCarriage: false,
  rate: '1',
}
const item = { unit: 'C62', packs: [{ unit: 'BX', holds: '12' }] }
const compare = (changed: Partial<ComparedOffer>, wanted = '20') =>
  compareOffers([{ ...offer, ...changed }], wanted, item, 'EUR')[0]!

describe('offers side by side', () => {
  it('are priced at the wanted quantity, in the base currency', () => {
    expect(compare({})).to.deep.include({ quantity: '20', landed: minor(20_000), perUnit: '10', more: '0' })
    expect(compare({ currency: 'NOK', rate: '0.085', tiers: [{ from: '1', price: '120' }] })).to.deep.include({
      amount: minor(240_000),
      landed: minor(20_400),
      perUnit: '10.2',
    })
    expect(compare({ currency: 'JPY', rate: '0.006', tiers: [{ from: '1', price: '1700' }] })).to.deep.include({
      amount: minor(34_000),
      landed: minor(20_400),
    })
  })

  it('are converted to the offer’s unit and raised to its minimum and multiple', () => {
    const boxes = compare({ unit: 'BX', tiers: [{ from: '1', price: '108' }] })
    expect(boxes).to.deep.include({ quantity: '2', landed: minor(21_600), perUnit: '9', more: '0.333333' })
    expect(compare({ minimum: '50', multiple: '25' })).to.deep.include({ quantity: '50', more: '30' })
  })

  it('say where a unit does not convert or a rate is missing, instead of guessing', () => {
    expect(compare({ unit: 'KGM' })).to.deep.include({ noConversion: true, perUnit: null })
    expect(compare({ rate: null })).to.deep.include({ landed: null, perUnit: null })
  })

  it('count carriage that the term leaves to us, and say when nobody said what it costs', () => {
    expect(compare({ freight: '35', buyerPaysCarriage: true })).to.deep.include({
      landed: minor(23_500),
      freightUnknown: false,
    })
    expect(compare({ buyerPaysCarriage: true }).freightUnknown).to.equal(true)
  })

  it('stand with agreements first, then the cheapest, what cannot be compared last', () => {
    const offers = [
      { ...offer, id: 'dear', tiers: [{ from: '1', price: '11' }] },
      { ...offer, id: 'unknown', rate: null },
      { ...offer, id: 'agreed', agreement: 'FA-1', tiers: [{ from: '1', price: '12' }] },
      { ...offer, id: 'cheap' },
    ]
    const rows = inOrder(
      compareOffers(offers, '5', item, 'EUR'),
      row => offers.find(one => one.id === row.id)!.agreement,
    )
    expect(rows.map(row => row.id)).to.deep.equal(['agreed', 'cheap', 'dear', 'unknown'])
  })
})

describe('the price ladder', () => {
  const tiered: Offer = {
    ...offer,
    minimum: '10',
    multiple: '5',
    tiers: [
      { from: '100', price: '8' },
      { from: '10', price: '10' },
    ],
  }

  it('says from where on buying up to the next step costs less', () => {
    expect(priceLadder(tiered)).to.deep.equal([
      { from: '10', price: '10', total: minor(10_000), cheaperFrom: null },
      { from: '100', price: '8', total: minor(80_000), cheaperFrom: '85' },
    ])
  })

  it('is right about it for every allowed quantity', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 2, max: 60 }),
        fc.integer({ min: 1, max: 99 }),
        fc.integer({ min: 1, max: 12 }),
        (low, steps, percent, multiple) => {
          const ladder: Offer = {
            ...offer,
            minimum: String(low * multiple),
            multiple: String(multiple),
            tiers: [
              { from: String(low * multiple), price: '10' },
              { from: String((low + steps) * multiple), price: String(percent / 10) },
            ],
          }
          const [, second] = priceLadder(ladder)
          const cost = (quantity: string): bigint =>
            lineAmount({ quantity, price: tierAt(ladder.tiers, quantity).price, priceBase: '1', currency: 'EUR' })
          for (let quantity = low * multiple; quantity < (low + steps) * multiple; quantity += multiple) {
            expect(allowedQuantity(ladder, String(quantity))).to.equal(String(quantity))
            const cheaper = cost(second!.from) < cost(String(quantity))
            expect(second!.cheaperFrom !== null && quantity >= Number(second!.cheaperFrom)).to.equal(cheaper)
          }
        },
      ),
      { numRuns: 60 },
    )
  })
})
