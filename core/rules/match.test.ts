import { expect } from 'chai'
import fc from 'fast-check'
import { minor } from '#core/money/amount.ts'
import { type DecidedDocument, RULE_FACT_KEYS, RULE_FACTS } from '#core/rules/facts.ts'
import { compileRules, evidenceOf, matchRules } from '#core/rules/match.ts'
import type { Condition, Rule } from '#core/rules/rule.ts'
import { asks, document, forbids, line, rule } from '#test-helpers/rules.ts'

const pumps = line(
  '1',
  { 'LS-210': 60_000, 'EX-310': 40_000 },
  { category: ['Pumps', 'Water technology'], supplier: 'S-1' },
)
const salt = line('2', { 'AC-110': 30_000 }, { category: ['Salt'], supplier: 'S-2', supplierState: 'paused' })
const both = document([pumps, salt], 'joren', { requester: 'joren', requesterRole: ['requester', 'lead'] })

const matched = (one: Rule, of: DecidedDocument = both) =>
  matchRules(compileRules([one]), of).map(
    match => `${match.lineIds?.join('+') ?? 'all'} ${match.costCentres.join('+')} ${match.measured}`,
  )
const when = (...conditions: Condition[]): Partial<Rule> => ({ conditions })

describe('rules that apply', () => {
  it('ask for what a document is: any value of a list, a range, or none of them', () => {
    expect(matched(rule('r'))).to.deep.equal(['all LS-210+EX-310+AC-110 130000'])
    expect(matched(rule('r', when(asks('requester', 'ines', 'joren'))))).to.have.length(1)
    expect(matched(rule('r', when(asks('requester', 'ines'))))).to.deep.equal([])
    expect(matched(rule('r', when(asks('requesterRole', 'lead'))))).to.have.length(1)
    expect(matched(rule('r', when(forbids('requesterRole', 'lead'))))).to.deep.equal([])
    expect(matched(rule('r', when(forbids('requester', 'ines'))))).to.have.length(1)
    expect(matched(rule('r', when(asks('costCentre', { from: 'LS-200', to: 'LS-299' }))))).to.deep.equal([
      '1 LS-210 130000',
    ])
    expect(matched(rule('r', when(asks('costCentre', { from: 'LS-210', to: 'LS-210' }))))).to.have.length(1)
    expect(matched(rule('r', when(asks('costCentre', { from: 'LS-211', to: 'LS-299' }))))).to.deep.equal([])
    expect(matched(rule('r', when(asks('costCentre', 'ZZ', { from: 'AC', to: 'AD' }))))).to.deep.equal([
      '2 AC-110 130000',
    ])
  })

  it('count a category with everything below it', () => {
    expect(matched(rule('r', when(asks('category', 'Water technology'))))).to.deep.equal(['1 LS-210+EX-310 130000'])
  })

  it('hold on one and the same line, and on one and the same part of it', () => {
    expect(matched(rule('r', when(asks('category', 'Pumps'), asks('supplierState', 'paused'))))).to.deep.equal([])
    expect(matched(rule('r', when(asks('category', 'Salt'), asks('supplierState', 'paused'))))).to.deep.equal([
      '2 AC-110 130000',
    ])
    expect(matched(rule('r', when(asks('costCentre', 'AC-110'), asks('category', 'Pumps'))))).to.deep.equal([])
    expect(matched(rule('r', when(asks('costCentre', 'EX-310'), asks('category', 'Pumps'))))).to.deep.equal([
      '1 EX-310 130000',
    ])
  })

  it('a fact that is not known is none of any values', () => {
    expect(matched(rule('r', when(asks('project', 'KELP'))))).to.deep.equal([])
    expect(matched(rule('r', when(forbids('project', 'KELP'))))).to.have.length(1)
    expect(matched(rule('r', when(forbids('supplierState', 'paused'))))).to.deep.equal(['1 LS-210+EX-310 130000'])
  })

  it('measure the whole document, the lines that match, or each cost centre’s part of them', () => {
    const pumpsOnly = when(asks('category', 'Pumps'))
    expect(matched(rule('r', { ...pumpsOnly, measure: 'lines' }))).to.deep.equal(['1 LS-210+EX-310 100000'])
    expect(matched(rule('r', { ...when(asks('costCentre', 'EX-310')), measure: 'lines' }))).to.deep.equal([
      '1 EX-310 100000',
    ])
    expect(matched(rule('r', { ...pumpsOnly, measure: 'costCentre' }))).to.deep.equal([
      '1 LS-210 60000',
      '1 EX-310 40000',
    ])
    expect(matched(rule('r', { measure: 'costCentre', from: minor(40_000) }))).to.deep.equal([
      '1 LS-210 60000',
      '1 EX-310 40000',
    ])
  })

  it('include where a band begins and not where it ends', () => {
    const band = (from: number, below: number | null): number =>
      matched(rule('r', { from: minor(from), below: below === null ? null : minor(below) })).length
    expect([band(130_000, null), band(130_001, null), band(0, 130_000), band(0, 130_001)]).to.deep.equal([1, 0, 0, 1])
  })

  it('are of a kind of document', () => {
    expect(matched(rule('r', { kinds: ['run'] }))).to.deep.equal([])
    expect(matched(rule('r', { kinds: ['run', 'requisition'] }))).to.have.length(1)
    expect(matchRules(compileRules([rule('r')]), { ...both, kind: 'award' })).to.deep.equal([])
  })

  it('say which facts made them apply', () => {
    const one = rule(
      'r',
      when(asks('category', 'Pumps', 'Salt'), forbids('supplier', 'S-2'), asks('requesterRole', 'lead')),
    )
    const [match] = matchRules(compileRules([one]), both)
    expect(evidenceOf(match!, both)).to.deep.equal([
      { fact: 'category', not: false, values: ['Pumps'] },
      { fact: 'supplier', not: true, values: ['S-1'] },
      { fact: 'requesterRole', not: false, values: ['lead'] },
    ])
  })
})

