import { expect } from 'chai'
import { dearer, type UnitPrice } from '#core/decide/lastTime.ts'
import { ownLines } from '#core/decide/ownLines.ts'
import { seenText } from '#core/decide/seen.ts'

describe('a price against the one of last time', () => {
  const one = (price: string, changed: Partial<UnitPrice> = {}): UnitPrice => ({
    price,
    priceBase: '1',
    rate: '1',
    unit: 'C62',
    ...changed,
  })
  it('is so many whole per cent dearer, or cheaper, rounded half away from zero', () => {
    expect(dearer(one('89'), one('100'))).to.equal(-11)
    expect(dearer(one('100'), one('100'))).to.equal(0)
    expect(dearer(one('102.5'), one('100'))).to.equal(3)
    expect(dearer(one('97.5'), one('100'))).to.equal(-3)
  })
  it('is compared for one unit in the base currency', () => {
    expect(dearer(one('500', { priceBase: '100' }), one('4'))).to.equal(25)
    expect(dearer(one('10', { rate: '0.9' }), one('9'))).to.equal(0)
  })
  it('says nothing in another unit, nor against nothing', () => {
    expect(dearer(one('1'), one('1', { unit: 'KGM' }))).to.equal(null)
    expect(dearer(one('1'), one('0'))).to.equal(null)
    expect(dearer(one('0'), one('1'))).to.equal(-100)
  })
})

describe('the lines because of which somebody is asked', () => {
  const lines = [
    { id: 'a', costCentres: ['LS-210'] },
    { id: 'b', costCentres: ['AC-110'] },
    { id: 'c', costCentres: ['AC-110', 'LS-210'] },
  ]
  const asked = (...costCentres: (string | null)[]) => [...ownLines([{ costCentres }], lines)]
  it('are those that their cost centre pays for, or all', () => {
    expect(asked('LS-210')).to.deep.equal(['a', 'c'])
    expect(asked('LS-210', null)).to.deep.equal(['a', 'b', 'c'])
    expect(asked()).to.deep.equal(['a', 'b', 'c'])
    expect(asked('EX-310')).to.deep.equal([])
    expect([...ownLines([], lines)]).to.deep.equal([])
  })
})

describe('what a decision was about', () => {
  const line = { id: 'l1', description: 'Pump', baseAmount: '100', gone: false, splits: [], unit: 'C62' }
  const { unit, ...rest } = line
  const seen = { title: 'Pumps', reason: '', total: '100', lines: [line] }
  it('is the same text for the same content, whatever the order of its fields, and another for another', () => {
    expect(seenText({ ...seen, lines: [{ unit, ...rest }] })).to.equal(seenText(seen))
    for (const other of [{ title: 'Pump' }, { reason: 'x' }, { total: '101' }, { lines: [{ ...line, unit: 'KGM' }] }])
      expect(seenText({ ...seen, ...other })).to.not.equal(seenText(seen))
  })
})
