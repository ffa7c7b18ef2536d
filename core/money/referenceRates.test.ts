import { expect } from 'chai'
import { notEntered, toBaseRates } from '#core/money/referenceRates.ts'

const on = (currency: string, perUnit: string, day = '2026-11-26') => ({ currency, day, perUnit })

describe('reference rates', () => {
  it('are turned round where the house counts in the reference currency', () => {
    expect(toBaseRates([on('NOK', '11.5'), on('USD', '1.08')], 'EUR', 'EUR')).to.deep.equal([
      { currency: 'NOK', validFrom: '2026-11-26', rate: '0.08695652' },
      { currency: 'USD', validFrom: '2026-11-26', rate: '0.92592593' },
    ])
  })

  it('go across where it counts in another, the reference currency included', () => {
    expect(toBaseRates([on('NOK', '11.5'), on('USD', '1.08')], 'EUR', 'NOK')).to.deep.equal([
      { currency: 'USD', validFrom: '2026-11-26', rate: '10.64814815' },
      { currency: 'EUR', validFrom: '2026-11-26', rate: '11.5' },
    ])
  })

  it('give none for days without the base currency, and none from what is no rate', () => {
    expect(toBaseRates([on('USD', '1.08')], 'EUR', 'NOK')).to.deep.equal([])
    expect(toBaseRates([on('USD', '0'), on('JPY', '160')], 'EUR', 'EUR').map(rate => rate.currency)).to.deep.equal([
      'JPY',
    ])
  })

  it('keep their days apart', () => {
    const rates = toBaseRates([on('USD', '1.10', '2026-11-26'), on('USD', '1.05', '2026-11-25')], 'EUR', 'EUR')
    expect(rates.map(rate => [rate.validFrom, rate.rate])).to.deep.equal([
      ['2026-11-25', '0.95238095'],
      ['2026-11-26', '0.90909091'],
    ])
  })

  it('leave alone what was entered for a day', () => {
    const rate = (currency: string, validFrom: string, text = '1') => ({ currency, validFrom, rate: text })
    expect(
      notEntered(
        [rate('NOK', '2026-11-26'), rate('NOK', '2026-11-27'), rate('USD', '2026-11-26')],
        [rate('NOK', '2026-11-26', '2'), rate('USD', '2026-11-27')],
      ),
    ).to.deep.equal([rate('NOK', '2026-11-27'), rate('USD', '2026-11-26')])
  })
})
