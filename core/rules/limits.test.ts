import { expect } from 'chai'
import { minor } from '#core/money/amount.ts'
import { isBeyond, type LimitedStep, loosened } from '#core/rules/limits.ts'

describe('limits', () => {
  it('give more power where one rises or goes, none where one falls, comes or stays', () => {
    const before = { requisition: minor(100), run: minor(100), award: minor(100), transfer: minor(100) }
    const after = { requisition: minor(101), run: minor(100), award: minor(99), onboarding: minor(1) }
    expect(loosened(before, after)).to.deep.equal(['requisition', 'transfer'])
    expect(loosened({}, before)).to.deep.equal([])
  })
})

describe('a step above the limits of those whom it asks', () => {
  const limits: Readonly<Record<string, bigint>> = { marit: 1000n, tomas: 500n }
  const limitOf = (id: string) => (limits[id] === undefined ? undefined : minor(limits[id]))
  const step = (personIds: string[], measured: bigint | null, changed: Partial<LimitedStep> = {}): LimitedStep => ({
    state: 'open',
    personIds,
    rules: [{ name: 'Holder', costCentre: 'LS-210', measured: measured === null ? null : minor(measured) }],
    ...changed,
  })
  const beyond = (first: LimitedStep, ...others: LimitedStep[]): boolean => isBeyond(first, [first, ...others], limitOf)

  it('is one whose amount is more than any of them decides; exactly as much is not', () => {
    expect(beyond(step(['marit'], 1000n))).to.equal(false)
    expect(beyond(step(['marit'], 1001n))).to.equal(true)
    expect(beyond(step(['tomas', 'marit'], 1000n))).to.equal(false)
    expect(beyond(step(['henrik'], 10n ** 12n))).to.equal(false)
    expect(beyond(step(['marit'], null))).to.equal(false)
    expect(beyond({ ...step(['marit'], 1001n), rules: [] })).to.equal(false)
  })

  it('is none while somebody with enough decides for the same rule, or has', () => {
    const first = step(['marit'], 5000n)
    for (const state of ['open', 'later', 'approved'] as const)
      expect(beyond(first, step(['henrik'], 5000n, { state })), state).to.equal(false)
    for (const state of ['rejected', 'skipped', 'dropped', 'returned'] as const)
      expect(beyond(first, step(['henrik'], 5000n, { state })), state).to.equal(true)
    const other = (rule: Partial<LimitedStep['rules'][number]>): LimitedStep => {
      const same = step(['henrik'], 5000n)
      return { ...same, rules: [{ ...same.rules[0]!, ...rule }] }
    }
    expect(beyond(first, other({ name: 'Finance' }))).to.equal(true)
    expect(beyond(first, other({ costCentre: 'AC-110' }))).to.equal(true)
    expect(beyond(first, step(['tomas'], 5000n))).to.equal(true)
  })
})
