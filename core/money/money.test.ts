import { roundedText, sumTexts, wholeText } from '#core/money/text.ts'
import { expect } from 'chai'
import fc from 'fast-check'
import { allocate } from '#core/money/allocate.ts'
import {
  formatAmount,
  lineAmount,
  minor,
  moneyText,
  parseAmount,
  portion,
  roundAmount,
  sumMinor,
  unitPriceOf,
} from '#core/money/amount.ts'
import { currencies, minorDigits } from '#core/money/currency.ts'
import { decimal, isDecimalText, sumDecimals, tidy } from '#core/money/decimal.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { rateOn, toBase, whyNotRate } from '#core/money/exchange.ts'
import { RuleBroken } from '#core/reasons.ts'
import { anyMinor, someQuantity, someWeights } from '#test-helpers/arbitraries/money.ts'

describe('amounts', () => {
  it('reads and writes with the digits of the currency', () => {
    expect(parseAmount('18420.00', 'EUR')).to.equal(1842000n)
    expect(parseAmount('612000', 'JPY')).to.equal(612000n)
    expect(parseAmount('1.234', 'KWD')).to.equal(1234n)
    expect(formatAmount(5n, 'EUR')).to.equal('0.05')
    expect(formatAmount(-1234n, 'KWD')).to.equal('-1.234')
  })

  it('refuses more digits than the currency has, exponents and separators', () => {
    for (const text of ['1.234', '1e3', '1,5', ' 1', '', '0x10', 'NaN', '１２'])
      expect(() => parseAmount(text, 'EUR'), text).to.throw(RuleBroken)
    expect(() => parseAmount('1.5', 'JPY')).to.throw(RuleBroken, 'money.tooManyDigits')
    expect(() => parseAmount('1', 'XXX')).to.throw(RuleBroken, 'money.unknownCurrency')
  })

  it('comes back the same after writing and reading', () => {
    fc.assert(
      fc.property(anyMinor(), fc.constantFrom('EUR', 'JPY', 'KWD'), (amount, currency) => {
        expect(parseAmount(formatAmount(amount, currency), currency)).to.equal(amount)
      }),
    )
  })

  it('rounds half away from zero, once, at the line', () => {
    expect([roundAmount('0.0046', 'EUR'), roundAmount('0.0054', 'EUR')]).to.deep.equal([0n, 1n])
    expect(roundAmount('0.005', 'EUR')).to.equal(1n)
    expect(roundAmount('-0.005', 'EUR')).to.equal(-1n)
    expect(lineAmount({ quantity: '3', price: '0.335', priceBase: '1', currency: 'EUR' })).to.equal(101n)
  })

  it('divides by the price base quantity', () => {
    expect(lineAmount({ quantity: '1000', price: '31.9', priceBase: '100', currency: 'EUR' })).to.equal(31900n)
    expect(lineAmount({ quantity: '7', price: '1', priceBase: '3', currency: 'EUR' })).to.equal(233n)
    expect(() => lineAmount({ quantity: '1', price: '1', priceBase: '0', currency: 'EUR' })).to.throw(
      RuleBroken,
      'money.priceBase',
    )
  })

  it('has for each currency the digits of ISO 4217: none, three, else two', () => {
    const others: Record<string, number> = { ISK: 0, JPY: 0, KRW: 0, BHD: 3, KWD: 3, TND: 3 }
    expect(currencies).to.include.members(['EUR', 'NOK', ...Object.keys(others)])
    for (const currency of currencies) expect(minorDigits(currency), currency).to.equal(others[currency] ?? 2)
  })

  it('knows the part of an amount and what one unit cost, rounded half away from zero', () => {
    expect([portion(minor(100), '1', '3'), portion(minor(100), '2', '3'), portion(minor(-5), '1', '2')]).to.deep.equal([
      33n,
      67n,
      -3n,
    ])
    expect(portion(minor(100), '1', '0')).to.equal(0n)
    expect(unitPriceOf(minor(1000), 'EUR', '3')).to.equal('3.333333')
    expect(unitPriceOf(minor(2000), 'EUR', '3')).to.equal('6.666667')
    expect(unitPriceOf(minor(2000), 'EUR', '0')).to.equal('0')
    expect(moneyText(minor(1842000n), 'EUR')).to.equal('EUR 18420.00')
    expect(sumMinor([1n, -3n])).to.equal(-2n)
    expect(sumMinor([])).to.equal(0n)
  })

  it('says of what is no decimal its first forty letters', () => {
    const refused = (text: string): unknown => {
      try {
        return decimal(text)
      } catch (error) {
        return error instanceof RuleBroken ? error.reasons[0]!.details : error
      }
    }
    expect(refused('x'.repeat(50))).to.deep.equal({ text: 'x'.repeat(40) })
    expect(tidy('1.2345674')).to.equal('1.234567')
    expect(sumDecimals([]).toString()).to.equal('0')
    expect(sumDecimals(['0.1', '0.2']).toString()).to.equal('0.3')
    expect(decimal('1').dividedBy('3').precision()).to.equal(60)
  })

  it('divides by a base above nothing only', () => {
    expect(() => lineAmount({ quantity: '1', price: '1', priceBase: '-1', currency: 'EUR' })).to.throw(RuleBroken)
    expect(lineAmount({ quantity: '1', price: '1', priceBase: '0.5', currency: 'EUR' })).to.equal(200n)
  })

  it('keeps quantities exact that binary fractions would not', () => {
    expect(lineAmount({ quantity: '1.1', price: '1.1', priceBase: '1', currency: 'KWD' })).to.equal(1210n)
    expect(decimal('0.1').plus('0.2').toString()).to.equal('0.3')
    expect(tidy('12.500000')).to.equal('12.5')
    expect(isDecimalText('1234567890123456')).to.equal(false)
    expect(isDecimalText('0.0000001')).to.equal(false)
  })
})

