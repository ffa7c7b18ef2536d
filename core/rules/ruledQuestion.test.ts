import { expect } from 'chai'
import { secondYes } from '#core/consent/consent.ts'
import { stop } from '#core/reasons.ts'
import type { Path } from '#core/rules/path.ts'
import { ruledQuestion } from '#core/rules/ruledQuestion.ts'
import { pathStep } from '#test-helpers/requisition.ts'

const standing = secondYes({ purpose: 'run', documentKind: 'paymentRun', documentId: 'p1', reason: '' }, 'payment.approve', ['ulla']) // prettier-ignore
const path = (changed: Partial<Path> = {}): Path => ({ steps: [], leftOut: [], choices: [], reasons: [], ...changed })

describe('the question about a document that rules may decide', () => {
  it('is the one of the house where no rule applies', () => {
    expect(ruledQuestion(standing, path(), 'payment.approve')).to.deep.equal({ ok: true, question: standing, from: [] })
  })

  it('asks whom the rules ask, turn by turn, by name and with the right, never who asked', () => {
    const steps = [pathStep(1, 'tomas', 'ulla'), pathStep(3, 'wren')]
    const ruled = ruledQuestion(standing, path({ steps }), 'payment.approve')
    expect(ruled.ok && ruled.question.steps).to.deep.equal([
      { stage: 1, asked: [{ kind: 'person', personId: 'tomas', right: 'payment.approve' }], notBy: ['ulla'], label: 'Rule 1' }, // prettier-ignore
      { stage: 2, asked: [{ kind: 'person', personId: 'wren', right: 'payment.approve' }], notBy: ['ulla'], label: 'Rule 3' }, // prettier-ignore
    ])
    expect(ruled.ok && ruled.from).to.equal(steps)
    expect(ruled.ok && ruled.question).to.deep.include({ purpose: 'run', documentId: 'p1' })
  })

  it('stops where a rule finds nobody, or only who may not', () => {
    const nobody = ruledQuestion(standing, path({ reasons: [stop('decide.nobody')] }), 'x')
    expect(!nobody.ok && nobody.reasons.map(one => one.code)).to.deep.equal(['decide.nobody'])
    const own = ruledQuestion(standing, path({ steps: [pathStep(1, 'wren'), pathStep(2, 'ulla')] }), 'x')
    expect(!own.ok && own.reasons).to.deep.equal([stop('decide.ruleAsksOwn', { rule: 'Rule 2' }, { clearedBy: ['steward'] })]) // prettier-ignore
  })
})
