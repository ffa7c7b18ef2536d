import { expect } from 'chai'
import { readReferenceRates } from '#core/formats/referenceRates.ts'
import { RuleBroken } from '#core/reasons.ts'

const envelope = (cubes: string): string =>
  `<gesmes:Envelope xmlns:gesmes="http://www.gesmes.org/xml/2002-08-01" xmlns="http://www.ecb.int/vocabulary/2002-08-01/eurofxref"><gesmes:subject>Reference rates</gesmes:subject><Cube>${cubes}</Cube></gesmes:Envelope>`
const refused = (text: string): string => {
  try {
    readReferenceRates(text)
    return ''
  } catch (error) {
    return error instanceof RuleBroken ? error.reasons[0]!.code : String(error)
  }
}

describe('euro reference rates', () => {
  it('are read day by day', () => {
    const text = envelope(
      '<Cube time="2026-11-26"><Cube currency="USD" rate="1.0832"/><Cube currency="NOK" rate="11.5"/></Cube><Cube time="2026-11-25"><Cube currency="USD" rate="1.08"/></Cube>',
    )
    expect(readReferenceRates(text)).to.deep.equal([
      { currency: 'USD', day: '2026-11-26', perUnit: '1.0832' },
      { currency: 'NOK', day: '2026-11-26', perUnit: '11.5' },
      { currency: 'USD', day: '2026-11-25', perUnit: '1.08' },
    ])
  })

  it('leave out what is no currency, day or rate, and are refused where nothing is left', () => {
    const odd = envelope(
      '<Cube time="2026-02-30"><Cube currency="USD" rate="1"/></Cube><Cube time="2026-11-26"><Cube currency="usd" rate="1"/><Cube currency="SEK" rate="ten"/><Cube currency="GBP" rate="0.85"/></Cube>',
    )
    expect(readReferenceRates(odd).map(rate => rate.currency)).to.deep.equal(['GBP'])
    expect(refused(envelope(''))).to.equal('rates.unreadable')
    expect(refused('<a/>')).to.equal('rates.unreadable')
    expect(refused('no xml')).to.not.equal('')
  })
})
