import { expect } from 'chai'
import fc from 'fast-check'
import { minor } from '#core/money/amount.ts'
import { compileRules, matchRules } from '#core/rules/match.ts'
import { approvalPath, type Path, type PathChoices, type PathWorld, turnsOf } from '#core/rules/path.ts'
import type { Rule, Who } from '#core/rules/rule.ts'
import { asks, document, line, PEOPLE, person, rule, world } from '#test-helpers/rules.ts'

const people = (...personIds: string[]): Who => ({ kind: 'people', personIds })
const role = (name: string, inCentre = false): Who => ({ kind: 'role', role: name, inCentre })

interface Asked {
  readonly centres?: Readonly<Record<string, number>>
  readonly by?: string
  readonly in?: PathWorld
  readonly choices?: PathChoices
}
const pathOf = (
  rules: readonly Rule[],
  { centres = { 'LS-210': 50_000 }, by = 'joren', in: inside = world(), choices }: Asked = {},
): Path => approvalPath(compileRules(rules), document([line('1', centres)], by), inside, choices)
const who = (path: Path): string[] =>
  path.steps.map(
    step =>
      `${step.stage} ${step.approvers.map(one => one.personId).join('|')} ${step.rules.map(one => one.name).join('+')}`,
  )
const codes = (path: Path): string[] => path.reasons.map(reason => reason.code)
const why = (path: Path): string[] => path.leftOut.map(one => `${one.personId} ${one.rule} ${one.why}`)

