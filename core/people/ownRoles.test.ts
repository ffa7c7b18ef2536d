import { expect } from 'chai'
import { rightsAdded, whyNotDropRole, whyNotRole } from '#core/people/ownRoles.ts'

describe('a role', () => {
  const facts = {
    nameTaken: false,
    known: new Set(['order.read', 'order.write', 'setup.write']),
    stewardsAfter: 2,
    stillSteward: true,
  }
  const entry = { name: 'Dock lead', permissions: ['order.read'] }
  const why = (changed: object, other: object = {}): string[] =>
    whyNotRole({ ...entry, ...changed }, { ...facts, ...other }).map(reason => `${reason.code} @${reason.place}`)

  it('has a name of its own and allows what there is to allow', () => {
    expect(why({})).to.deep.equal([])
    expect(why({ permissions: [] })).to.deep.equal([])
    for (const name of ['', 'D', ' ', 'x'.repeat(41), '1st', 'supplierBoss'])
      expect(why({ name })).to.deep.equal(['role.name @name'])
    expect(why({ name: 'x'.repeat(40) })).to.deep.equal([])
    expect(why({ name: 'Ab' })).to.deep.equal([])
    expect(why({ permissions: ['order.read', 'order.burn'] })).to.deep.equal(['role.right @permissions'])
    expect(why({}, { nameTaken: true })).to.deep.equal(['role.there @name'])
  })

  it('never leaves nobody who can change Setup, and is not taken from oneself', () => {
    expect(why({}, { stewardsAfter: 0, stillSteward: false })).to.deep.equal(['role.nobodyLeft @permissions'])
    expect(why({}, { stewardsAfter: 1, stillSteward: false })).to.deep.equal(['person.ownStewardship @permissions'])
    expect(why({}, { stewardsAfter: 1 })).to.deep.equal([])
  })

  it('that gains power over money says which', () => {
    expect(
      rightsAdded(['order.read'], ['order.read', 'order.write', 'payment.approve', 'catalogue.read']),
    ).to.deep.equal(['order.write', 'payment.approve'])
    expect(rightsAdded(['order.write'], ['order.write'])).to.deep.equal([])
    expect(rightsAdded(['order.write'], [])).to.deep.equal([])
  })

  it('is taken out only where it is our own and nobody has it', () => {
    const free = { own: true, holders: 0, named: false }
    expect(whyNotDropRole(free)).to.deep.equal([])
    expect(whyNotDropRole({ ...free, named: true }).map(one => one.code)).to.deep.equal(['role.asked'])
    expect(whyNotDropRole({ ...free, holders: 3 })[0]).to.deep.include({ code: 'role.used', details: { count: 3 } })
    expect(whyNotDropRole({ ...free, own: false }).map(one => one.code)).to.deep.equal(['role.stays'])
  })
})
