import { expect } from 'chai'
import { minor } from '#core/money/amount.ts'
import { compileRules } from '#core/rules/match.ts'
import { tryRules } from '#core/rules/tryRules.ts'
import { asks, document, line, rule, world } from '#test-helpers/rules.ts'

const small = { id: 'small', document: document([line('1', { 'LS-210': 100 })]) }
const large = { id: 'large', document: document([line('1', { 'AC-110': 90_000 })]) }
const holder = rule('holder')
const finance = rule('finance', { who: { kind: 'people', personIds: ['adaeze'] }, stage: 2, from: minor(50_000) })
const tried = (before: (typeof holder)[], after: (typeof holder)[]) =>
  tryRules([small, large], compileRules(before), compileRules(after), world())

describe('a draft of rules, tried on the past', () => {
  it('shows what would have gone elsewhere, and how many more decisions each person would take', () => {
    const trial = tried([holder], [holder, finance])
    expect(trial.tried).to.equal(2)
    expect(trial.others).to.deep.equal([{ id: 'large', before: [['tomas']], after: [['tomas'], ['adaeze']] }])
    expect(trial.people).to.deep.equal([
      { personId: 'adaeze', before: 0, after: 1 },
      { personId: 'marit', before: 1, after: 1 },
      { personId: 'tomas', before: 1, after: 1 },
    ])
    expect([trial.undecided, trial.stuck, trial.overlaps, trial.idle]).to.deep.equal([[], [], [], []])
  })

  it('shows what nobody would decide, and where a rule finds nobody', () => {
    const trial = tried([holder], [rule('holder', { from: minor(1000) }), rule('ghost', { who: { kind: 'role', role: 'ghost', inCentre: false }, from: minor(50_000) })]) // prettier-ignore
    expect(trial.undecided).to.deep.equal(['small'])
    expect(trial.stuck).to.deep.equal([{ id: 'large', rule: 'ghost', code: 'decide.nobody' }])
    expect(trial.idle).to.deep.equal(['ghost'])
  })

  it('does not call a choice that is still open stuck', () => {
    const choose = rule('choose', { who: { kind: 'people', personIds: ['adaeze', 'tomas'] }, need: 'choose' })
    expect(tried([holder], [choose])).to.deep.include({ stuck: [], undecided: [] })
  })

  it('shows rules that ask for one decision together, and rules that nothing meets', () => {
    const again = rule('again', { who: { kind: 'people', personIds: ['tomas'] }, from: minor(50_000) })
    const never = rule('never', { conditions: [asks('category', 'Moon rock')] })
    const elsewhere = rule('about bills only', { kinds: ['billDifference'] })
    const trial = tried([holder], [holder, again, never, elsewhere])
    expect(trial.overlaps).to.deep.equal([{ rules: ['again', 'holder'], documents: 1 }])
    expect(trial.idle).to.deep.equal(['never'])
    expect(trial.others).to.deep.equal([])
  })
})
