import { expect } from 'chai'
import { languageOfCountry } from '#core/source/language.ts'

describe('the language of a supplier’s first mail', () => {
  it('is German where most people read it, else English', () => {
    expect(['DE', 'AT', 'CH', 'LI', 'NL', 'GB', ''].map(languageOfCountry)).to.deep.equal([
      'de', 'de', 'de', 'de', 'en', 'en', 'en',
    ]) // prettier-ignore
  })
})
