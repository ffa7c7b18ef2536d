import type { RuleJson } from '#contract/rules/endpoints.ts'
import { YES_NO_FACTS } from '#core/rules/facts.ts'
import { amountText, label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What codes of conditions are called, and people. */
export interface Names {
  readonly people: ReadonlyMap<string, string>
  readonly values: Readonly<Record<string, readonly { readonly value: string; readonly label: string }[]>>
}
type Condition = RuleJson['conditions'][number]

/** What a value of a fact is called. */
export function valueText(fact: string, value: Condition['values'][number], names: Names): string {
  if (typeof value !== 'string') return `${value.from} to ${value.to}`
  if (fact === 'requester') return names.people.get(value) ?? value
  if (fact === 'lineKind') return label('kind', value)
  if (fact === 'supplierState') return label('state', value)
  if (fact === 'requesterRole') return label('role', value)
  return names.values[fact]?.find(one => one.value === value)?.label ?? value
}

const or = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '…') : `${words.slice(0, -1).join(', ')} or ${words.at(-1)!}`

/** A condition as a part of a sentence. */
export function conditionText(condition: Condition, names: Names): string {
  const { fact, not } = condition
  if (YES_NO_FACTS.has(fact)) return `${not ? 'not ' : ''}${label('rule fact', fact)}`
  return `${label('rule fact', fact)} ${not ? 'other than ' : ''}${or(condition.values.map(value => valueText(fact, value, names)))}`
}

/** When a rule applies, as a sentence. */
export function whenSentence(rule: RuleJson, currency: string, names: Names): string {
  const kinds = or(rule.kinds.map(kind => laterLabel('decided kind', kind)))
  const conditions = rule.conditions.map(one => conditionText(one, names))
  const bands = [
    Number(rule.from) > 0 ? `is ${amountText(rule.from)} ${currency} or more` : '',
    rule.below === null ? '' : `is below ${amountText(rule.below)} ${currency}`,
  ].filter(Boolean)
  const band = bands.length === 0 ? '' : ` where ${laterLabel('measure', rule.measure)} ${bands.join(' and ')}`
  return `${kinds}${conditions.length > 0 ? ` with ${conditions.join(' and ')}` : ''}${band}`
}

/** Whom a rule asks, and within which time. */
export const whoSentence = (rule: RuleJson, names: Names): string =>
  `${askedSentence(rule, names)}${rule.scope === 'lines' ? ', for those lines' : ''}${rule.hours === null ? '' : `, within ${rule.hours} working hours`}`

function askedSentence(rule: RuleJson, names: Names): string {
  const { who, need } = rule
  switch (who.kind) {
    case 'holder':
      return 'the holder of each cost centre'
    case 'chain':
      return `those above the requester until a limit is enough, at most ${who.levels}`
    case 'role':
      return `${laterLabel('rule need', need)} of: ${label('role', who.role)}${who.inCentre ? ' of the cost centre' : ''}`
    case 'people': {
      const people = who.personIds.map(id => names.people.get(id) ?? '…')
      if (need === 'choose' && people.length > 1) return `${or(people)}, whom the requester chooses`
      return need === 'all' && people.length > 1 ? people.join(' and ') : or(people)
    }
  }
}
