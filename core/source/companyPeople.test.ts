import { expect } from 'chai'
import { whyNotChangeAccount } from '#core/source/companyPeople.ts'

describe('an account at a supplier', () => {
  const chief = { id: 'a', administrator: true, email: 'chief@nord.example' }
  const codes = (...args: Parameters<typeof whyNotChangeAccount>): string[] =>
    whyNotChangeAccount(...args).map(reason => reason.code)

  it('of the administrator gets another address from the administrator alone', () => {
    const change = { email: 'thief@nord.example', active: true }
    expect(codes(chief, change, 'b')).to.deep.equal(['company.administratorAddress'])
    expect(codes(chief, change, 'a')).to.deep.equal([])
    expect(codes({ ...chief, administrator: false }, change, 'b')).to.deep.equal([])
    expect(codes(chief, { email: ' Chief@nord.example', active: true }, 'b')).to.deep.equal([])
  })

  it('of the administrator is not closed, by whomever', () => {
    for (const actor of ['a', 'b'])
      expect(codes(chief, { email: chief.email, active: false }, actor)).to.deep.equal(['company.administratorStays'])
    expect(codes({ ...chief, administrator: false }, { email: chief.email, active: false }, 'b')).to.deep.equal([])
  })
})
