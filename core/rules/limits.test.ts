import { expect } from 'chai'
import { minor } from '#core/money/amount.ts'
import { loosened } from '#core/rules/limits.ts'

describe('limits', () => {
  it('give more power where one rises or goes, none where one falls, comes or stays', () => {
    const before = { requisition: minor(100), run: minor(100), award: minor(100), transfer: minor(100) }
    const after = { requisition: minor(101), run: minor(100), award: minor(99), onboarding: minor(1) }
    expect(loosened(before, after)).to.deep.equal(['requisition', 'transfer'])
    expect(loosened({}, before)).to.deep.equal([])
  })
})
