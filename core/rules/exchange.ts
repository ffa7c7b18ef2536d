import { type Reason, stop } from '#core/reasons.ts'
import { DECIDED_KINDS, type DecidedKind, RULE_FACTS, type RuleFact } from '#core/rules/facts.ts'
import { type CodeRange, type Condition, MEASURES, NEEDS, type Rule, SCOPES, type Who } from '#core/rules/rule.ts'

/** Columns of a file of rules, in their order. */
export const RULE_COLUMNS = [
  'name',
  'for',
  'when',
  'measure',
  'from',
  'below',
  'stage',
  'asks',
  'need',
  'decides',
  'hours',
  'note',
] as const
export type RuleColumn = (typeof RULE_COLUMNS)[number]
export type RuleCells = Readonly<Record<RuleColumn, string>>

/** What stands between one value and the next, one condition and the next; before one of these, and before itself, stands a backslash. */
const MARKS = /[\\|;=!]|\.(?=\.)|(?<=\.)\./g
const quoted = (text: string): string => text.replace(MARKS, mark => `\\${mark}`)

/** Splits at a mark that has no backslash before it. */
function splitAt(text: string, mark: string): string[] {
  const parts = ['']
  for (let at = 0; at < text.length; at++) {
    if (text[at] === '\\') parts[parts.length - 1] += text.slice(at, ++at + 1)
    else if (text.startsWith(mark, at)) {
      parts.push('')
      at += mark.length - 1
    } else parts[parts.length - 1] += text[at]!
  }
  return parts
}
const plain = (text: string): string => text.trim().replace(/\\(.)/g, '$1')

/**
 * A rule's conditions as text: facts with their values, ranges with two dots, an exclamation mark for what must not be.
 *
 * whenText([{ fact: 'costCentre', not: true, values: ['A-1', { from: 'B-1', to: 'B-9' }] }]) //=> 'costCentre!=A-1|B-1..B-9'
 */
export const whenText = (conditions: readonly Condition[]): string =>
  conditions
    .map(
      ({ fact, not, values }) =>
        `${fact}${not ? '!' : ''}=${values.map(value => (typeof value === 'string' ? quoted(value) : `${quoted(value.from)}..${quoted(value.to)}`)).join('|')}`,
    )
    .join('; ')

/** Conditions read from text; undefined where it is none. */
export function readWhen(text: string): Condition[] | undefined {
  if (text.trim() === '') return []
  const conditions = splitAt(text, ';').map(readCondition)
  return conditions.every(one => one !== undefined) ? conditions : undefined
}

function readCondition(text: string): Condition | undefined {
  const [head = '', ...rest] = splitAt(text, '=')
  const [, fact = '', not] = /^\s*(\w+?)\s*(!?)\s*$/.exec(head) ?? []
  if (!(fact in RULE_FACTS) || rest.length !== 1) return undefined
  const values = splitAt(rest[0]!, '|').map((value): string | CodeRange | undefined => {
    const ends = splitAt(value, '..').map(plain)
    if (ends.some(end => end === '') || ends.length > 2) return undefined
    return ends.length === 1 ? ends[0]! : { from: ends[0]!, to: ends[1]! }
  })
  return values.every(value => value !== undefined)
    ? { fact: fact as RuleFact, not: not === '!', values: values }
    : undefined
}

/** Whom a rule asks, as text: holder, role:buyer, role:lead@centre, chain:3, people:a@example|b@example. */
export function asksText(who: Who, mailOf: (personId: string) => string): string {
  switch (who.kind) {
    case 'holder':
      return 'holder'
    case 'chain':
      return `chain:${who.levels}`
    case 'role':
      return `role:${who.role}${who.inCentre ? '@centre' : ''}`
    case 'people':
      return `people:${who.personIds.map(mailOf).join('|')}`
  }
}

