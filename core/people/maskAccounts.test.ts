import { expect } from 'chai'
import { maskAccounts, seesAccounts, withoutAccounts } from '#core/people/maskAccounts.ts'

describe('account numbers', () => {
  it('keep their last four signs, however they are written and wherever they stand', () => {
    expect(maskAccounts('NL91ABNA0417164300')).to.equal('… 4300')
    expect(maskAccounts('NO9386011117947'), 'the shortest there is').to.equal('… 7947')
    expect(maskAccounts('to NL91 ABNA 0417 1643 00, and DE89370400440532013000.')).to.equal('to … 4300, and … 3000.')
  })

  it('are only what has the right check digits: numbers that look like one stay', () => {
    for (const text of ['NL92ABNA0417164300', 'O-4001', 'PS12 CLAMP 0417 SET4', 'VAT NL999999999B99', ''])
      expect(maskAccounts(text)).to.equal(text)
  })

  it('are masked in everything that is handed out, and nothing else is changed', () => {
    const value = { a: [{ iban: 'NL91ABNA0417164300', n: 3 }, null], b: true, c: 'plain' }
    expect(withoutAccounts(value)).to.deep.equal({ a: [{ iban: '… 4300', n: 3 }, null], b: true, c: 'plain' })
  })

  it('are seen whole by who pays or proves, and by a supplier’s own people', () => {
    const may = (realm: string, ...rights: string[]): boolean => seesAccounts({ realm, rights: new Set(rights) })
    expect([
      may('team', 'payment.propose'),
      may('team', 'payment.approve'),
      may('team', 'supplier.prove'),
      may('supplier'),
    ]).to.not.include(false)
    expect([may('team'), may('team', 'supplier.write', 'payment.read', 'invoice.write')]).to.not.include(true)
  })
})
