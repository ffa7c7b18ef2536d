import { expect } from 'chai'
import fc from 'fast-check'
import type { RuleBroken } from '#core/reasons.ts'
import { Decimal } from '#core/money/decimal.ts'
import { convertQuantity, unitLabel, UNITS } from '#core/units/units.ts'

const BOX = [{ unit: 'BX', holds: '100' }]
const code = (work: () => unknown): string => {
  try {
    work()
    return 'converted'
  } catch (error) {
    return (error as RuleBroken).reasons[0]!.code
  }
}

describe('units of measure', () => {
  it('convert within what they measure, exactly, by the factors of Recommendation 20', () => {
    for (const [quantity, from, to, wanted] of [
      ['2.5', 'TNE', 'KGM', '2500'],
      ['750', 'GRM', 'KGM', '0.75'],
      ['3', 'MTQ', 'LTR', '3000'],
      ['1', 'MMT', 'MTR', '0.001'],
      ['12', 'C62', 'C62', '12'],
      ['007.50', 'HUR', 'HUR', '7.5'],
      ['2.5', 'HUR', 'MIN', '150'],
      ['3', 'DZN', 'C62', '36'],
      ['1000', 'LBR', 'KGM', '453.59237'],
      ['1', 'YRD', 'FOT', '3'],
      ['1', 'MTK', 'CMK', '10000'],
      ['2', 'MWH', 'KWH', '2000'],
    ] as const)
      expect(convertQuantity(quantity, from, to), `${quantity} ${from}`).to.equal(wanted)
  })

  it('convert by the packs of an item, both ways, and between packs', () => {
    expect(convertQuantity('2', 'BX', 'C62', BOX, 'C62')).to.equal('200')
    expect(convertQuantity('250', 'C62', 'BX', BOX, 'C62')).to.equal('2.5')
    expect(convertQuantity('3', 'BX', 'BG', [...BOX, { unit: 'BG', holds: '25' }], 'C62')).to.equal('12')
    expect(convertQuantity('2', 'TNE', 'BG', [{ unit: 'BG', holds: '25' }], 'KGM'), 'a pack in kilograms').to.equal(
      '80',
    )
  })

  it('that measure something else, or are not known, are refused by their names', () => {
    expect(code(() => convertQuantity('1', 'KGM', 'LTR'))).to.equal('units.noConversion')
    expect(code(() => convertQuantity('1', 'BX', 'C62'))).to.equal('units.noConversion')
    expect(code(() => convertQuantity('1', 'XX', 'C62'))).to.equal('units.noConversion')
    expect(code(() => convertQuantity('1', 'HUR', 'DAY'))).to.equal('units.noConversion')
    try {
      convertQuantity('1', 'KGM', 'LTR')
    } catch (error) {
      expect((error as RuleBroken).reasons[0]!.details).to.deep.equal({ from: 'kg', to: 'l' })
    }
  })

  it('never round: what needs more than six digits is refused', () => {
    expect(convertQuantity('1', 'C62', 'BX', [{ unit: 'BX', holds: '64' }], 'C62')).to.equal('0.015625')
    expect(code(() => convertQuantity('1', 'C62', 'BX', [{ unit: 'BX', holds: '3' }], 'C62'))).to.equal(
      'units.notExact',
    )
    expect(code(() => convertQuantity('0.0001', 'GRM', 'TNE'))).to.equal('units.notExact')
  })

  it('come back as they were', () => {
    const pairs = fc.constantFrom(['TNE', 'KGM'], ['KGM', 'GRM'], ['MTQ', 'LTR'], ['MTR', 'MMT'], ['BX', 'C62'])
    fc.assert(
      fc.property(pairs, fc.integer({ min: 1, max: 1_000_000 }), ([from, to], units) => {
        const quantity = new Decimal(units).dividedBy(100).toString()
        const there = convertQuantity(quantity, from!, to!, BOX, from === 'BX' ? 'C62' : to)
        expect(convertQuantity(there, to!, from!, BOX, from === 'BX' ? 'C62' : to)).to.equal(quantity)
      }),
    )
  })

  it('are shown by a word; a code that is not known is shown as it is', () => {
    expect(unitLabel('KGM')).to.equal('kg')
    expect(unitLabel('ZZ')).to.equal('ZZ')
    for (const [unit, { label, factor }] of Object.entries(UNITS)) {
      expect(label, unit).to.not.equal('')
      expect(new Decimal(factor).gt(0), unit).to.equal(true)
    }
  })
})
