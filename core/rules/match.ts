import { type Minor, minor } from '#core/money/amount.ts'
import {
  type DecidedDocument,
  type DecidedKind,
  type DecidedLine,
  type DecidedPart,
  RULE_FACTS,
  type RuleFact,
} from '#core/rules/facts.ts'
import { type CodeRange, type Condition, includes, isOfLine, type Rule } from '#core/rules/rule.ts'

type Values = string | readonly string[] | undefined
type Bag = Readonly<Partial<Record<RuleFact, string | readonly string[]>>>
type Test = (facts: Bag) => boolean

interface Compiled {
  readonly rule: Rule
  readonly place: number
  readonly ofDocument: readonly Test[]
  readonly ofLine: readonly Test[]
  readonly ofPart: readonly Test[]
}

/** Rules made ready to be asked about many documents. */
export interface CompiledRules {
  readonly rules: readonly Rule[]
  readonly byKind: ReadonlyMap<DecidedKind, Index>
}

/** Which rules can match at all, by one value that each of them needs; and those that need none. */
interface Index {
  readonly facts: readonly (readonly [RuleFact, ReadonlyMap<string, readonly Compiled[]>])[]
  readonly always: readonly Compiled[]
}

/** A rule that applies to a document: to which lines (null: all, it asks for none), for which cost centres, and what was measured. */
export interface RuleMatch {
  readonly rule: Rule
  readonly lineIds: readonly string[] | null
  /** The one that was measured, or all that pay what matches. */
  readonly costCentres: readonly string[]
  readonly measured: Minor
}

/**
 * Makes rules ready. A rule is filed under the values of its most telling condition, so that a document is compared only with rules that
 * share a value with it.
 */
export function compileRules(rules: readonly Rule[]): CompiledRules {
  const compiled = rules.map(compile)
  const kinds = new Set(rules.flatMap(rule => rule.kinds))
  return {
    rules,
    byKind: new Map([...kinds].map(kind => [kind, indexOf(compiled.filter(one => one.rule.kinds.includes(kind)))])),
  }
}

function compile(rule: Rule, place: number): Compiled {
  const tests = (level: 'document' | 'line' | 'part'): Test[] =>
    rule.conditions.filter(one => RULE_FACTS[one.fact] === level).map(testOf)
  return { rule, place, ofDocument: tests('document'), ofLine: tests('line'), ofPart: tests('part') }
}

function testOf({ fact, not, values }: Condition): Test {
  const single = new Set(values.filter(value => typeof value === 'string'))
  const ranges = values.filter((value): value is CodeRange => typeof value !== 'string')
  const one = (value: string): boolean =>
    single.has(value) || ranges.some(({ from, to }) => from <= value && value <= to)
  return facts => {
    const value: Values = facts[fact]
    const holds = value === undefined ? false : typeof value === 'string' ? one(value) : value.some(one)
    return holds !== not
  }
}

function indexOf(rules: readonly Compiled[]): Index {
  const facts = new Map<RuleFact, Map<string, Compiled[]>>()
  const always: Compiled[] = []
  for (const one of rules) {
    const key = tellingCondition(one.rule)
    if (!key) {
      always.push(one)
      continue
    }
    const values = facts.get(key.fact) ?? new Map<string, Compiled[]>()
    facts.set(key.fact, values)
    for (const value of new Set(key.values as readonly string[])) values.set(value, [...(values.get(value) ?? []), one])
  }
  return { facts: [...facts], always }
}

/** The condition that asks for the fewest single values: what it is filed under. */
function tellingCondition(rule: Rule): Condition | undefined {
  return rule.conditions
    .filter(one => !one.not && one.values.every(value => typeof value === 'string'))
    .reduce<Condition | undefined>((best, one) => (!best || one.values.length < best.values.length ? one : best), undefined) // prettier-ignore
}

/** Rules that apply to a document, in the order in which they were given. The order decides nothing. */
export function matchRules(compiled: CompiledRules, document: DecidedDocument): RuleMatch[] {
  const index = compiled.byKind.get(document.kind)
  if (!index) return []
  const candidates = new Set(index.always)
  for (const [fact, values] of index.facts)
    for (const value of valuesOf(document, fact)) for (const one of values.get(value) ?? []) candidates.add(one)
  return [...candidates].sort((a, b) => a.place - b.place).flatMap(one => matchesOf(one, document))
}

function valuesOf(document: DecidedDocument, fact: RuleFact): Set<string> {
  const values = new Set<string>()
  const add = (value: Values): void => {
    if (typeof value === 'string') values.add(value)
    else value?.forEach(one => values.add(one))
  }
  const level = RULE_FACTS[fact]
  if (level === 'document') add((document.facts as Bag)[fact])
  else
    for (const line of document.lines)
      if (level === 'line') add((line.facts as Bag)[fact])
      else for (const part of line.parts) add((part.facts as Bag)[fact])
  return values
}

interface MatchedPart {
  readonly line: DecidedLine
  readonly part: DecidedPart
}

function matchesOf({ rule, ofDocument, ofLine, ofPart }: Compiled, document: DecidedDocument): RuleMatch[] {
  // the cheapest question first
  if (rule.measure === 'document' && !inBand(rule, document.total)) return []
  if (!ofDocument.every(test => test(document.facts))) return []
  const parts: MatchedPart[] = []
  for (const line of document.lines)
    if (ofLine.every(test => test(line.facts)))
      for (const part of line.parts) if (ofPart.every(test => test(part.facts))) parts.push({ line, part })
  const asksForLines = ofLine.length + ofPart.length > 0
  if (asksForLines && parts.length === 0) return []
  const lineIds = asksForLines ? [...new Set(parts.map(one => one.line.id))] : null
  const centres = [...new Set(parts.flatMap(one => costCentreOf(one.part)))]
  if (rule.measure === 'costCentre')
    return centres.flatMap(centre => {
      const of = parts.filter(one => costCentreOf(one.part).includes(centre))
      const measured = sum(of.map(one => one.part))
      const ids = [...new Set(of.map(one => one.line.id))]
      return inBand(rule, measured) ? [{ rule, lineIds: ids, costCentres: [centre], measured }] : []
    })
  const lines = document.lines.filter(line => lineIds === null || lineIds.includes(line.id))
  const measured = rule.measure === 'document' ? document.total : sum(lines.flatMap(line => line.parts))
  return inBand(rule, measured) ? [{ rule, lineIds, costCentres: centres, measured }] : []
}

const costCentreOf = ({ facts }: DecidedPart): readonly string[] =>
  typeof facts.costCentre === 'string' ? [facts.costCentre] : []
const sum = (parts: readonly DecidedPart[]): Minor => minor(parts.reduce<bigint>((all, part) => all + part.amount, 0n))
/** *From* is included, *below* is not. */
const inBand = (rule: Rule, amount: Minor): boolean =>
  amount >= rule.from && (rule.below === null || amount < rule.below)

/** What of a document made a rule apply: for each condition the values that hold. */
export interface Evidence {
  readonly fact: RuleFact
  readonly not: boolean
  readonly values: readonly string[]
}

/** The facts of a document that a rule's conditions hold on, for those who ask why. */
export function evidenceOf({ rule, lineIds }: RuleMatch, document: DecidedDocument): Evidence[] {
  const lines = document.lines.filter(line => lineIds === null || lineIds.includes(line.id))
  return rule.conditions.map(condition => {
    const found = valuesOf(isOfLine(condition) ? { ...document, lines } : document, condition.fact)
    return {
      fact: condition.fact,
      not: condition.not,
      values: [...found].filter(value => includes(condition.values, value) !== condition.not),
    }
  })
}