describe('rules made ready', () => {
  const value = fc.constantFrom('A', 'B', 'C', 'D')
  const conditions = fc.array(
    fc.record({
      fact: fc.constantFrom(...RULE_FACT_KEYS),
      not: fc.boolean(),
      values: fc.array(
        fc.oneof(
          value,
          fc.tuple(value, value).map(([from, to]) => ({ from, to })),
        ),
        { minLength: 1, maxLength: 3 },
      ),
    }),
    { maxLength: 3 },
  )
  const facts = (level: string) =>
    fc.record(
      Object.fromEntries(
        RULE_FACT_KEYS.filter(fact => RULE_FACTS[fact] === level).map(fact => [
          fact,
          fc.oneof(value, fc.uniqueArray(value, { maxLength: 2 })),
        ]),
      ),
      { requiredKeys: [] },
    )
  const part = fc
    .tuple(fc.integer({ min: 0, max: 1000 }), facts('part'))
    .map(([amount, of]) => ({ amount: minor(amount), facts: of }))
  const lines = fc.array(fc.tuple(facts('line'), fc.array(part, { minLength: 1, maxLength: 2 })), { maxLength: 3 })

  /** The same question asked plainly: every rule, every part, one condition after the other. */
  const plainly = (one: Rule, of: DecidedDocument): boolean => {
    const holds = (bag: object, { fact, not, values }: Condition): boolean => {
      const known = [(bag as Record<string, string | string[] | undefined>)[fact] ?? []].flat()
      return (
        known.some(text => values.some(v => (typeof v === 'string' ? v === text : v.from <= text && text <= v.to))) !==
        not
      )
    }
    const of_ = (level: string): Condition[] => one.conditions.filter(c => RULE_FACTS[c.fact] === level)
    if (!of_('document').every(c => holds(of.facts, c))) return false
    if (of_('line').length + of_('part').length === 0) return true
    return of.lines.some(
      l => of_('line').every(c => holds(l.facts, c)) && l.parts.some(p => of_('part').every(c => holds(p.facts, c))),
    )
  }

  it('find exactly those that apply, whatever they are filed under', () => {
    let found = 0
    fc.assert(
      fc.property(fc.array(conditions, { minLength: 1, maxLength: 6 }), lines, facts('document'), (all, made, head) => {
        const rules = all.map((one, index) => rule(`r${index}`, { conditions: one }))
        const of = document(
          made.map(([own, parts], index) => ({ id: String(index), facts: own, parts })),
          'joren',
          head,
        )
        const ids = matchRules(compileRules(rules), of).map(match => match.rule.id)
        found += ids.length
        expect(ids).to.deep.equal(rules.filter(one => plainly(one, of)).map(one => one.id))
      }),
      { numRuns: 400, seed: 12 },
    )
    expect(found).to.be.above(200)
  })
})
