import { expect } from 'chai'
import fc from 'fast-check'
import { whyNotPassword } from '#core/people/password.ts'
import { addedPower, howToGive } from '#core/people/roles.ts'
import { FORGOTTEN_AFTER, FREE_TRIES, waitAfter } from '#core/people/signInDelay.ts'

const INES = { name: 'Ines Okafor', email: 'ines.okafor@house.example' }
const COMMON = new Set(['qwertyuiop123', 'passwordpassword'])
const codes = (password: string): string[] => whyNotPassword(password, INES, COMMON).map(reason => reason.code)

describe('passwords', () => {
  it('have twelve letters at least and 128 at most, whatever letters', () => {
    expect(codes('kelp-and-sea')).to.deep.equal([])
    expect(codes('kelp-and-se')).to.deep.equal(['password.short'])
    expect(codes('🐟🐠🐡🦈🐙🦀🦞🦐🦑🐚🪸🐋')).to.deep.equal([])
    expect(codes('kelp '.repeat(25) + 'abc')).to.deep.equal([])
    expect(codes('kelp '.repeat(25) + 'abcd')).to.deep.equal(['password.long'])
    expect(whyNotPassword('krill', INES, COMMON)[0]).to.deep.include({ place: 'password', details: { least: 12 } })
  })

  it('are no blanks, no one letter again and again, and not what many people use', () => {
    expect(codes('             ')).to.deep.equal(['password.blank'])
    expect(codes('aaaaaaaaaaaaaaa')).to.deep.equal(['password.common'])
    expect(codes('abcabcabcabcabc')).to.deep.equal(['password.common'])
    expect(codes('abcdabcdabcdabcd')).to.deep.equal([])
    expect(codes('QwertyUiop 123')).to.deep.equal(['password.common'])
    expect(codes('Password-Password')).to.deep.equal(['password.common'])
  })

  it('are not made of the owner’s name or address alone', () => {
    expect(codes('ines.okafor@house.example')).to.deep.equal(['password.own'])
    expect(codes('Ines Okafor 2026')).to.deep.equal(['password.own'])
    expect(codes('okafor-ines-2026')).to.deep.equal([])
    expect(codes('Ines Okafor eel')).to.deep.equal(['password.own'])
    expect(codes('Ines Okafor eels')).to.deep.equal([])
    expect(codes('Ines Okafor feeds the jellies')).to.deep.equal([])
  })
})

describe('waiting after wrong tries', () => {
  it('begins when the free ones are used up, doubles, and has an end', () => {
    const waits = [0, 1, 5, 6, 7, 8, 9, 10, 11, 12, 13, 1000].map(failures => waitAfter(failures, FREE_TRIES.account))
    expect(waits).to.deep.equal([0, 0, 0, 15, 30, 60, 120, 240, 480, 900, 900, 900])
    expect(waitAfter(30, FREE_TRIES.network)).to.equal(0)
    expect(waitAfter(31, FREE_TRIES.network)).to.equal(15)
    expect(FORGOTTEN_AFTER, 'a day').to.equal(86_400)
  })

  it('never gets shorter', () => {
    fc.assert(
      fc.property(fc.nat(5000), fc.nat(50), (failures, free) => {
        expect(waitAfter(failures + 1, free)).to.be.at.least(waitAfter(failures, free))
      }),
    )
  })
})

describe('power over money', () => {
  const RIGHTS = new Map([
    ['requester', ['catalogue.read']],
    ['treasurer', ['payment.read', 'payment.approve']],
    ['budgetHolder', ['requisition.decide']],
  ])
  const role = (name: string, costCentre: string | null = null) => ({ role: name, costCentre })
  const account = (...roles: ReturnType<typeof role>[]) => ({ active: true, roles })
  const power = (before: ReturnType<typeof account>, after: ReturnType<typeof account>): string[] =>
    addedPower(before, after, RIGHTS).map(one => `${one.role} ${one.costCentre ?? 'all'}`)

  it('is added by a role that decides over money, and by one for another cost centre', () => {
    expect(power(account(), account(role('requester')))).to.deep.equal([])
    expect(power(account(), account(role('treasurer'), role('requester')))).to.deep.equal(['treasurer all'])
    expect(power(account(role('treasurer')), account(role('treasurer')))).to.deep.equal([])
    expect(
      power(account(role('budgetHolder', 'A')), account(role('budgetHolder', 'A'), role('budgetHolder', 'B'))),
    ).to.deep.equal(['budgetHolder B'])
    expect(power(account(role('treasurer')), account())).to.deep.equal([])
  })

  it('is added by opening an account that has it, and never by closing one', () => {
    const closed = { active: false, roles: [role('treasurer')] }
    expect(addedPower(closed, { ...closed, active: true }, RIGHTS)).to.have.length(1)
    expect(
      addedPower(
        { ...closed, active: true },
        { active: false, roles: [role('treasurer'), role('budgetHolder')] },
        RIGHTS,
      ),
    ).to.deep.equal([])
  })

  it('takes a second person where one is there, and is never given to oneself', () => {
    const some = [role('treasurer')]
    expect(howToGive([], 'wren', 'wren', ['orla'])).to.deep.equal({ how: 'atOnce' })
    expect(howToGive(some, 'ines', 'wren', ['wren', 'orla'])).to.deep.equal({ how: 'secondPerson' })
    expect(howToGive(some, 'ines', 'wren', ['wren'])).to.deep.equal({ how: 'atOnce' })
    expect(howToGive(some, 'ines', 'wren', ['wren', 'ines'])).to.deep.equal({ how: 'atOnce' })
    expect(howToGive(some, null, 'wren', ['orla'])).to.deep.equal({ how: 'secondPerson' })
    const own = howToGive(some, 'wren', 'wren', ['orla'])
    expect(own.how === 'never' && own.reasons.map(reason => reason.code)).to.deep.equal(['person.ownPower'])
  })
})
