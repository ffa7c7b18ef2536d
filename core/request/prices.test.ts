import { expect } from 'chai'
import fc from 'fast-check'
import { Decimal } from '#core/money/decimal.ts'
import { whyNotItem, whyNotOffer, whyNotPricesFrom } from '#core/request/itemEntry.ts'
import {
  changeOffers,
  comparePriceList,
  isJump,
  isTaken,
  type ListedOffer,
  type PriceRow,
  readPriceRow,
} from '#core/request/priceList.ts'
import { changedTiers, percentBetween, pricesOn, samePrices, unitPrice, whyNotChange } from '#core/request/prices.ts'

const codes = (reasons: readonly { code: string; place?: string }[]): string[] =>
  reasons.map(reason => `${reason.code}${reason.place ? ` @${reason.place}` : ''}`)

describe('prices of an offer', () => {
  const prices = [
    { fromDay: '2026-07-01', priceBase: '1', tiers: [{ from: '1', price: '5' }] },
    { fromDay: '2026-01-01', priceBase: '1', tiers: [{ from: '1', price: '4' }] },
    { fromDay: '2027-01-01', priceBase: '1', tiers: [{ from: '1', price: '6' }] },
  ]

  it('hold from their day until the next ones begin', () => {
    expect(pricesOn(prices, '2025-12-31')).to.equal(undefined)
    expect(pricesOn(prices, '2026-01-01')?.tiers[0]?.price).to.equal('4')
    expect(pricesOn(prices, '2026-06-30')?.tiers[0]?.price).to.equal('4')
    expect(pricesOn(prices, '2026-07-01')?.tiers[0]?.price).to.equal('5')
    expect(pricesOn(prices, '2030-01-01')?.tiers[0]?.price).to.equal('6')
  })

  it('are compared by what one unit costs', () => {
    expect(unitPrice({ priceBase: '100', tiers: [{ from: '1', price: '25' }] }).toFixed()).to.equal('0.25')
    expect(percentBetween(new Decimal(4), new Decimal(5))).to.equal('25')
    expect(percentBetween(new Decimal(3), new Decimal(2))).to.equal('-33.3')
    expect(samePrices({ priceBase: '1', tiers: [{ from: '1', price: '4.20' }] }, { priceBase: '1.0', tiers: [{ from: '1', price: '4.2' }] })).to.equal(true) // prettier-ignore
    expect(samePrices({ priceBase: '1', tiers: [{ from: '1', price: '4' }] }, { priceBase: '1', tiers: [{ from: '2', price: '4' }] })).to.equal(false) // prettier-ignore
    expect(samePrices({ priceBase: '1', tiers: [{ from: '1', price: '4' }] }, { priceBase: '10', tiers: [{ from: '1', price: '4' }] })).to.equal(false) // prettier-ignore
  })

  it('change all at once by a percentage, every tier, rounded half away from zero, never to nothing', () => {
    const tiers = [
      { from: '1', price: '4.20' },
      { from: '100', price: '3.95' },
    ]
    expect(changedTiers(tiers, { percent: '-2.5', places: 2 })).to.deep.equal([
      { from: '1', price: '4.1' },
      { from: '100', price: '3.85' },
    ])
    expect(changedTiers([{ from: '1', price: '0.25' }], { percent: '10', places: 2 })[0]?.price).to.equal('0.28')
    expect(changedTiers([{ from: '1', price: '0.004' }], { percent: '5', places: 2 })[0]?.price).to.equal('0.0042')
  })

  it('change within bounds only', () => {
    expect(whyNotChange({ percent: '3', places: 2 })).to.deep.equal([])
    expect(codes(whyNotChange({ percent: '0', places: 2 }))).to.deep.equal(['price.percent @percent'])
    expect(whyNotChange({ percent: '-90', places: 0 })).to.deep.equal([])
    expect(codes(whyNotChange({ percent: '-90.1', places: 7 }))).to.deep.equal(['price.percent @percent', 'price.places @places']) // prettier-ignore
    expect(whyNotChange({ percent: '900', places: 6 })).to.deep.equal([])
    expect(codes(whyNotChange({ percent: '901', places: -1 }))).to.have.length(2)
  })

  it('are not rewritten where they held already', () => {
    expect(whyNotPricesFrom('2026-11-29', '2026-11-29')).to.deep.equal([])
    expect(codes(whyNotPricesFrom('2026-11-28', '2026-11-29'))).to.deep.equal(['price.past @from'])
  })
})

