import { expect } from 'chai'
import { type CatalogueOffer, compareKnown, knownAnswers, type KnownPrice, offerFor } from '#core/order/knownPrices.ts'
import { type KnownNames, priceColumns, readPrices, whyNotPriceList } from '#core/order/knownPriceImport.ts'
import { eventBids } from '#core/award/eventFacts.ts'
import { priceAt } from '#core/source/answer.ts'
import type { EventFacts } from '#core/source/event.ts'
import { takeUpEvent, whyNotCompareKnown } from '#core/source/eventActs.ts'
import { whyNotCompare } from '#core/source/compareAnswers.ts'
import { eventFacts, eventLine, NOW } from '#test-helpers/events.ts'

const rasmus = { id: 'rasmus', name: 'Rasmus', rights: new Set(['event.write']), roles: [], costCentres: [], supplierId: null, standsInFor: [] } // prettier-ignore
const draft = (changed: Parameters<typeof eventFacts>[0] = {}): EventFacts =>
  eventFacts({ state: 'draft', sentAt: null, invited: [], lines: [eventLine('a', { quantity: '100' }), eventLine('b', { position: 2, itemId: 'item' })], ...changed }) // prettier-ignore
const price = (changed: Partial<KnownPrice> = {}): KnownPrice => ({ supplierId: 's1', lineId: 'a', currency: 'EUR', price: '10', priceBase: '1', tiers: [], capacity: '', minimum: '', multiple: '', leadDays: 7, validUntil: '', ...changed }) // prettier-ignore
const codes = (reasons: readonly { code: string }[]): string[] => reasons.map(one => one.code)

describe('an offer of the catalogue', () => {
  const offer: CatalogueOffer = { supplierId: 's1', unit: 'BX', itemUnit: 'C62', packs: [{ unit: 'BX', holds: '12' }], currency: 'EUR', priceBase: '2', minimum: '3', multiple: '1', leadTimeDays: 9, validTo: '2026-06-30', tiers: [{ from: '0', price: '40' }, { from: '10', price: '36' }] } // prettier-ignore

  it('is counted in the unit of the line, to the last figure', () => {
    expect(offerFor({ id: 'a', unit: 'C62' }, offer)).to.deep.equal({ supplierId: 's1', lineId: 'a', currency: 'EUR', price: '40', priceBase: '24', tiers: [{ from: '120', price: '36' }], capacity: '', minimum: '36', multiple: '12', leadDays: 9, validUntil: '2026-06-30' }) // prettier-ignore
    expect(offerFor({ id: 'a', unit: 'C62' }, { ...offer, tiers: [...offer.tiers].reverse() })).to.deep.include({ price: '40', tiers: [{ from: '120', price: '36' }] }) // prettier-ignore
    expect(offerFor({ id: 'a', unit: 'BX' }, offer)).to.deep.include({ priceBase: '2', minimum: '3', multiple: '1', tiers: [{ from: '10', price: '36' }] }) // prettier-ignore
    expect(offerFor({ id: 'a', unit: 'C62' }, { ...offer, validTo: null })?.validUntil).to.equal('')
  })

  it('is none where its unit cannot be counted in that of the line, or it has no price', () => {
    expect(offerFor({ id: 'a', unit: 'KGM' }, offer)).to.equal(null)
    expect(offerFor({ id: 'a', unit: 'C62' }, { ...offer, packs: [] })).to.equal(null)
    expect(offerFor({ id: 'a', unit: 'C62' }, { ...offer, tiers: [] })).to.equal(null)
  })
})