describe('allocate', () => {
  it('gives the left-over unit to the earlier split on a tie', () => {
    expect(allocate(minor(100), ['1', '1', '1'])).to.deep.equal([34n, 33n, 33n])
    expect(allocate(minor(-100), ['1', '1', '1'])).to.deep.equal([-34n, -33n, -33n])
  })

  it('gives left-over units to the largest remainders, not to the largest shares', () => {
    expect(allocate(minor(5), ['4', '1', '1'])).to.deep.equal([3n, 1n, 1n])
    expect(allocate(minor(10), ['1', '2', '4'])).to.deep.equal([1n, 3n, 6n])
    expect(allocate(minor(1), ['0.1', '99.9'])).to.deep.equal([0n, 1n])
  })

  it('always re-adds to the whole, for negatives too', () => {
    fc.assert(
      fc.property(anyMinor(), someWeights(), (total, weights) => {
        expect(sumMinor(allocate(total, weights))).to.equal(total)
      }),
    )
  })

  it('is never more than one unit away from the exact share', () => {
    fc.assert(
      fc.property(anyMinor(), someWeights(), (total, weights) => {
        const sum = weights.reduce((all, weight) => all + BigInt(weight), 0n)
        allocate(total, weights).forEach((part, index) => {
          const error = part * sum - total * BigInt(weights[index]!)
          expect(error < sum && error > -sum).to.equal(true)
        })
      }),
    )
  })

  it('refuses shares that come to nothing or below', () => {
    expect(() => allocate(minor(5), ['0', '0'])).to.throw(RuleBroken, 'money.noShares')
    expect(() => allocate(minor(5), ['-1', '2'])).to.throw(RuleBroken, 'money.noShares')
    expect(() => allocate(minor(5), [])).to.throw(RuleBroken, 'money.noShares')
  })
})

