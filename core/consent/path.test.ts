import { expect } from 'chai'
import { type ApprovalRule, approvalPath, type PathInput, type Person } from '#core/consent/path.ts'
import { minor } from '#core/money/amount.ts'

const person = (id: string, managerId: string | null, roles: string[] = [], able = true): Person => ({
  id,
  name: id,
  able,
  managerId,
  roles,
})
const people = new Map(
  [
    person('henrik', null, ['director']),
    person('marit', 'henrik'),
    person('tomas', 'henrik'),
    person('adaeze', 'henrik', ['financeController']),
    person('joren', 'marit'),
    person('ines', 'tomas'),
    person('orla', 'henrik', [], false),
  ].map(one => [one.id, one]),
)
const rule = (id: string, changed: Partial<ApprovalRule> = {}): ApprovalRule => ({
  id,
  name: id,
  costCentres: [],
  fromAmount: minor(0),
  upTo: null,
  stage: 1,
  asked: { kind: 'holder' },
  ...changed,
})
const path = (rules: ApprovalRule[], amounts: Record<string, number>, requesterId = 'joren') => {
  const input: PathInput = {
    rules,
    requesterId,
    amounts: new Map(Object.entries(amounts).map(([centre, amount]) => [centre, minor(amount)])),
    holders: new Map([
      ['LS-210', 'marit'],
      ['EX-310', 'marit'],
      ['AC-110', 'tomas'],
    ]),
    people,
  }
  return approvalPath(input)
}
const who = (result: ReturnType<typeof path>): string[] => result.steps.map(step => `${step.stage} ${step.approverId}`)

describe('who decides', () => {
  const finance = rule('finance', {
    fromAmount: minor(1_000_000),
    stage: 2,
    asked: { kind: 'role', role: 'financeController' },
  })
  const director = rule('director', {
    fromAmount: minor(2_500_000),
    stage: 3,
    asked: { kind: 'person', personId: 'henrik' },
  })

  it('all rules that match apply, in order of stages', () => {
    expect(who(path([director, finance, rule('holder')], { 'LS-210': 3_000_000 }))).to.deep.equal([
      '1 marit',
      '2 adaeze',
      '3 henrik',
    ])
    expect(who(path([director, finance, rule('holder')], { 'LS-210': 999_999 }))).to.deep.equal(['1 marit'])
  })

  it('a band begins at its lower end and ends before its upper one', () => {
    const band = rule('band', {
      fromAmount: minor(100),
      upTo: minor(200),
      asked: { kind: 'person', personId: 'adaeze' },
    })
    expect(who(path([band], { 'LS-210': 99 }))).to.deep.equal([])
    expect(who(path([band], { 'LS-210': 100 }))).to.deep.equal(['1 adaeze'])
    expect(who(path([band], { 'LS-210': 200 }))).to.deep.equal([])
  })

  it('a rule for all centres is measured on the total, one for centres on each centre’s own amount', () => {
    const centre = rule('centre', {
      costCentres: ['AC-110'],
      fromAmount: minor(500),
      asked: { kind: 'person', personId: 'adaeze' },
    })
    const total = rule('total', { fromAmount: minor(500), asked: { kind: 'person', personId: 'henrik' } })
    expect(who(path([centre, total], { 'LS-210': 400, 'AC-110': 400 }))).to.deep.equal(['1 henrik'])
  })

  it('split lines ask each cost centre', () => {
    expect(who(path([rule('holder')], { 'LS-210': 10, 'AC-110': 10 })).sort()).to.deep.equal(['1 marit', '1 tomas'])
  })

  it('a person asked twice is asked once, at the latest stage', () => {
    const again = rule('again', { stage: 4, asked: { kind: 'person', personId: 'marit' } })
    expect(who(path([rule('holder'), again], { 'LS-210': 10, 'EX-310': 10 }))).to.deep.equal(['4 marit'])
  })

  it('nobody decides their own: the manager does', () => {
    const result = path([rule('holder')], { 'LS-210': 10 }, 'marit')
    expect(who(result)).to.deep.equal(['1 henrik'])
    expect(result.steps[0]!.because).to.equal('insteadOfRequester')
  })

  it('says so when there is no manager to ask instead', () => {
    const result = path([rule('own', { asked: { kind: 'person', personId: 'henrik' } })], { 'LS-210': 10 }, 'henrik')
    expect(result.steps).to.deep.equal([])
    expect(result.reasons.map(reason => reason.code)).to.deep.equal(['decide.ownAndNoManager'])
  })

  it('marks a step that waits for a closed account as stalled', () => {
    expect(
      path([rule('former', { asked: { kind: 'person', personId: 'orla' } })], { 'LS-210': 10 }).steps[0]!.stalled,
    ).to.equal(true)
  })

  it('stops when a rule finds nobody', () => {
    expect(path([rule('holder')], { 'XX-000': 10 }).reasons.map(reason => reason.code)).to.deep.equal(['decide.nobody'])
    expect(
      path([rule('role', { asked: { kind: 'role', role: 'nobody' } })], { 'LS-210': 10 }).reasons.map(
        reason => reason.code,
      ),
    ).to.deep.equal(['decide.nobody'])
  })
})