describe('who decides', () => {
  it('is whoever every rule that applies asks, stage by stage', () => {
    const rules = [
      rule('director', { who: role('director'), stage: 3, from: minor(2_500_000) }),
      rule('finance', { who: people('adaeze'), stage: 2, from: minor(1_000_000) }),
      rule('holder', { measure: 'costCentre' }),
    ]
    expect(who(pathOf(rules, { centres: { 'LS-210': 999_999 } }))).to.deep.equal(['1 marit holder'])
    expect(who(pathOf(rules, { centres: { 'LS-210': 1_000_000 } }))).to.deep.equal([
      '1 marit holder',
      '2 adaeze finance',
    ])
    expect(who(pathOf(rules, { centres: { 'LS-210': 1_500_000, 'AC-110': 1_000_000 } }))).to.deep.equal([
      '1 tomas holder',
      '1 marit holder',
      '2 adaeze finance',
      '3 henrik director',
    ])
  })

  it('asks one of a group, or all of it', () => {
    expect(who(pathOf([rule('r', { who: role('finance') })]))).to.deep.equal(['1 adaeze|pilar r'])
    expect(who(pathOf([rule('r', { who: role('finance'), need: 'all' })]))).to.deep.equal(['1 adaeze r', '1 pilar r'])
  })

  it('asks a role in the cost centre, or everywhere where nobody has it there', () => {
    const lead = [rule('r', { who: role('lead', true), measure: 'costCentre' })]
    expect(who(pathOf(lead))).to.deep.equal(['1 marit r'])
    expect(who(pathOf(lead, { centres: { 'AC-110': 100 } }))).to.deep.equal(['1 pilar r'])
    expect(who(pathOf([rule('r', { who: role('lead') })]))).to.deep.equal(['1 pilar r'])
  })

  it('asks the requester’s chain until somebody’s limit covers the amount, at most so many', () => {
    const chain = (levels: number): Rule[] => [rule('r', { who: { kind: 'chain', levels } })]
    const low = world(person('marit', 'henrik', { limits: { requisition: minor(49_999) } }))
    expect(who(pathOf(chain(3)))).to.deep.equal(['1 marit r'])
    expect(who(pathOf(chain(3), { in: low }))).to.deep.equal(['1 marit r', '1 henrik r'])
    expect(pathOf(chain(3), { in: low }).steps.map(step => [step.turn, step.approvers[0]!.because])).to.deep.equal([
      [0, { kind: 'chain', personId: 'joren' }],
      [1, { kind: 'chain', personId: 'marit' }],
    ])
    const short = pathOf(chain(1), { in: low })
    expect([who(short), codes(short)]).to.deep.equal([['1 marit r'], ['decide.noAuthority']])
    expect(codes(pathOf(chain(2), { by: 'henrik' }))).to.deep.equal(['decide.nobody'])
  })

  it('nobody decides their own: a group goes without them, else the next in their chain who can', () => {
    const own = pathOf([rule('r')], { by: 'marit' })
    expect(who(own)).to.deep.equal(['1 henrik r'])
    expect(own.steps[0]!.approvers[0]!.because).to.deep.equal({ kind: 'insteadOf', personId: 'marit' })
    expect(why(own)).to.deep.equal(['marit r own'])
    expect(who(pathOf([rule('r', { who: role('finance') })], { by: 'pilar' }))).to.deep.equal(['1 adaeze r'])
    expect(who(pathOf([rule('r', { who: role('finance'), need: 'all' })], { by: 'pilar' }))).to.deep.equal([
      '1 adaeze r',
    ])
    expect(who(pathOf([rule('r', { who: people('ines', 'marit'), need: 'all' })], { by: 'ines' }))).to.deep.equal([
      '1 marit r',
      '1 tomas r',
    ])
    const top = pathOf([rule('r', { who: people('henrik') })], { by: 'henrik' })
    expect([who(top), codes(top)]).to.deep.equal([[], ['decide.ownAndNoManager']])
    const closed = world(person('marit', 'henrik', { able: false }))
    expect(who(pathOf([rule('r', { who: people('joren') })], { by: 'joren', in: closed }))).to.deep.equal([
      '1 henrik r',
    ])
  })

  it('a chain that runs in a circle ends', () => {
    const circle = world(person('joren', 'marit'), person('marit', 'joren', { able: false }))
    expect(codes(pathOf([rule('r', { who: people('joren') })], { in: circle }))).to.deep.equal([
      'decide.ownAndNoManager',
    ])
  })

  it('above somebody’s limit the next in their chain decides after them, exactly at the limit not', () => {
    const limited = (limit: number): PathWorld =>
      world(person('marit', 'henrik', { limits: { requisition: minor(limit) } }))
    expect(who(pathOf([rule('r')], { in: limited(50_000) }))).to.deep.equal(['1 marit r'])
    const above = pathOf([rule('r')], { in: limited(49_999) })
    expect(who(above)).to.deep.equal(['1 marit r', '1 henrik r'])
    expect(above.steps[1]!.approvers[0]!.because).to.deep.equal({ kind: 'aboveLimit', personId: 'marit' })
    const both = world(
      ...['marit', 'henrik'].map(id =>
        person(id, id === 'marit' ? 'henrik' : null, { limits: { requisition: minor(1) } }),
      ),
    )
    expect(codes(pathOf([rule('r')], { in: both }))).to.deep.equal(['decide.noAuthority'])
    const other = world(person('marit', 'henrik', { limits: { run: minor(1) } }))
    expect(who(pathOf([rule('r')], { in: other }))).to.deep.equal(['1 marit r'])
  })

  it('in a group those decide whose limit is enough; where nobody’s is, the highest is followed', () => {
    const limits = (adaeze: number, pilar: number): PathWorld =>
      world(
        person('adaeze', 'henrik', { roles: PEOPLE[3]!.roles, limits: { requisition: minor(adaeze) } }),
        person('pilar', 'tomas', { roles: PEOPLE[3]!.roles, limits: { requisition: minor(pilar) } }),
      )
    const finance = [rule('r', { who: role('finance') })]
    const enough = pathOf(finance, { in: limits(10, 50_000) })
    expect([who(enough), why(enough)]).to.deep.equal([['1 pilar r'], ['adaeze r limit']])
    expect(who(pathOf(finance, { in: limits(10, 20) }))).to.deep.equal(['1 adaeze|pilar r', '1 tomas r'])
    expect(who(pathOf(finance, { in: limits(20, 10) }))).to.deep.equal(['1 adaeze|pilar r', '1 henrik r'])
  })

  it('leaves out of a group who cannot decide; alone they are asked, and the step is stalled', () => {
    const group = pathOf([rule('r', { who: people('orla', 'tomas') })])
    expect([who(group), why(group)]).to.deep.equal([['1 tomas r'], ['orla r cannot']])
    const alone = pathOf([rule('r', { who: people('orla') })])
    expect(alone.steps.map(step => [step.approvers[0]!.personId, step.stalled])).to.deep.equal([['orla', true]])
    expect(group.steps[0]!.stalled).to.equal(false)
  })

  it('asks for a steward where a rule finds nobody', () => {
    for (const one of [rule('r', { who: people('gone') }), rule('r', { who: role('nobody') })])
      expect(codes(pathOf([one]))).to.deep.equal(['decide.nobody'])
    expect(codes(pathOf([rule('r')], { centres: { 'ZZ-1': 5 } }))).to.deep.equal(['decide.nobody'])
    expect(codes(pathOf([rule('r')], { centres: {} }))).to.deep.equal(['decide.nobody'])
  })

  it('lets the requester choose among several', () => {
    const choose = [rule('r', { who: role('finance'), need: 'choose' })]
    const open = pathOf(choose)
    expect([codes(open), open.choices.map(one => one.personIds)]).to.deep.equal([
      ['decide.choose'],
      [['adaeze', 'pilar']],
    ])
    const chosen = pathOf(choose, { choices: { chosen: { r: 'pilar' }, added: [] } })
    expect([who(chosen), codes(chosen)]).to.deep.equal([['1 pilar r'], []])
    expect(chosen.steps[0]!.approvers[0]!.because).to.deep.equal({ kind: 'chosen' })
    expect(codes(pathOf(choose, { choices: { chosen: { r: 'henrik' }, added: [] } }))).to.deep.equal(['decide.choose'])
    expect(who(pathOf([rule('r', { need: 'choose' })]))).to.deep.equal(['1 marit r'])
  })

  it('people are added by hand, never the requester nor who cannot decide', () => {
    const added = pathOf([rule('r')], { choices: { chosen: {}, added: ['tomas', 'joren', 'orla', 'marit'] } })
    expect(who(added)).to.deep.equal(['1 marit r', '1 tomas '])
    expect(added.steps[1]!.approvers[0]!.because).to.deep.equal({ kind: 'added' })
  })
})