describe('a price list', () => {
  const offer = (id: string, facts: Partial<ListedOffer> = {}): ListedOffer => ({
    id,
    number: `IT-${id}`,
    name: `Thing ${id}`,
    supplierItem: `S${id}`,
    gtin: '',
    currency: 'EUR',
    unit: 'C62',
    minimum: '5',
    priceBase: '1',
    tiers: [{ from: '5', price: '4' }],
    agreement: '',
    agreementLineId: null,
    ...facts,
  })
  const row = (number: number, texts: Record<string, string>): PriceRow => {
    const read = readPriceRow(texts, number)
    expect(codes(read.reasons)).to.deep.equal([])
    return read.row!
  }
  const kinds = (offers: ListedOffer[], rows: PriceRow[]): string[] =>
    comparePriceList(offers, rows).differences.map(one => `${one.kind} ${one.supplierItem} ${one.percent ?? ''}`.trim())

  it('takes figures as people write them and guesses none', () => {
    expect(readPriceRow({ supplier_item: ' NO-12 ', price: '4,20', currency: 'eur', unit: 'c62' }, 2).row).to.deep.equal({ row: 2, supplierItem: 'NO-12', item: '', gtin: '', name: '', currency: 'EUR', unit: 'C62', priceBase: '1', tiers: [{ from: '', price: '4.20' }] }) // prettier-ignore
    expect(row(2, { item: 'IT-1', price: '4', price_base: '100', tiers: '100=3,5 | 500=3' }).tiers).to.deep.equal([
      { from: '', price: '4' },
      { from: '100', price: '3.5' },
      { from: '500', price: '3' },
    ])
    const faults = (texts: Record<string, string>): string[] => codes(readPriceRow(texts, 7).reasons)
    expect(faults({ supplier_item: 'A', price: '1,234' })).to.deep.equal(['import.ambiguousNumber @rows.7.price'])
    expect(faults({ price: '' })).to.deep.equal(['import.missing @rows.7.supplier_item', 'import.missing @rows.7.price']) // prettier-ignore
    expect(faults({ gtin: '1', price: '-4' })).to.deep.equal(['import.number @rows.7.price'])
    expect(faults({ gtin: '1', price: '4', price_base: '0' })).to.deep.equal(['import.number @rows.7.price_base'])
    expect(faults({ gtin: '1', price: '4', currency: 'XXQ', unit: 'ZZZ' })).to.deep.equal(['money.unknownCurrency @rows.7.currency', 'line.unit @rows.7.unit']) // prettier-ignore
    expect(faults({ gtin: '1', price: '4', tiers: '100=3|50=2' })).to.deep.equal(['offer.tierRises @rows.7.tiers'])
    expect(faults({ gtin: '1', price: '4', tiers: 'many' })).to.include('import.number @rows.7.tiers')
  })

  it('says of every offer whether it becomes dearer, cheaper, otherwise staggered, stays, or is missing', () => {
    const offers = ['1', '2', '3', '4', '5'].map(id => offer(id))
    const rows = [
      row(2, { supplier_item: 's1', price: '5' }),
      row(3, { item: 'it-2', price: '300', price_base: '100' }),
      row(4, { supplier_item: 'S3', price: '4', tiers: '50=3' }),
      row(5, { supplier_item: 'S4', price: '400', price_base: '100' }),
      row(6, { supplier_item: 'S9', price: '1' }),
    ]
    expect(kinds(offers, rows)).to.deep.equal(['dearer S1 25', 'cheaper S2 -25', 'tiers S3 0', 'same S4 0', 'unknown S9', 'missing S5']) // prettier-ignore
    const [dearer] = comparePriceList(offers, rows).differences
    expect(dearer).to.deep.include({ row: 2, offerId: '1', number: 'IT-1', before: { priceBase: '1', tiers: [{ from: '5', price: '4' }] }, after: { priceBase: '1', tiers: [{ from: '5', price: '5' }] } }) // prettier-ignore
  })

  it('tells a row by the supplier’s number, else by ours, else by GTIN', () => {
    const offers = [offer('1', { gtin: '4006381333931' }), offer('2', { supplierItem: '', gtin: '' })]
    expect(kinds(offers, [row(2, { gtin: '4006381333931', price: '4' })])).to.deep.equal(['same S1 0', 'missing'])
    expect(kinds(offers, [row(2, { supplier_item: 'S1', item: 'IT-2', price: '4' })])[0]).to.equal('same S1 0')
    expect(kinds(offers, [row(2, { supplier_item: 'X', item: 'IT-2', price: '4' })])[0]).to.equal('same  0')
    expect(kinds(offers, [row(2, { item: 'nothing', price: '4' })])[0]).to.equal('unknown')
  })

  it('refuses an item twice, another currency, another unit and tiers below the minimum', () => {
    const { faults, differences } = comparePriceList(
      [offer('1'), offer('2')],
      [
        row(2, { supplier_item: 'S1', price: '5' }),
        row(3, { item: 'IT-1', price: '6' }),
        row(4, { supplier_item: 'S2', price: '5', currency: 'USD', unit: 'KGM', tiers: '3=2' }),
        row(5, { supplier_item: 'S7', price: '5' }),
        row(6, { supplier_item: 's7', price: '5' }),
      ],
    )
    expect(faults.map(fault => `${fault.row}: ${codes(fault.reasons).join(', ')}`)).to.deep.equal([
      '3: import.twice @rows.3.supplier_item',
      '4: priceList.currency @rows.4.currency, priceList.unit @rows.4.unit, offer.tierRises @rows.4.tiers',
      '6: import.twice @rows.6.supplier_item',
    ])
    expect(faults[0]?.reasons[0]?.details).to.deep.equal({ row: 2 })
    expect(differences.map(one => one.kind)).to.deep.equal(['dearer', 'unknown'])
  })

  it('is told apart from a change of all prices, which says the same of every offer', () => {
    const offers = [
      offer('1', { agreement: 'FA-12' }),
      offer('2', { priceBase: '3', tiers: [{ from: '5', price: '0.01' }] }),
    ]
    const change = (percent: string): string[] =>
      changeOffers(offers, { percent, places: 2 }).map(
        one => `${one.kind} ${one.after!.tiers[0]!.price} ${one.percent}`,
      )
    expect(change('10')).to.deep.equal(['dearer 4.4 10', 'same 0.01 0'])
    expect(change('-10')).to.deep.equal(['cheaper 3.6 -10', 'same 0.01 0'])
    expect(changeOffers(offers, { percent: '10', places: 2 })[0]).to.deep.include({ row: null, offerId: '1', agreement: 'FA-12' }) // prettier-ignore
  })

  it('leaves what is agreed alone: it means the offer beside it, and where there is none nothing is taken', () => {
    const agreed = offer('1', { agreement: 'F-1', agreementLineId: 'l1', tiers: [{ from: '0', price: '3' }] })
    const own = offer('2', { supplierItem: 'S1', number: 'IT-1' })
    const ids = (offers: ListedOffer[], ...rows: PriceRow[]): string[] =>
      comparePriceList(offers, rows).differences.map(one => `${one.kind} ${one.offerId} ${isTaken(one)}`)
    const list = row(2, { supplier_item: 'S1', price: '5' })
    expect([ids([agreed, own], list), ids([own, agreed], list)]).to.deep.equal([['dearer 2 true'], ['dearer 2 true']])
    expect(ids([agreed], list)).to.deep.equal(['agreed 1 false'])
    expect(ids([agreed, own])).to.deep.equal(['missing 2 false'])
    expect(changeOffers([agreed, own], { percent: '10', places: 2 }).map(one => `${one.kind} ${isTaken(one)}`)).to.deep.equal(['agreed false', 'dearer true']) // prettier-ignore
    expect((['cheaper', 'tiers', 'same', 'unknown'] as const).map(kind => isTaken({ kind }))).to.deep.equal([true, true, false, false]) // prettier-ignore
  })

  it('asks to look twice where a price changes by a quarter or more', () => {
    expect(['25', '-25', '24.9', '-24.9', '0'].map(isJump)).to.deep.equal([true, true, false, false, false])
  })

  it('says something of every offer once, whatever the list holds', () => {
    const some = fc.uniqueArray(fc.integer({ min: 1, max: 12 }).map(String), { maxLength: 12 })
    fc.assert(
      fc.property(some, some, fc.integer({ min: 1, max: 9000 }), (have, listed, cents) => {
        const price = new Decimal(cents).div(100).toFixed(2)
        const rows = listed.map((id, index) => row(index + 2, { supplier_item: `S${id}`, price }))
        const { differences, faults } = comparePriceList(have.map(id => offer(id)), rows) // prettier-ignore
        expect(faults).to.deep.equal([])
        expect(differences.flatMap(one => one.offerId ?? []).sort()).to.deep.equal([...have].sort())
        expect(differences.filter(one => one.row !== null)).to.have.length(rows.length)
      }),
    )
  })
})