describe('known prices', () => {
  const of = (prices: readonly KnownPrice[], event = draft()) => knownAnswers(event, prices)

  it('are an answer of each supplier: what is known is offered, the rest is not', () => {
    const { answers, left } = of([
      price({ tiers: [{ from: '50', price: '9' }], minimum: '5', multiple: '5', validUntil: '2026-05-01' }),
      price({ lineId: 'b', price: '3', priceBase: '10', leadDays: null, validUntil: '2026-04-01' }),
      price({ supplierId: 's2', price: '8' }),
    ])
    expect([...answers.keys(), left]).to.deep.equal(['s1', 's2', 0])
    const own = answers.get('s1')!
    expect(own).to.deep.include({ currency: 'EUR', validUntil: '2026-04-01' })
    expect(own.lines[0]).to.deep.include({ lineId: 'a', declined: false, price: '10', priceBase: '1', quantity: '', minimum: '5', multiple: '5', leadDays: 7, tiers: [{ from: '50', price: '9' }] }) // prettier-ignore
    expect(own.lines[1]).to.deep.include({ lineId: 'b', declined: false, price: '3', priceBase: '10', leadDays: null })
    expect(answers.get('s2')!.lines.map(line => line.declined)).to.deep.equal([false, true])
    expect(answers.get('s2')!.validUntil).to.equal('')
  })

  it('are of several the cheapest for what is asked, then the first, in the currency that most are in', () => {
    const dear = price({ price: '9.5' })
    const cheapAtHundred = price({ price: '11', tiers: [{ from: '100', price: '9' }] })
    expect(of([dear, cheapAtHundred]).answers.get('s1')!.lines[0]!.price).to.equal('11')
    expect(of([dear, { ...cheapAtHundred, tiers: [{ from: '101', price: '9' }] }]).answers.get('s1')!.lines[0]!.price).to.equal('9.5') // prettier-ignore
    expect(of([price({ price: '20', priceBase: '2', minimum: '1' }), price()]).answers.get('s1')!.lines[0]!.minimum).to.equal('1') // prettier-ignore
    const nok = [price({ currency: 'NOK' }), price({ currency: 'NOK', lineId: 'b' }), price({ price: '1' })]
    expect(of(nok).answers.get('s1')!.currency).to.equal('NOK')
    expect(of(nok).left).to.equal(1)
    expect(of([price({ currency: 'NOK' }), price()]).answers.get('s1')!.currency).to.equal('EUR')
  })

  it('offer a part only where the kind takes parts', () => {
    const part = price({ capacity: '40' })
    expect(of([part]).answers.get('s1')!.lines[0]!.quantity).to.equal('40')
    expect(of([price({ capacity: '100' })]).answers.get('s1')!.lines[0]!.quantity).to.equal('')
    const whole = draft({ kind: { partQuantity: false } })
    expect(of([part], whole)).to.deep.include({ left: 1 })
    expect(of([price({ capacity: '100' })], whole).answers.size).to.equal(1)
    expect(of([price({ lineId: 'gone' })])).to.deep.include({ left: 1 })
  })

  it('make tiers and multiples of a plan, each at landed cost; too many multiples are left to whoever awards', () => {
    const event = draft()
    const { answers } = of([price({ tiers: [{ from: '50', price: '9' }, { from: '80', price: '8.5' }], multiple: '10' }), price({ lineId: 'b', multiple: '0.1' })]) // prettier-ignore
    const { bids } = eventBids(event, [{ supplierId: 's1', name: 'S', standing: 'answered', onBehalf: false, answer: answers.get('s1')!, rate: '2', costs: () => ({ freightPercent: '0', dutyPercent: '10' }) }]) // prettier-ignore
    expect(bids.map(one => [one.lineId, one.tiers, one.multiple])).to.deep.equal([
      [
        'a',
        [
          { from: '0', unitCost: '22' },
          { from: '50', unitCost: '19.8' },
          { from: '80', unitCost: '18.7' },
        ],
        '10',
      ],
      ['b', [{ from: '0', unitCost: '22' }], undefined],
    ])
  })

  it('hold for a quantity by the highest tier that it reaches', () => {
    const tiered = price({ tiers: [{ from: '50', price: '9' }, { from: '80', price: '8.5' }] }) // prettier-ignore
    expect(['49.9', '50', '79', '80'].map(quantity => priceAt(tiered, quantity))).to.deep.equal(['10', '9', '9', '8.5'])
    expect(priceAt({ price: '10' }, '1000')).to.equal('10')
  })
})

describe('comparing what is known', () => {
  it('needs a draft of a quote request with lines and prices, and something known', () => {
    expect(whyNotCompareKnown(draft(), rasmus)).to.deep.equal([])
    expect(codes(whyNotCompareKnown(draft(), { ...rasmus, rights: new Set() }))).to.deep.equal(['right.notYours'])
    expect(codes(whyNotCompareKnown(eventFacts(), rasmus))).to.deep.equal(['state.notNow'])
    expect(codes(whyNotCompareKnown(draft({ kind: { format: 'auction' } }), rasmus))).to.deep.equal(['known.auction'])
    expect(codes(whyNotCompareKnown(draft({ kind: { pricing: 'none' } }), rasmus))).to.deep.equal(['plan.noPrices'])
    expect(codes(whyNotCompareKnown(draft({ lines: [] }), rasmus))).to.deep.equal(['event.noLines'])
    const nothing = compareKnown(draft(), { answers: new Map(), left: 3 }, rasmus, NOW)
    expect(nothing.ok ? [] : codes(nothing.reasons)).to.deep.equal(['known.nothing'])
    const not = compareKnown(eventFacts(), knownAnswers(draft(), [price()]), rasmus, NOW)
    expect(not.ok).to.equal(false)
  })

  it('is over at once, can be compared though nobody was asked, and be a draft again', () => {
    const done = compareKnown(draft(), knownAnswers(draft(), [price()]), rasmus, NOW)
    expect(done.ok && done.next).to.deep.equal({ state: 'over', endsAt: NOW })
    expect(done.ok && done.did.changes).to.deep.equal({ suppliers: 1, left: 0 })
    const over = draft({ state: 'over' })
    expect(whyNotCompare(over, 1, NOW)).to.deep.equal([])
    expect(codes(whyNotCompare(draft(), 1, NOW))).to.deep.equal(['event.notSent'])
    const again = takeUpEvent(over, rasmus)
    expect(again.ok && again.next).to.deep.equal({ state: 'draft', endsAt: null })
    const sent = takeUpEvent({ ...over, sentAt: NOW }, rasmus)
    expect(sent.ok ? [] : codes(sent.reasons)).to.deep.equal(['event.wasSent'])
  })
})

