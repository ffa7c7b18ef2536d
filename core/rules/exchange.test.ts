import { expect } from 'chai'
import fc from 'fast-check'
import { type Minor, minor } from '#core/money/amount.ts'
import {
  readAsks,
  readRule,
  readWhen,
  RULE_COLUMNS,
  type RuleCells,
  ruleCells,
  type RuleReading,
  whenText,
} from '#core/rules/exchange.ts'
import { RULE_FACT_KEYS } from '#core/rules/facts.ts'
import type { Condition, Rule } from '#core/rules/rule.ts'
import { asks, forbids, rule } from '#test-helpers/rules.ts'

const mailOf = (id: string): string => `${id}@example`
const reading: RuleReading = {
  id: 'r',
  personOf: mail => (/^(marit|tomas)@example$/.test(mail) ? mail.split('@')[0] : undefined),
  readAmount: (text): Minor | undefined => (/^\d+$/.test(text) ? minor(BigInt(text)) : undefined),
}
const cells = (changed: Partial<RuleCells> = {}): RuleCells => ({
  ...(Object.fromEntries(RULE_COLUMNS.map(column => [column, ''])) as RuleCells),
  name: 'Holder',
  stage: '1',
  asks: 'holder',
  ...changed,
})
const faults = (changed: Partial<RuleCells>): string[] => {
  const read = readRule(cells(changed), reading)
  return 'faults' in read ? read.faults.map(fault => `${fault.code} ${fault.place}`) : []
}

describe('rules in a file', () => {
  it('have their conditions as text', () => {
    expect(
      whenText([asks('category', 'Pumps', 'Salt'), forbids('costCentre', 'A-1', { from: 'B-1', to: 'B-9' })]),
    ).to.equal('category=Pumps|Salt; costCentre!=A-1|B-1..B-9')
    expect(readWhen('category = Pumps | Salt;costCentre != A-1|B-1 .. B-9')).to.deep.equal([
      asks('category', 'Pumps', 'Salt'),
      forbids('costCentre', 'A-1', { from: 'B-1', to: 'B-9' }),
    ])
    expect(readWhen(' ')).to.deep.equal([])
    for (const text of [
      'colour=red',
      'category',
      'category=',
      'category=a|',
      'category=a=b',
      'category=a..',
      'category=a..b..c',
      ';',
    ])
      expect(readWhen(text), text).to.equal(undefined)
  })

  it('come back as they went, whatever stands in their values', () => {
    const value = fc.string({ unit: fc.constantFrom('a', 'B', ' ', '|', ';', '=', '!', '.', '..', '\\', 'ö'), minLength: 1, maxLength: 6 }).map(text => `x${text}x`) // prettier-ignore
    const conditions: fc.Arbitrary<Condition[]> = fc.array(
      fc.record({
        fact: fc.constantFrom(...RULE_FACT_KEYS),
        not: fc.boolean(),
        values: fc.array(fc.oneof(value, fc.record({ from: value, to: value })), { minLength: 1, maxLength: 3 }),
      }),
      { maxLength: 3 },
    )
    fc.assert(
      fc.property(conditions, all => void expect(readWhen(whenText(all))).to.deep.equal(all)),
      { numRuns: 500, seed: 4 },
    )
  })

  it('come back whole', () => {
    const all: Rule[] = [
      rule('r', {
        below: minor(500),
        hours: 8,
        note: 'Because.',
        scope: 'lines',
        need: 'all',
        measure: 'lines',
        stage: 3,
        kinds: ['run', 'award'],
      }),
      rule('r', {
        who: { kind: 'people', personIds: ['marit', 'tomas'] },
        conditions: [asks('requester', 'tomas'), asks('item', 'X')],
      }),
      rule('r', { who: { kind: 'role', role: 'lead', inCentre: true } }),
      rule('r', { who: { kind: 'role', role: 'lead', inCentre: false } }),
      rule('r', { who: { kind: 'chain', levels: 3 } }),
    ]
    for (const one of all) expect(readRule(ruleCells(one, mailOf, String), reading)).to.deep.equal({ rule: one })
  })

  it('need no more than a name, a stage and whom they ask', () => {
    expect(readRule(cells(), reading)).to.deep.equal({ rule: rule('r', { name: 'Holder' }) })
  })

  it('say of each cell that it cannot be read', () => {
    expect(faults({ name: ' ' })).to.deep.equal(['rule.cell name'])
    expect(faults({ for: 'requisition|party' })).to.deep.equal(['rule.cell for'])
    expect(faults({ when: 'colour=red' })).to.deep.equal(['rule.cell when'])
    expect(faults({ when: 'requester=nobody@example' })).to.deep.equal(['rule.cell when'])
    expect(faults({ when: 'requester=a..b' })).to.deep.equal(['rule.cell when'])
    expect(faults({ measure: 'all' })).to.deep.equal(['rule.cell measure'])
    expect(faults({ from: 'much', below: 'more' })).to.deep.equal(['rule.cell from', 'rule.cell below'])
    expect(faults({ stage: '' })).to.deep.equal(['rule.cell stage'])
    expect(faults({ stage: '1.5', hours: '-3' })).to.deep.equal(['rule.cell stage', 'rule.cell hours'])
    expect(faults({ need: 'most', decides: 'half' })).to.deep.equal(['rule.cell need', 'rule.cell decides'])
  })

  it('name whom they ask', () => {
    const read = (text: string) => readAsks(text, reading.personOf)
    expect(read('people: marit@example | tomas@example')).to.deep.equal({
      kind: 'people',
      personIds: ['marit', 'tomas'],
    })
    for (const text of [
      '',
      'holder:x',
      'chain',
      'chain:0',
      'chain:10',
      'role',
      'role:@centre',
      'people:',
      'people:nobody@example',
      'somebody',
    ])
      expect(read(text), text).to.equal(undefined)
  })
})
