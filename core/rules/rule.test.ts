import { expect } from 'chai'
import { minor } from '#core/money/amount.ts'
import { type Rule, ruleFaults } from '#core/rules/rule.ts'
import { asks, forbids, rule } from '#test-helpers/rules.ts'

const KNOWN = { people: new Set(['marit']), roles: new Set(['finance']) }
const faults = (changed: Partial<Rule>): string[] =>
  ruleFaults(rule('r', changed), KNOWN).map(fault => `${fault.code} ${fault.place}`)

describe('a rule by itself', () => {
  it('has a name, something that it is for, a band, a stage and a time that can be', () => {
    expect(faults({})).to.deep.equal([])
    expect(faults({ name: ' ' })).to.deep.equal(['rule.noName r.name'])
    expect(faults({ kinds: [] })).to.deep.equal(['rule.noKind r.kinds'])
    expect(faults({ from: minor(5), below: minor(5) })).to.deep.equal(['rule.band r.below'])
    expect(faults({ from: minor(5), below: minor(6) })).to.deep.equal([])
    expect(faults({ from: minor(-1) })).to.deep.equal(['rule.band r.below'])
    expect([faults({ stage: 0 }), faults({ stage: 10 })].flat()).to.deep.equal([
      'rule.stage r.stage',
      'rule.stage r.stage',
    ])
    expect([faults({ stage: 1 }), faults({ stage: 9 })].flat()).to.deep.equal([])
    expect([faults({ hours: 0 }), faults({ hours: 1 })].flat()).to.deep.equal(['rule.hours r.hours'])
  })

  it('asks somebody who is there', () => {
    const who = (one: Rule['who']): string[] => faults({ who: one })
    expect(who({ kind: 'people', personIds: [] })).to.deep.equal(['rule.nobody r.who'])
    expect(who({ kind: 'people', personIds: ['marit', 'orla'] })).to.deep.equal(['rule.closedPerson r.who'])
    expect(who({ kind: 'people', personIds: ['marit'] })).to.deep.equal([])
    expect(who({ kind: 'role', role: 'empty', inCentre: false })).to.deep.equal(['rule.emptyRole r.who'])
    expect(who({ kind: 'role', role: 'finance', inCentre: false })).to.deep.equal([])
    expect([0, 1, 9, 10].map(levels => who({ kind: 'chain', levels }).length)).to.deep.equal([1, 0, 0, 1])
  })

  it('has conditions that can hold', () => {
    const when = (...conditions: Rule['conditions']): string[] => faults({ conditions })
    expect(when(asks('category'))).to.deep.equal(['rule.noValue r.conditions.0'])
    expect(when(asks('account', 'X'), asks('costCentre', { from: 'B', to: 'A' }))).to.deep.equal([
      'rule.range r.conditions.1',
    ])
    expect(when(asks('costCentre', { from: 'A', to: 'A' }))).to.deep.equal([])
    expect(when(asks('overBudget', 'no'))).to.deep.equal(['rule.yesNo r.conditions.0'])
    expect(when(asks('overBudget', 'yes'))).to.deep.equal([])
  })

  it('does not ask for what it forbids, nor for two values of a fact that has one', () => {
    const when = (...conditions: Rule['conditions']): string[] => faults({ conditions })
    const contradicts = ['rule.contradicts r.conditions']
    expect(when(asks('costCentre', 'A'), forbids('costCentre', 'A', 'B'))).to.deep.equal(contradicts)
    expect(when(forbids('costCentre', { from: 'A', to: 'C' }), asks('costCentre', 'B'))).to.deep.equal(contradicts)
    for (const edge of ['A', 'C'])
      expect(when(forbids('costCentre', { from: 'A', to: 'C' }), asks('costCentre', edge))).to.deep.equal(contradicts)
    expect(when(forbids('costCentre', { from: 'A', to: 'C' }), asks('costCentre', 'D'))).to.deep.equal([])
    expect(when(asks('costCentre', 'A'), asks('costCentre', 'B'))).to.deep.equal(contradicts)
    expect(when(asks('costCentre', 'A', 'B'), asks('costCentre', 'B', 'C'))).to.deep.equal([])
    expect(when(asks('costCentre', 'A', 'B'), forbids('costCentre', 'B'))).to.deep.equal([])
    expect(when(forbids('costCentre', 'A'), forbids('costCentre', 'B'))).to.deep.equal([])
    expect(when(asks('requesterRole', 'a'), asks('requesterRole', 'b'))).to.deep.equal([])
    expect(when(asks('costCentre', 'A'), asks('account', 'B'))).to.deep.equal([])
    expect(when(asks('costCentre', { from: 'A', to: 'B' }), asks('costCentre', 'C'))).to.deep.equal([])
  })
})
