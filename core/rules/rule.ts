import { type Minor, minor } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type DecidedKind, RULE_FACTS, type RuleFact, YES_NO_FACTS } from '#core/rules/facts.ts'

/** Codes from one to another, both included, compared letter by letter: LS-200 to LS-299. */
export interface CodeRange {
  readonly from: string
  readonly to: string
}

/** What a document, a line or a part of it has to be, or must not be: any of single values and ranges. */
export interface Condition {
  readonly fact: RuleFact
  readonly not: boolean
  readonly values: readonly (string | CodeRange)[]
}

/** What a rule's amount is: the whole document's, that of the lines that match, or each cost centre's part of them. */
export const MEASURES = ['document', 'lines', 'costCentre'] as const
export type Measure = (typeof MEASURES)[number]

/** How many of those whom a rule asks: one of them, all of them, or the one whom the requester chooses. */
export const NEEDS = ['any', 'all', 'choose'] as const
/** What is decided: the whole document, or only the lines that match. */
export const SCOPES = ['document', 'lines'] as const

/** Whom a rule asks. */
export type Who =
  | { readonly kind: 'people'; readonly personIds: readonly string[] }
  /** Whoever has the role; `inCentre`: for the matched cost centre, or everywhere where nobody has it there. */
  | { readonly kind: 'role'; readonly role: string; readonly inCentre: boolean }
  /** The holder of each matched cost centre. */
  | { readonly kind: 'holder' }
  /** The requester's chain upwards until somebody's limit covers the amount, at most so many. */
  | { readonly kind: 'chain'; readonly levels: number }

export interface Rule {
  readonly id: string
  readonly name: string
  readonly kinds: readonly DecidedKind[]
  /** All of them hold; those of lines and parts on one and the same part. */
  readonly conditions: readonly Condition[]
  readonly measure: Measure
  /** Base currency's smallest unit: from ≤ amount < below. */
  readonly from: Minor
  readonly below: Minor | null
  readonly stage: number
  readonly who: Who
  readonly need: (typeof NEEDS)[number]
  readonly scope: (typeof SCOPES)[number]
  /** Business hours until it is past its time; none: no end. */
  readonly hours: number | null
  /** Why the rule is there. */
  readonly note: string
}

export const MOST_STAGES = 9
export const MOST_LEVELS = 9

/** Whether a condition can ever hold for some value: ranges that end before they begin hold for none. */
const emptyRange = (value: string | CodeRange): boolean => typeof value !== 'string' && value.to < value.from

/** Faults of a rule by itself. `known` answers whether a person is there and open, `roles` which roles somebody has. */
export function ruleFaults(
  rule: Rule,
  known: { readonly people: ReadonlySet<string>; readonly roles: ReadonlySet<string> },
): Reason[] {
  const at = (field: string): { place: string } => ({ place: `${rule.id}.${field}` })
  const named = { rule: rule.name }
  const faults: Reason[] = []
  if (rule.name.trim() === '') faults.push(stop('rule.noName', {}, at('name')))
  if (rule.kinds.length === 0) faults.push(stop('rule.noKind', named, at('kinds')))
  if (rule.from < 0n || (rule.below !== null && rule.below <= rule.from)) faults.push(stop('rule.band', named, at('below'))) // prettier-ignore
  if (rule.stage < 1 || rule.stage > MOST_STAGES) faults.push(stop('rule.stage', named, at('stage')))
  if (rule.hours !== null && rule.hours < 1) faults.push(stop('rule.hours', named, at('hours')))
  for (const [index, condition] of rule.conditions.entries()) {
    const place = at(`conditions.${index}`)
    const details = { ...named, fact: condition.fact }
    if (condition.values.length === 0) faults.push(stop('rule.noValue', details, place))
    if (condition.values.some(emptyRange)) faults.push(stop('rule.range', details, place))
    if (YES_NO_FACTS.has(condition.fact) && condition.values.some(value => value !== 'yes'))
      faults.push(stop('rule.yesNo', details, place))
  }
  if (contradicts(rule.conditions)) faults.push(stop('rule.contradicts', named, at('conditions')))
  return [...faults, ...whoFaults(rule, known, at('who'))]
}

function whoFaults(
  { name, who }: Rule,
  known: { readonly people: ReadonlySet<string>; readonly roles: ReadonlySet<string> },
  place: { place: string },
): Reason[] {
  switch (who.kind) {
    case 'people': {
      if (who.personIds.length === 0) return [stop('rule.nobody', { rule: name }, place)]
      return who.personIds.some(id => !known.people.has(id)) ? [stop('rule.closedPerson', { rule: name }, place)] : []
    }
    case 'role':
      return known.roles.has(who.role) ? [] : [stop('rule.emptyRole', { rule: name, role: who.role }, place)]
    case 'chain':
      return who.levels >= 1 && who.levels <= MOST_LEVELS ? [] : [stop('rule.levels', { rule: name }, place)]
    case 'holder':
      return []
  }
}

/** Two conditions about one fact with a single value that leave nothing: one asks for what the other forbids, or lists that share nothing. */
function contradicts(conditions: readonly Condition[]): boolean {
  return conditions.some((one, index) =>
    conditions.slice(index + 1).some(other => {
      if (one.fact !== other.fact || SEVERAL.has(one.fact) || (one.not && other.not)) return false
      const [asks, limits] = one.not ? [other, one] : [one, other]
      return asks.values.every(value => typeof value === 'string' && includes(limits.values, value) === limits.not)
    }),
  )
}

/** Facts that a document or line has several values of at once. */
const SEVERAL: ReadonlySet<RuleFact> = new Set(['requesterRole', 'category'])

/** Whether a value is one of some values and ranges. */
export const includes = (values: readonly (string | CodeRange)[], value: string): boolean =>
  values.some(one => (typeof one === 'string' ? one === value : one.from <= value && value <= one.to))

/** Whether a condition is about lines or their parts. */
export const isOfLine = (condition: Condition): boolean => RULE_FACTS[condition.fact] !== 'document'

/** The rule that a house begins with: the holder of each cost centre decides what it pays for. */
export const holderRule = (id: string, name: string): Rule => ({
  id,
  name,
  kinds: ['requisition'],
  conditions: [],
  measure: 'costCentre',
  from: minor(0),
  below: null,
  stage: 1,
  who: { kind: 'holder' },
  need: 'any',
  scope: 'document',
  hours: null,
  note: '',
})