describe('what a keeper of the catalogue writes down', () => {
  const item = {
    number: 'CP-1',
    name: 'Pump',
    category: 'Pumps',
    unit: 'C62',
    gtin: '',
    packs: [{ unit: 'BX', holds: '12' }],
    discontinuedOn: null,
    replacedBy: null,
  }
  const facts = { categories: new Set(['Pumps']), numberTaken: false, counted: false, before: null, after: [] }

  it('of an item has a number of its own, a name, a category and a unit that stays once it is counted in it', () => {
    expect(whyNotItem(item, facts)).to.deep.equal([])
    expect(codes(whyNotItem({ ...item, number: ' ', name: '', category: 'Fish', unit: 'Q', gtin: '1' }, { ...facts, numberTaken: true }))).to.deep.equal(['item.needsNumber @number', 'item.needsName @name', 'item.numberTaken @number', 'item.category @category', 'line.unit @unit', 'import.gtin @gtin']) // prettier-ignore
    const before = { id: 'a', unit: 'C62', number: 'CP-1' }
    expect(whyNotItem({ ...item, unit: 'KGM' }, { ...facts, before })).to.deep.equal([])
    expect(whyNotItem(item, { ...facts, before, counted: true })).to.deep.equal([])
    expect(codes(whyNotItem({ ...item, unit: 'KGM' }, { ...facts, before, counted: true }))).to.deep.equal(['item.unitUsed @unit']) // prettier-ignore
  })

  it('of an item names each pack once and what it holds', () => {
    const packs = (some: { unit: string; holds: string }[]): string[] => codes(whyNotItem({ ...item, packs: some }, facts)) // prettier-ignore
    expect(packs([{ unit: 'C62', holds: '2' }])).to.deep.equal(['item.packTwice @packs.0'])
    expect(packs([{ unit: 'BX', holds: '2' }, { unit: 'BX', holds: '3' }])).to.deep.equal(['item.packTwice @packs.1']) // prettier-ignore
    expect(packs([{ unit: 'BX', holds: '0' }, { unit: 'ZZ', holds: '1' }])).to.deep.equal(['item.packHolds @packs.0', 'line.unit @packs.1']) // prettier-ignore
  })

  it('of an item lets another take its place only once it ends, and never in a ring', () => {
    const before = { id: 'a', unit: 'C62', number: 'CP-1' }
    const ended = { ...item, discontinuedOn: '2026-12-01' }
    expect(codes(whyNotItem({ ...item, replacedBy: 'b' }, { ...facts, before }))).to.deep.equal(['item.replacedEarly @replacedBy']) // prettier-ignore
    expect(whyNotItem({ ...ended, replacedBy: 'b' }, { ...facts, before })).to.deep.equal([])
    for (const [replacedBy, after] of [['a', []], ['b', ['c', 'a']]] as const) // prettier-ignore
      expect(codes(whyNotItem({ ...ended, replacedBy }, { ...facts, before, after }))).to.deep.equal(['item.replacedByItself @replacedBy']) // prettier-ignore
  })

  const entry = {
    currency: 'EUR',
    unit: 'C62',
    priceBase: '1',
    minimum: '1',
    multiple: '1',
    leadTimeDays: 5,
    validFrom: '2026-01-01',
    validTo: null,
    tiers: [{ from: '1', price: '4' }],
    incoterm: null,
    incotermPlace: '',
    countries: [],
    freight: null,
    inStock: null,
  }
  it('of an offer has a price, rising quantities, figures above zero and a unit that converts to the item’s', () => {
    const why = (changed: object, taken = false, convertible = true): string[] =>
      codes(whyNotOffer({ ...entry, ...changed }, { taken, converts: convertible, before: null }))
    expect(why({})).to.deep.equal([])
    expect(why({ validTo: '2026-01-01', incoterm: 'DAP', countries: ['NL', 'DE'] })).to.deep.equal([])
    expect(why({}, true, false)).to.deep.equal(['offer.there @supplierItem', 'offer.unitOfItem @unit'])
    expect(why({ currency: 'XXQ', unit: 'Q' })).to.deep.equal(['money.unknownCurrency @currency', 'line.unit @unit'])
    expect(why({ priceBase: '0', minimum: '0', multiple: '0' })).to.deep.equal(['offer.aboveZero @priceBase', 'offer.aboveZero @minimum', 'offer.aboveZero @multiple']) // prettier-ignore
    expect(why({ validTo: '2025-12-31' })).to.deep.equal(['offer.endsEarly @validTo'])
    expect(why({ validFrom: 'soon' })).to.deep.equal(['offer.endsEarly @validTo'])
    expect(why({ incoterm: 'ABC', countries: ['nl'] })).to.deep.equal(['term.unknown @incoterm', 'import.countries @countries']) // prettier-ignore
    const before = { currency: 'EUR', unit: 'C62', agreementLineId: null, agreement: '' }
    const stays = (changed: object): string[] =>
      codes(whyNotOffer({ ...entry, ...changed }, { taken: false, converts: true, before }))
    expect(stays({ minimum: '5' })).to.deep.equal([])
    expect(stays({ currency: 'USD', unit: 'KGM' })).to.deep.equal(['offer.stays @currency', 'offer.stays @unit'])
    const agreed = { ...before, agreementLineId: 'l1', agreement: 'F-1' }
    expect(codes(whyNotOffer(entry, { taken: false, converts: true, before: agreed }))[0]).to.include('offer.agreed')
    expect(why({ tiers: [] })).to.deep.equal(['offer.needsPrice @tiers'])
    expect(why({ tiers: [{ from: '1', price: '4' }, { from: '1', price: '3' }, { from: '9', price: '0' }] })).to.deep.equal(['offer.tierRises @tiers.1', 'offer.aboveZero @tiers.2']) // prettier-ignore
  })
})