describe('a list of prices', () => {
  const names: KnownNames = {
    suppliers: new Map([['nordhavn', 's1'], ['s-2', 's2']]), // prettier-ignore
    items: new Map([['p-7', 'item']]),
    currency: 'EUR',
    currencies: new Set(['EUR', 'NOK']),
  }
  const HEADS = ['Supplier', 'Line', 'Unit price', 'Currency', 'per', 'From quantity', 'At most', 'MOQ', 'Multiple', 'Lead time'] // prettier-ignore
  const read = (...rows: string[][]) => readPrices(rows, priceColumns(HEADS), draft().lines, names)

  it('is found by its headings, of which three have to be there', () => {
    expect([...priceColumns(HEADS).keys()]).to.deep.equal(['supplier', 'line', 'price', 'currency', 'per', 'from', 'capacity', 'minimum', 'multiple', 'days']) // prettier-ignore
    expect(whyNotPriceList(priceColumns(HEADS))).to.deep.equal([])
    for (const missing of ['Supplier', 'Line', 'Unit price'])
      expect(codes(whyNotPriceList(priceColumns(HEADS.filter(one => one !== missing))))).to.deep.equal(['known.headings']) // prettier-ignore
  })

  it('has a row for each supplier and line; further ones make tiers, in whatever order they stand', () => {
    const { prices, faults } = read(
      ['Nordhavn', 'Pump a', '9,50', '', '', '50', '', '', '', ''],
      ['Nordhavn', '1', '10', '', '', '', '80', '5', '5', '14'],
      ['S-2', 'P-7', '1 200,5', 'nok', '100', '', '', '', '', '0'],
    )
    expect(faults).to.deep.equal([])
    expect(prices).to.deep.equal([
      price({ tiers: [{ from: '50', price: '9.5' }], capacity: '80', minimum: '5', multiple: '5', leadDays: 14 }),
      price({ supplierId: 's2', lineId: 'b', price: '1200.5', priceBase: '100', currency: 'NOK', leadDays: 0 }),
    ])
  })

  it('does not sell less than its lowest tier begins with, nor than its minimum', () => {
    const least = (from: string, minimum: string) => read(['Nordhavn', '1', '10', '', '', from, '', minimum]).prices[0]!.minimum // prettier-ignore
    expect([least('50', ''), least('50', '60'), least('50', '5'), least('', '')]).to.deep.equal(['50', '60', '50', ''])
  })

  it('has each price once, and tiers in one currency and for as many units', () => {
    const second = (...cells: string[]) => codes(read(['Nordhavn', '1', '10', '', '', '5'], ['Nordhavn', 'Pump a', '9', ...cells]).faults) // prettier-ignore
    expect(second('', '', '6')).to.deep.equal([])
    expect(second('', '', '5')).to.deep.equal(['known.twice'])
    expect(second('NOK', '', '6')).to.deep.equal(['known.tierUnlike'])
    expect(second('', '100', '6')).to.deep.equal(['known.tierUnlike'])
  })

  it('names every fault with its row', () => {
    const faults = (row: string[]) => read(row).faults.map(one => `${one.code} ${Object.values(one.details ?? {}).join(' ')}`) // prettier-ignore
    expect(faults(['Nobody', '9', '10'])).to.deep.equal(['known.supplier 2 Nobody', 'known.line 2 9'])
    expect(faults(['Nordhavn', '1', ''])).to.deep.equal(['known.figure 2 price '])
    expect(faults(['Nordhavn', '1', '0'])).to.deep.equal(['known.figure 2 price 0'])
    expect(faults(['Nordhavn', '1', '-3'])).to.deep.equal(['known.figure 2 price -3'])
    expect(faults(['Nordhavn', '1', '1,234'])).to.deep.equal(['known.figure 2 price 1,234'])
    expect(faults(['Nordhavn', '1', '1000000000000000'])).to.deep.equal(['known.figure 2 price 1000000000000000'])
    expect(faults(['Nordhavn', '1', '0.1234567'])).to.deep.equal(['known.figure 2 price 0.1234567'])
    expect(faults(['Nordhavn', '1', '10', 'XXX'])).to.deep.equal(['known.currency 2 XXX'])
    expect(faults(['Nordhavn', '1', '10', '', '0'])).to.deep.equal(['known.figure 2 per 0'])
    expect(faults(['Nordhavn', '1', '10', '', '', '-1'])).to.deep.equal(['known.figure 2 from -1'])
    expect(faults(['Nordhavn', '1', '10', '', '', '', '', '', '', '2.5'])).to.deep.equal(['known.figure 2 days 2.5'])
    const alike = readPrices([['Nordhavn', 'Pump', '1']], priceColumns(HEADS), ['a', 'b'].map(id => eventLine(id, { position: 3, description: 'Pump' })), names) // prettier-ignore
    expect(codes(alike.faults)).to.deep.equal(['known.line'])
  })
})
