import { expect } from 'chai'
import { type CodingAccount, type CodingFacts, proposeAccounts } from '#core/request/coding.ts'

const account = (id: string, changed: Partial<CodingAccount> = {}): CodingAccount => ({
  id,
  costCentre: 'LS-210',
  naturalAccount: '6020',
  year: 2026,
  project: null,
  open: true,
  ...changed,
})
const accounts = [
  account('salt'),
  account('salt27', { year: 2027 }),
  account('parts', { naturalAccount: '6210' }),
  account('skid', { naturalAccount: '1510', project: 'SKID-26' }),
  account('closed', { naturalAccount: '6310', open: false }),
  account('care', { costCentre: 'AC-110' }),
]
const facts: CodingFacts = {
  accounts,
  year: 2026,
  project: null,
  sameItem: [],
  sameCategory: [],
  categoryAccount: null,
  costCentres: ['LS-210', 'AC-110'],
  lastTime: [],
}
const proposed = (changed: Partial<CodingFacts>): string[] =>
  proposeAccounts({ ...facts, ...changed }).map(one => `${one.accountId} ${one.because}`)

describe('an account is proposed', () => {
  it('from the same item first, then the category, then the last time, each once', () => {
    expect(
      proposed({ sameItem: ['salt'], sameCategory: ['parts', 'salt'], categoryAccount: '6020', lastTime: ['parts'] }),
    ).to.deep.equal(['salt sameItem', 'parts sameCategory', 'care categoryAccount'])
  })

  it('of the year in which the line is needed', () => {
    expect(proposed({ year: 2027, sameItem: ['salt'] })).to.deep.equal(['salt27 sameItem'])
    expect(proposed({ year: 2028, sameItem: ['salt'] })).to.deep.equal([])
  })

  it('with the project when one is named', () => {
    expect(proposed({ project: 'SKID-26', lastTime: ['salt'] })).to.deep.equal(['skid project'])
  })

  it('never when it is closed or unknown', () => {
    expect(proposed({ sameItem: ['closed', 'gone'], lastTime: ['closed'] })).to.deep.equal([])
  })

  it('at most four times', () => {
    const many = Array.from({ length: 9 }, (_, index) => account(`m${index}`, { naturalAccount: String(6000 + index) }))
    expect(
      proposeAccounts({ ...facts, accounts: many, lastTime: many.map(one => one.id) }).map(one => one.accountId),
    ).to.deep.equal(['m0', 'm1', 'm2', 'm3'])
  })
})
