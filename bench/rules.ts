import { Engine, type RuleProperties } from 'json-rules-engine'
import { minor } from '#core/money/amount.ts'
import type { DecidedDocument, DecidedLine } from '#core/rules/facts.ts'
import { compileRules, matchRules } from '#core/rules/match.ts'
import { approvalPath, type PathPerson } from '#core/rules/path.ts'
import { type Condition, holderRule, includes, type Rule } from '#core/rules/rule.ts'
import { type Figure, figure, median, WARM } from '#bench/figures.ts'
import { dice } from '#bench/suppliers.ts'

const RULES = 5_000
const REQUESTS = 10_000
const LINES = 10
/** The general engine needs seconds for each: some are enough to know what one takes. */
const FOR_THE_ENGINE = 12

type Roll = (sides: number) => number
const code = (letter: string, number: number): string => `${letter}-${String(number).padStart(3, '0')}`

/** Rules as a large house has them: most ask for a cost centre or a category, many for a band, some for a requester's role. */
function inventedRules(roll: Roll): Rule[] {
  return Array.from({ length: RULES }, (_, index): Rule => {
    const first = roll(890)
    const conditions: Condition[] = [
      roll(4) === 0
        ? { fact: 'costCentre', not: false, values: [{ from: code('C', first), to: code('C', first + roll(10)) }] }
        : { fact: 'costCentre', not: false, values: Array.from({ length: 1 + roll(3) }, () => code('C', roll(900))) },
      ...(roll(2)
        ? [{ fact: 'category', not: false, values: [code('K', roll(200)), code('K', roll(200))] } as const]
        : []),
      ...(roll(3) ? [] : [{ fact: 'requesterRole', not: false, values: [code('R', roll(20))] } as const]),
    ]
    const from = roll(50) * 10_000
    return {
      ...holderRule(`r${index}`, `Rule ${index}`),
      conditions,
      measure: 'document',
      from: minor(from),
      below: roll(2) ? minor(from + 1_000_000) : null,
      stage: 1 + roll(4),
      who: { kind: 'people', personIds: [`p${roll(300)}`] },
    }
  })
}

function inventedRequest(roll: Roll): DecidedDocument {
  const lines = Array.from({ length: LINES }, (_, index): DecidedLine => ({
    id: String(index),
    facts: { category: [code('K', roll(200))], lineKind: 'goods' },
    parts: [
      { amount: minor(roll(200_000)), facts: { costCentre: code('C', roll(900)), account: code('A', roll(99)) } },
    ],
  }))
  return {
    kind: 'requisition',
    requesterId: `p${roll(300)}`,
    total: minor(lines.reduce<bigint>((sum, line) => sum + line.parts[0]!.amount, 0n)),
    facts: { requesterRole: [code('R', roll(20))] },
    lines,
  }
}

/** The same rules for a general engine: conditions of lines are one operator, since all of them hold on one line. */
function generalEngine(rules: readonly Rule[]): Engine {
  const engine = new Engine([], { allowUndefinedFacts: true })
  engine.addOperator('someLine', (lines: DecidedLine[], conditions: Condition[]) =>
    lines.some(line =>
      conditions.every(condition => {
        const known = condition.fact === 'category' ? (line.facts.category as string[]) : [line.parts[0]!.facts.costCentre as string] // prettier-ignore
        return known.some(value => includes(condition.values, value))
      }),
    ),
  )
  engine.addOperator('someOf', (has: string[], wanted: string[]) => has.some(one => wanted.includes(one)))
  for (const rule of rules) {
    const ofLine = rule.conditions.filter(one => one.fact !== 'requesterRole')
    const roles = rule.conditions.filter(one => one.fact === 'requesterRole')
    const all: RuleProperties['conditions'] = {
      all: [
        { fact: 'total', operator: 'greaterThanInclusive', value: Number(rule.from) },
        ...(rule.below === null ? [] : [{ fact: 'total', operator: 'lessThan', value: Number(rule.below) }]),
        ...roles.map(one => ({ fact: 'roles', operator: 'someOf', value: one.values })),
        { fact: 'lines', operator: 'someLine', value: ofLine },
      ],
    }
    engine.addRule({ conditions: all, event: { type: rule.id } })
  }
  return engine
}

/** Finding the rules that apply to ten thousand requests of ten lines, against a general rule engine with the same rules, request by request. */
export async function rulesAgainstEngine(_world: unknown, _runs: number, small: boolean): Promise<Figure> {
  const roll = dice(12)
  const rules = inventedRules(roll)
  const requests = Array.from({ length: small ? REQUESTS / 10 : REQUESTS }, () => inventedRequest(roll))
  const compiled = compileRules(rules)
  const start = performance.now()
  const found = requests.map(request => matchRules(compiled, request))
  const ours = (performance.now() - start) / requests.length
  const engine = generalEngine(rules)
  const some = requests.slice(0, small ? 3 : FOR_THE_ENGINE)
  const begun = performance.now()
  let same = true
  for (const [index, request] of some.entries()) {
    const facts = { total: Number(request.total), roles: request.facts.requesterRole, lines: request.lines }
    const { events } = await engine.run(facts)
    const theirs = events.map(event => event.type).sort()
    same &&= JSON.stringify(theirs) === JSON.stringify(found[index]!.map(match => match.rule.id).sort())
  }
  const baseline = (performance.now() - begun) / some.length
  const one = figure('decide.rules-vs-engine', ours, baseline, 0.05)
  return {
    ...one,
    ok: one.ok && same,
    note: `${Math.round(baseline / ours)} times faster, a request; ${same ? 'the same rules found' : 'OTHER RULES FOUND'} on ${some.length}; ${requests.length} requests in ${Math.round(ours * requests.length)} ms`,
  }
}

/** Who decides one request of ten lines by five thousand rules, with why; against five milliseconds. */
export async function pathPreview(_world: unknown, runs: number): Promise<Figure> {
  const roll = dice(13)
  const compiled = compileRules(inventedRules(roll))
  const people = new Map(
    Array.from({ length: 300 }, (_, index): [string, PathPerson] => [
      `p${index}`,
      {
        id: `p${index}`,
        name: `Person ${index}`,
        able: true,
        managerId: index === 0 ? null : `p${Math.floor(index / 6)}`,
        roles: [],
        limits: index % 3 ? {} : { requisition: minor(500_000) },
      },
    ]),
  )
  const requests = Array.from({ length: runs + 2 }, () => inventedRequest(roll))
  const ours = await median(
    runs,
    run => Promise.resolve(approvalPath(compiled, requests[run + 1]!, { people, holders: new Map() })),
    WARM,
  )
  return figure('decide.path-preview', ours, 5, 1)
}
