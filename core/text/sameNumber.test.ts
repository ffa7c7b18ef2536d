import { expect } from 'chai'
import { sameNumber } from '#core/text/sameNumber.ts'

describe('numbers of documents as outsiders write them', () => {
  it('are the same with small letters, blanks, hyphens and noughts in front', () => {
    for (const text of ['O-4034', 'o 4034', ' O4034 ', 'O-04034', 'o-0004034']) expect(sameNumber(text, 'O-4034'), text).to.equal(true) // prettier-ignore
  })

  it('are others where a digit or a letter differs', () => {
    for (const text of ['O-40340', 'O-403', 'P-4034', '4034', '', 'O-4304', 'O-40034']) expect(sameNumber(text, 'O-4034'), text).to.equal(false) // prettier-ignore
  })
})