describe('steps', () => {
  it('are numbered by the turn in which they are taken', () => {
    const low = world(person('marit', 'henrik', { limits: { requisition: minor(1) } }))
    const path = pathOf(
      [rule('a'), rule('b', { who: people('tomas') }), rule('c', { who: people('adaeze'), stage: 4 })],
      { in: low },
    )
    expect(who(path)).to.deep.equal(['1 marit a', '1 tomas b', '1 henrik a', '4 adaeze c'])
    expect(turnsOf(path.steps)).to.deep.equal([1, 1, 2, 3])
  })
})

describe('a person who is asked twice', () => {
  it('is asked once, at the latest stage, for all rules together', () => {
    const path = pathOf([
      rule('a', { who: people('marit') }),
      rule('b', { who: people('marit'), stage: 3 }),
      rule('c', { who: people('tomas') }),
    ])
    expect([who(path), why(path)]).to.deep.equal([['1 tomas c', '3 marit a+b'], ['marit a later']])
  })

  it('is taken out of an earlier group while others remain', () => {
    const path = pathOf([
      rule('a', { who: people('marit', 'tomas') }),
      rule('b', { who: people('marit', 'henrik'), stage: 2 }),
    ])
    expect([who(path), why(path)]).to.deep.equal([['1 tomas a', '2 henrik|marit b'], ['marit a later']])
  })

  it('alone before a later group decides for it alone', () => {
    const path = pathOf([rule('a', { who: people('marit') }), rule('b', { who: people('marit', 'henrik'), stage: 2 })])
    expect(who(path)).to.deep.equal(['2 marit a+b'])
  })

  it('decides for a group that they are in at the same stage', () => {
    const path = pathOf([rule('a', { who: people('marit', 'tomas') }), rule('b', { who: people('marit') })])
    expect([who(path), why(path)]).to.deep.equal([['1 marit a+b'], ['marit a together', 'tomas a together']])
    expect(
      who(pathOf([rule('a', { who: people('marit', 'tomas') }), rule('b', { who: people('marit', 'henrik') })])),
    ).to.deep.equal(['1 marit|tomas a', '1 henrik|marit b'])
  })

  it('decides the whole document where one rule asks for it, and in the shorter time', () => {
    const lines = [line('1', { 'LS-210': 5 }, { category: 'Pumps' }), line('2', { 'LS-210': 5 }, { category: 'Salt' })]
    const of = (category: string, changed: Partial<Rule> = {}): Rule =>
      rule(category, { who: people('marit'), scope: 'lines', conditions: [asks('category', category)], ...changed })
    const decided = (...rules: Rule[]) =>
      approvalPath(compileRules(rules), document(lines), world()).steps.map(step => [step.lineIds, step.hours])
    expect(decided(of('Pumps', { hours: 8 }))).to.deep.equal([[['1'], 8]])
    expect(decided(of('Pumps', { hours: 8 }), of('Salt', { hours: 4 }))).to.deep.equal([[['1', '2'], 4]])
    expect(decided(of('Pumps'), of('Salt', { hours: 4, scope: 'document' }))).to.deep.equal([[null, 4]])
    expect(decided(of('Pumps', { hours: 4 }), of('Salt'))).to.deep.equal([[['1', '2'], 4]])
  })
})

