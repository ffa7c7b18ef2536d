import { expect } from 'chai'
import { ratesOn } from '#core/bill/taxRates.ts'

describe('rates of VAT', () => {
  it('are those of the day, first and last day included', () => {
    const all = [
      { country: 'DE', rate: '19', validFrom: '2007-01-01', validTo: '2020-06-30' },
      { country: 'DE', rate: '16', validFrom: '2020-07-01', validTo: '2020-12-31' },
      { country: 'DE', rate: '19', validFrom: '2021-01-01', validTo: null },
    ]
    const on = (day: string): string => ratesOn(all, day).map(one => one.rate).join() // prettier-ignore
    expect([on('2006-12-31'), on('2020-06-30'), on('2020-07-01'), on('2020-12-31'), on('2021-01-01')]).to.deep.equal(['', '19', '16', '16', '19']) // prettier-ignore
  })
})