describe('exchange', () => {
  const rates = [
    { currency: 'NOK', validFrom: '2026-01-01', rate: '0.0861' },
    { currency: 'NOK', validFrom: '2026-07-01', rate: '0.08545' },
  ]

  it('takes the rate that holds on the day, until the next one', () => {
    expect(rateOn(rates, 'NOK', '2026-06-30', 'EUR')).to.equal('0.0861')
    expect(rateOn(rates, 'NOK', '2026-07-01', 'EUR')).to.equal('0.08545')
    expect(rateOn([], 'EUR', '2026-07-01', 'EUR')).to.equal('1')
  })

  it('refuses a day before the first rate', () => {
    expect(() => rateOn(rates, 'NOK', '2025-12-31', 'EUR')).to.throw(RuleBroken, 'money.noRate')
  })

  it('converts between currencies with different digits', () => {
    expect(toBase(minor(612000), 'JPY', '0.006045', 'EUR')).to.equal(369954n)
    expect(toBase(minor(5280_00), 'NOK', '0.08545', 'EUR')).to.equal(45118n)
  })
})

describe('numbers as people type them', () => {
  it('takes comma and point where only one reading is possible', () => {
    const readings: Record<string, string> = {
      '12': '12',
      '12,5': '12.5',
      '12.50': '12.50',
      '1 234,5': '1234.5',
      '1.234,56': '1234.56',
      '1,234.56': '1234.56',
      '1.234.567': '1234567',
      "1'000.5": '1000.5',
      '0,125': '0.125',
      '007': '7',
      '-3,5': '-3.5',
      '1234,567': '1234.567',
    }
    for (const [typed, value] of Object.entries(readings))
      expect(readTypedNumber(typed), typed).to.deep.equal({ ok: true, value })
  })

  it('names both readings instead of guessing', () => {
    expect(readTypedNumber('1,234')).to.deep.equal({ ok: false, ambiguous: ['1234', '1.234'] })
    expect(readTypedNumber('12.500')).to.deep.equal({ ok: false, ambiguous: ['12500', '12.500'] })
  })

  it('refuses what is no number', () => {
    for (const typed of ['', 'abc', '1e5', '1,2,3', '1..2', '--1', '1.23.4', '12 kg'])
      expect(readTypedNumber(typed).ok, typed).to.equal(false)
  })

  it('reads back every plain decimal that is not ambiguous', () => {
    fc.assert(
      fc.property(someQuantity(), text => {
        const read = readTypedNumber(text)
        if (read.ok) expect(decimal(read.value).equals(text)).to.equal(true)
        else expect(read.ambiguous).to.include(text)
      }),
    )
  })
})

describe('amounts as JSON carries them', () => {
  it('re-add exactly, with as many digits as the most exact of them', () => {
    expect(sumTexts(['1304.97', '0.03', '-5'])).to.equal('1300.00')
    expect(sumTexts(['0.1', '0.2'])).to.equal('0.3')
    expect(sumTexts(['1.005', '612000'])).to.equal('612001.005')
    expect(sumTexts([])).to.equal('0')
    expect(sumTexts(['1', '2'])).to.equal('3')
  })

  it('are shown rounded, half away from zero, never cut', () => {
    expect(['1304.97', '1304.50', '1304.49', '-0.50', '-1304.97', '7'].map(wholeText)).to.deep.equal([
      '1305',
      '1305',
      '1304',
      '-1',
      '-1305',
      '7',
    ])
    expect([roundedText('9.33335', 4), roundedText('9.3', 4), roundedText('10', 4)]).to.deep.equal([
      '9.3334',
      '9.3',
      '10',
    ])
  })
})

describe('a rate that is entered', () => {
  const codes = (currency: string, rate: string, there?: string): string[] =>
    whyNotRate({ currency, rate, validFrom: '2026-11-01' }, 'EUR', there).map(one => `${one.code} ${one.place}`)

  it('is above zero, for another currency, and not on a day that has one', () => {
    expect(codes('SEK', '0.0891')).to.deep.equal([])
    expect(codes('SEK', '0.000001')).to.deep.equal([])
    expect(codes('SEK', '0')).to.deep.equal(['rate.none rate'])
    expect(codes('SEK', '-0.1')).to.deep.equal(['rate.none rate'])
    expect(codes('EUR', '1')).to.deep.equal(['rate.none currency'])
    expect(codes('SEK', '0.0891', '0.0890')).to.deep.equal(['rate.there validFrom'])
  })
})
