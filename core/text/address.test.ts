import { expect } from 'chai'
import { addressText } from '#core/text/address.ts'

describe('an address on one line', () => {
  const at = (country: string, rest = {}) =>
    addressText({ street: 'Kaistr. 4', postalCode: '20457', city: 'Hamburg', country, ...rest })

  it('has the postal code where the country puts it', () => {
    expect(at('DE')).to.equal('Kaistr. 4, 20457 Hamburg, DE')
    expect(at('GB')).to.equal('Kaistr. 4, Hamburg 20457, GB')
  })

  it('leaves out what is not known', () => {
    expect(at('NL', { postalCode: '' })).to.equal('Kaistr. 4, Hamburg, NL')
    expect(at('', { street: '', postalCode: '', city: '' })).to.equal('')
  })
})