describe('whatever the rules are', () => {
  const anybody = fc.constantFrom(...PEOPLE.map(one => one.id))
  const anyWho: fc.Arbitrary<Who> = fc.oneof(
    fc.uniqueArray(anybody, { minLength: 1, maxLength: 3 }).map(ids => people(...ids)),
    fc.constantFrom('finance', 'director', 'lead').map(name => role(name)),
    fc.constant<Who>({ kind: 'holder' }),
    fc.integer({ min: 1, max: 3 }).map((levels): Who => ({ kind: 'chain', levels })),
  )
  const anyRules = fc
    .array(
      fc.record({
        stage: fc.integer({ min: 1, max: 3 }),
        who: anyWho,
        need: fc.constantFrom('any' as const, 'all' as const),
        from: fc.constantFrom(0, 40_000, 90_000).map(minor),
      }),
      { maxLength: 6 },
    )
    .map(all => all.map((one, index) => rule(`r${index}`, one)))
  const anyLimits = fc.array(fc.tuple(anybody, fc.constantFrom(10_000, 60_000, 200_000)), { maxLength: 4 })

  it('the order of the rules never matters', () => {
    fc.assert(
      fc.property(anyRules, anybody, fc.func(fc.integer()), (rules, by, weight) => {
        const shuffled = [...rules].sort((a, b) => weight(a.id) - weight(b.id))
        const centres = { 'LS-210': 50_000, 'AC-110': 40_000 }
        const plain = ({ steps, reasons }: Path) => JSON.stringify([steps, [...reasons].map(one => one.code + String(one.details.rule)).sort()], (_, value: unknown) => (typeof value === 'bigint' ? value.toString() : value)) // prettier-ignore
        expect(plain(pathOf(shuffled, { by, centres }))).to.equal(plain(pathOf(rules, { by, centres })))
      }),
      { numRuns: 300, seed: 3 },
    )
  })

  it('each rule that applies is decided by a person with authority who is not the requester, or says that it cannot', () => {
    let asked = 0
    fc.assert(
      fc.property(anyRules, anybody, anyLimits, (rules, by, limits) => {
        const inside = world(
          ...limits.map(([id, limit]) => {
            const known = PEOPLE.find(one => one.id === id)!
            return { ...known, limits: { requisition: minor(limit) } }
          }),
        )
        const of = document([line('1', { 'LS-210': 50_000, 'AC-110': 40_000 })], by)
        const path = approvalPath(compileRules(rules), of, inside)
        const told = new Set(path.reasons.map(reason => reason.details.rule))
        for (const { rule: one, measured } of matchRules(compileRules(rules), of)) {
          const deciding = path.steps.filter(step => step.rules.some(asking => asking.ruleId === one.id))
          expect(deciding.length > 0 || told.has(one.name), one.id).to.equal(true)
          asked += deciding.length
          // in one of its steps everybody has a limit that is enough
          const enough = (personId: string): boolean => {
            const limit = inside.people.get(personId)!.limits.requisition
            return limit === undefined || limit >= measured
          }
          if (!told.has(one.name) && !deciding.some(step => step.stalled))
            expect(
              deciding.some(step => step.approvers.every(person => enough(person.personId))),
              one.id,
            ).to.equal(true)
        }
        for (const step of path.steps) {
          expect(step.approvers.length).to.be.above(0)
          expect(step.approvers.map(one => one.personId)).not.to.include(by)
        }
        const alone = path.steps.filter(step => step.approvers.length === 1).map(step => step.approvers[0]!.personId)
        expect(new Set(alone).size, 'asked once').to.equal(alone.length)
        expect(path.steps.map(step => step.stage)).to.deep.equal(path.steps.map(step => step.stage).sort())
      }),
      { numRuns: 500, seed: 8 },
    )
    expect(asked).to.be.above(500)
  })
})
