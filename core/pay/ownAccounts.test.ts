import { expect } from 'chai'
import { accountFor, canPayIn } from '#core/pay/ownAccounts.ts'

const account = (currency: string, iban: string) => ({ name: 'Saltmere', iban, bic: '', currency })

describe('the account that pays', () => {
  const ours = [account('USD', 'A'), account('EUR', 'B'), account('EUR', 'C')]

  it('is ours in that currency, the first of several', () => {
    expect(accountFor(ours, 'USD', 'EUR')?.iban).to.equal('A')
    expect(accountFor(ours, 'EUR', 'EUR')?.iban).to.equal('B')
  })

  it('is else ours in the house’s own currency, and none where there is none', () => {
    expect(accountFor(ours, 'NOK', 'EUR')?.iban).to.equal('B')
    expect(accountFor([account('USD', 'A')], 'NOK', 'EUR')).to.equal(undefined)
    expect(accountFor([], 'EUR', 'EUR')).to.equal(undefined)
  })

  it('is there for every currency of a run, or the run cannot leave', () => {
    expect(canPayIn(ours, ['NOK', 'USD'], 'EUR')).to.equal(true)
    expect(canPayIn([account('USD', 'A')], ['USD', 'EUR'], 'EUR')).to.equal(false)
    expect(canPayIn([], [], 'EUR')).to.equal(true)
  })
})