export function readAsks(text: string, personOf: (mail: string) => string | undefined): Who | undefined {
  const [, kind, rest = ''] = /^\s*(holder|chain|role|people)\s*(?::\s*(.*?))?\s*$/.exec(text) ?? []
  if (kind === 'holder') return rest === '' ? { kind } : undefined
  if (kind === 'chain') return /^[1-9]$/.test(rest) ? { kind, levels: Number(rest) } : undefined
  if (kind === 'role') {
    const role = rest.replace(/@centre$/, '')
    return role === '' ? undefined : { kind, role, inCentre: role !== rest }
  }
  if (kind !== 'people') return undefined
  const personIds = rest.split('|').map(mail => personOf(mail.trim()))
  return personIds.every(id => id !== undefined) ? { kind, personIds } : undefined
}

/** A rule as the cells of a file. `mailOf` names people, `amountText` writes amounts. */
export const ruleCells = (
  rule: Rule,
  mailOf: (personId: string) => string,
  amountText: (amount: bigint) => string,
): RuleCells => ({
  name: rule.name,
  for: rule.kinds.join('|'),
  when: whenText(
    rule.conditions.map(one =>
      one.fact === 'requester'
        ? { ...one, values: one.values.map(value => (typeof value === 'string' ? mailOf(value) : value)) }
        : one,
    ),
  ),
  measure: rule.measure,
  from: amountText(rule.from),
  below: rule.below === null ? '' : amountText(rule.below),
  stage: String(rule.stage),
  asks: asksText(rule.who, mailOf),
  need: rule.need,
  decides: rule.scope,
  hours: rule.hours === null ? '' : String(rule.hours),
  note: rule.note,
})

/** How a cell is read that is not plain text. */
export interface RuleReading {
  readonly id: string
  readonly personOf: (mail: string) => string | undefined
  /** Amount in the base currency's smallest unit; undefined where it is none. */
  readonly readAmount: (text: string) => Rule['from'] | undefined
}

/** Reads a rule from the cells of a file; every cell that cannot be read is a fault at its column. */
export function readRule(cells: RuleCells, reading: RuleReading): { rule: Rule } | { faults: Reason[] } {
  const faults: Reason[] = []
  const read = <T>(column: RuleColumn, value: T | undefined): T => {
    if (value === undefined) faults.push(stop('rule.cell', { column, text: cells[column] }, { place: column }))
    return value as T
  }
  const one = <T extends string>(column: RuleColumn, values: readonly T[], otherwise?: T): T =>
    read(column, cells[column].trim() === '' ? otherwise : values.find(value => value === cells[column].trim()))
  const whole = (column: RuleColumn): number | undefined =>
    /^\d{1,5}$/.test(cells[column].trim()) ? Number(cells[column]) : undefined
  const when = readWhen(cells.when)
  const rule: Rule = {
    id: reading.id,
    name: read('name', cells.name.trim() || undefined),
    kinds: read('for', kindsOf(cells.for)),
    conditions: read('when', when && withPeople(when, reading.personOf)),
    measure: one('measure', MEASURES, 'document'),
    from: read('from', reading.readAmount(cells.from.trim() || '0')),
    below: cells.below.trim() === '' ? null : read('below', reading.readAmount(cells.below)),
    stage: read('stage', whole('stage')),
    who: read('asks', readAsks(cells.asks, reading.personOf)),
    need: one('need', NEEDS, 'any'),
    scope: one('decides', SCOPES, 'document'),
    hours: cells.hours.trim() === '' ? null : read('hours', whole('hours')),
    note: cells.note,
  }
  return faults.length > 0 ? { faults } : { rule }
}

function kindsOf(text: string): DecidedKind[] | undefined {
  if (text.trim() === '') return ['requisition']
  const kinds = text.split('|').map(name => DECIDED_KINDS.find(kind => kind === name.trim()))
  return kinds.every(kind => kind !== undefined) ? kinds : undefined
}

/** Requesters stand in files by their mail addresses. */
function withPeople(conditions: readonly Condition[], personOf: RuleReading['personOf']): Condition[] | undefined {
  const named = conditions.map(one => {
    if (one.fact !== 'requester') return one
    const values = one.values.map(value => (typeof value === 'string' ? personOf(value) : undefined))
    return values.every(value => value !== undefined) ? { ...one, values } : undefined
  })
  return named.every(one => one !== undefined) ? named : undefined
}
