import { type Minor, minor } from '#core/money/amount.ts'
import type { DecidedDocument, DecidedLine } from '#core/rules/facts.ts'
import type { PathPerson, PathWorld } from '#core/rules/path.ts'
import type { Condition, Rule } from '#core/rules/rule.ts'

/** A rule that asks the holder for everything, but for what is changed. */
export const rule = (id: string, changed: Partial<Rule> = {}): Rule => ({
  id,
  name: id,
  kinds: ['requisition'],
  conditions: [],
  measure: 'document',
  from: minor(0),
  below: null,
  stage: 1,
  who: { kind: 'holder' },
  need: 'any',
  scope: 'document',
  hours: null,
  note: '',
  ...changed,
})

export const asks = (fact: Condition['fact'], ...values: Condition['values']): Condition => ({
  fact,
  not: false,
  values,
})
export const forbids = (fact: Condition['fact'], ...values: Condition['values']): Condition => ({
  fact,
  not: true,
  values,
})

type LineFacts = DecidedLine['facts']
/** A line whose cost centres pay what stands beside them. line('1', { 'LS-210': 500 }, { category: 'Pumps' }) */
export const line = (id: string, centres: Readonly<Record<string, number>>, facts: LineFacts = {}): DecidedLine => ({
  id,
  facts,
  parts: Object.entries(centres).map(([costCentre, amount]) => ({ amount: minor(amount), facts: { costCentre } })),
})
export const totalOf = (lines: readonly DecidedLine[]): Minor =>
  minor(lines.flatMap(one => one.parts).reduce<bigint>((sum, part) => sum + part.amount, 0n))
export const document = (
  lines: readonly DecidedLine[],
  requesterId = 'joren',
  facts: DecidedDocument['facts'] = {},
): DecidedDocument => ({ kind: 'requisition', requesterId, total: totalOf(lines), facts, lines })

export const person = (id: string, managerId: string | null, changed: Partial<PathPerson> = {}): PathPerson => ({
  id,
  name: id,
  able: true,
  managerId,
  roles: [],
  limits: {},
  ...changed,
})
const everywhere = (role: string): PathPerson['roles'] => [{ role, costCentre: null }]

export const PEOPLE = [
  person('henrik', null, { roles: everywhere('director') }),
  person('marit', 'henrik', { roles: [{ role: 'lead', costCentre: 'LS-210' }] }),
  person('tomas', 'henrik'),
  person('adaeze', 'henrik', { roles: everywhere('finance') }),
  person('pilar', 'adaeze', { roles: [...everywhere('finance'), ...everywhere('lead')] }),
  person('joren', 'marit'),
  person('ines', 'tomas'),
  person('orla', 'henrik', { able: false }),
]
/** The people above, some of them otherwise, and who holds which cost centre. */
export const world = (...changed: readonly PathPerson[]): PathWorld => ({
  people: new Map([...PEOPLE, ...changed].map(one => [one.id, one])),
  holders: new Map([
    ['LS-210', 'marit'],
    ['EX-310', 'marit'],
    ['AC-110', 'tomas'],
  ]),
})
