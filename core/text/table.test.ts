import { expect } from 'chai'
import { minorDigits } from '#core/money/currency.ts'
import { RuleBroken } from '#core/reasons.ts'
import { entryOf, table } from '#core/text/table.ts'
import { convertQuantity, unitLabel, UNITS } from '#core/units/units.ts'

const INHERITED = ['__proto__', 'constructor', 'toString', 'hasOwnProperty', 'valueOf']

describe('tables that are asked from outside', () => {
  it('have what they name and nothing else, and cannot be changed', () => {
    const digits: Readonly<Record<string, number>> = table({ EUR: 2 })
    expect([digits.EUR, Object.keys(digits)]).to.deep.equal([2, ['EUR']])
    for (const name of INHERITED) expect([digits[name], name in digits], name).to.deep.equal([undefined, false])
    expect(() => ((digits as Record<string, number>).JPY = 0)).to.throw(TypeError)
  })

  it('give an entry of a plain object only where it is its own', () => {
    expect(entryOf({ all: 1 }, 'all')).to.equal(1)
    for (const name of INHERITED) expect(entryOf({ all: 1 }, name), name).to.equal(undefined)
  })

  it('are what currencies and units are looked up in', () => {
    for (const name of INHERITED) {
      expect(() => minorDigits(name), name).to.throw(RuleBroken, 'money.unknownCurrency')
      expect([unitLabel(name), name in UNITS], name).to.deep.equal([name, false])
      expect(() => convertQuantity('1', name, 'KGM'), name).to.throw(RuleBroken, 'units.noConversion')
    }
  })
})
