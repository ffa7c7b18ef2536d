import { expect } from 'chai'
import type { Asked } from '#core/consent/consent.ts'
import { ableOf, type AskedPerson, stallOf, stillTheirs } from '#core/consent/stalled.ts'

const person = (personId: string): Asked => ({ kind: 'person', personId, right: 'requisition.decide' })
const known = (id: string, changed: Partial<AskedPerson> = {}): AskedPerson => ({
  id,
  active: true,
  rights: ['requisition.decide'],
  missing: false,
  ...changed,
})
const people = (...some: readonly AskedPerson[]) => new Map(some.map(one => [one.id, one]))
const NOW = '2026-06-02T08:00:00.000Z'

describe('a decision stands still', () => {
  const stall = (asked: readonly Asked[], some: readonly AskedPerson[], dueAt: string | null = null) =>
    stallOf({ state: 'open', asked }, people(...some), dueAt, NOW)

  it('while its only person is gone, without the right, or away', () => {
    const orla = [person('orla')]
    expect(stall(orla, [known('orla')])).to.equal(null)
    expect(stall(orla, [])).to.equal('closed')
    expect(stall(orla, [known('orla', { active: false })])).to.equal('closed')
    expect(stall(orla, [known('orla', { rights: [] })])).to.equal('right')
    expect(stall(orla, [known('orla', { missing: true })])).to.equal('away')
    expect(stall([{ kind: 'person', personId: 'orla' }], [known('orla', { rights: [] })])).to.equal(null)
  })

  it('where it waits on nobody, never where any one with a right decides', () => {
    expect(stall([], [])).to.equal('nobody')
    expect(stall([{ kind: 'right', right: 'payment.approve', costCentre: null }], [])).to.equal(null)
  })

  it('past its time, counted from its very end', () => {
    const marit = [known('marit')]
    expect(stall([person('marit')], marit, '2026-06-02T08:00:00.001Z')).to.equal(null)
    expect(stall([person('marit')], marit, NOW)).to.equal('late')
    expect(stallOf({ state: 'later', asked: [person('marit')] }, people(...marit), NOW, NOW)).to.equal(null)
  })

  it('above the limits of whoever it asks, unless something nearer keeps them from it', () => {
    const of = (some: readonly AskedPerson[], dueAt: string | null = null) =>
      stallOf({ state: 'open', asked: [person('marit')], beyond: true }, people(...some), dueAt, NOW)
    expect(of([known('marit')])).to.equal('limit')
    expect(of([known('marit')], NOW)).to.equal('limit')
    expect(of([known('marit', { missing: true })])).to.equal('limit')
    expect(of([known('marit', { active: false })])).to.equal('closed')
  })

  it('not while one of a group can decide; else the one who is nearest to it says why', () => {
    const both = [person('orla'), person('marit')]
    expect(stall(both, [known('orla', { active: false }), known('marit')])).to.equal(null)
    expect(stall(both, [known('orla', { active: false }), known('marit', { missing: true })])).to.equal('away')
    expect(stall(both, [known('orla', { active: false }), known('marit', { rights: [] })])).to.equal('right')
  })

  it('with those who could still decide it, who are away or late', () => {
    expect((['nobody', 'closed', 'right', 'away', 'late'] as const).filter(stillTheirs)).to.deep.equal(['away', 'late'])
    const some = people(known('a', { missing: true }), known('b', { active: false }), known('c'))
    expect(ableOf({ asked: [person('a'), person('b'), person('c')] }, some)).to.deep.equal(['a', 'c'])
  })
})
