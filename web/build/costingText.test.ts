import { expect } from 'chai'
import { firstSettings } from '#core/build/settings.ts'
import { curveEnd, placesText, settingsSentence, wantsLook } from '#web/build/costingText.ts'
import type { Costing, Settings } from '#web/build/useCosting.ts'

const offer = (country: string): Costing['known']['offers'][number] => ({
  id: country,
  itemId: 'i',
  supplierId: 's',
  unit: 'C62',
  holds: '1',
  currency: 'EUR',
  priceBase: '1',
  minimum: '1',
  multiple: '1',
  leadTimeDays: 1,
  validFrom: '2026-01-01',
  validTo: null,
  tiers: [{ from: '1', price: '1' }],
  fee: '',
  stock: '',
  country,
})
const known: Costing['known'] = {
  items: [],
  offers: ['NO', 'NL', 'JP', ''].map(offer),
  suppliers: [{ id: 's', name: 'Nordhavn', score: '' }],
  rates: {},
  calendar: { restDays: [], holidays: [] },
}
const settings = (more: Partial<Settings> = {}): Settings => ({ ...(firstSettings('EUR') as Settings), ...more })
const sentence = (more: Partial<Settings> = {}): string =>
  settingsSentence(settings(more), known)
    .map(part => `${part.before} ${part.text}`)
    .join('')

describe('a costing in words', () => {
  it('says how a build is bought, every part of it to be changed', () => {
    expect(sentence()).to.equal(
      'Buy the cheapest of all in EUR, from anywhere, in any pack, more than needed where that is cheaper, all in by whenever it comes, with no wastage; alternates where the first cannot be had; what is in the house first',
    )
    const other = sentence({
      policy: 'preferred',
      preferred: ['s'],
      countries: ['NO', 'NL'],
      packing: 'reel',
      excess: false,
      stockedOnly: true,
      wastage: { percent: '3', pieces: '2' },
      wastageByCategory: { Pipe: { percent: '5', pieces: '0' } },
      alternates: 'whereCheaper',
      ownStock: false,
    })
    for (const said of [
      'the cheapest of the preferred (Nordhavn)',
      'from Europe',
      'on reels',
      'exactly what is needed',
      'only what lies there',
      'with 3 % and 2 pcs wastage (other for 1 category)',
      'alternates wherever they are cheaper',
      'nothing from the house',
    ])
      expect(other).to.include(said)
    expect(settingsSentence(settings(), known).map(part => part.about)).to.include.members([
      'policy',
      'inBy',
      'wastage',
    ])
  })

  it('names a region where countries are just those of one', () => {
    expect(placesText([], known)).to.equal('anywhere')
    expect(placesText(['NO'], known)).to.equal('EFTA')
    expect(placesText(['JP'], known)).to.equal('Asia')
    expect(placesText(['NO', 'JP'], known)).to.equal('NO, JP')
  })

  it('draws the curve well beyond the builds that are wanted, to a round number, and no further than can be computed', () => {
    expect([1, 8, 48, 100, 900, 1_000_000_000].map(curveEnd)).to.deep.equal([40, 40, 160, 250, 2000, 2000])
  })

  it('puts what wants a look first', () => {
    const weight = (...levels: ('stop' | 'check' | 'note')[]): number => wantsLook(levels.map(level => ({ level })))
    expect([weight('check', 'stop'), weight('note', 'check'), weight('note'), weight()]).to.deep.equal([0, 1, 2, 2])
  })
})
