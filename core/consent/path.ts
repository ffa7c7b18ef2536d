import { type Reason, stop } from '#core/reasons.ts'
import { type Minor, minor } from '#core/money/amount.ts'

/** Who a rule asks: the holder of each matched cost centre, a named person, or everybody-any-of a role (the first who can). */
export type Asked =
  | { readonly kind: 'holder' }
  | { readonly kind: 'person'; readonly personId: string }
  | { readonly kind: 'role'; readonly role: string }

export interface ApprovalRule {
  readonly id: string
  readonly name: string
  /** Empty: every cost centre. */
  readonly costCentres: readonly string[]
  /** Band in the base currency's smallest unit: from ≤ amount < upTo. */
  readonly fromAmount: Minor
  readonly upTo: Minor | null
  readonly stage: number
  readonly asked: Asked
}

export interface Person {
  readonly id: string
  readonly name: string
  /** Their account is open, and their roles allow them to decide. */
  readonly able: boolean
  readonly managerId: string | null
  readonly roles: readonly string[]
}

export interface PathInput {
  readonly rules: readonly ApprovalRule[]
  readonly requesterId: string
  /** Amount per cost centre in the base currency's smallest unit. */
  readonly amounts: ReadonlyMap<string, Minor>
  readonly holders: ReadonlyMap<string, string>
  readonly people: ReadonlyMap<string, Person>
}

export interface Step {
  readonly stage: number
  readonly approverId: string
  readonly ruleId: string
  readonly ruleName: string
  readonly costCentre: string | null
  /** Why this person: because of the rule itself, or instead of somebody who may not decide their own. */
  readonly because: 'rule' | 'insteadOfRequester'
  /** The person asked cannot decide: the account is closed, or the right is gone. A steward can pass the step on. */
  readonly stalled: boolean
}

/**
 * Who decides, in order of stages. All rules that match apply; a person asked twice is asked once, at the latest stage;
 * nobody decides their own: the manager does (domain page, section 6). A rule for cost centres is measured on each
 * centre's own amount; a rule for all centres on the document's total.
 */
export function approvalPath(input: PathInput): { steps: Step[]; reasons: Reason[] } {
  const reasons: Reason[] = []
  const asked = input.rules.flatMap(rule => matches(rule, input).map(costCentre => ({ rule, costCentre })))
  const steps = asked.flatMap(({ rule, costCentre }) => {
    const personId = personAsked(rule, costCentre, input)
    if (!personId) {
      reasons.push(stop('decide.nobody', { rule: rule.name, costCentre: costCentre ?? '' }, { clearedBy: ['steward'] }))
      return []
    }
    return stepFor(rule, costCentre, personId, input, reasons)
  })
  return { steps: latestOnly(steps), reasons }
}

function matches(rule: ApprovalRule, input: PathInput): (string | null)[] {
  const inBand = (amount: Minor): boolean => amount >= rule.fromAmount && (rule.upTo === null || amount < rule.upTo)
  if (rule.costCentres.length === 0 && rule.asked.kind !== 'holder') {
    const total = minor([...input.amounts.values()].reduce<bigint>((sum, amount) => sum + amount, 0n))
    return inBand(total) ? [null] : []
  }
  return [...input.amounts]
    .filter(
      ([centre, amount]) => (rule.costCentres.length === 0 || rule.costCentres.includes(centre)) && inBand(amount),
    )
    .map(([centre]) => centre)
}

function personAsked(rule: ApprovalRule, costCentre: string | null, input: PathInput): string | undefined {
  const { asked } = rule
  if (asked.kind === 'person') return input.people.has(asked.personId) ? asked.personId : undefined
  if (asked.kind === 'holder') return costCentre === null ? undefined : input.holders.get(costCentre)
  const able = [...input.people.values()].filter(person => person.roles.includes(asked.role) && person.able)
  return (able.find(person => person.id !== input.requesterId) ?? able[0])?.id
}

function stepFor(
  rule: ApprovalRule,
  costCentre: string | null,
  personId: string,
  input: PathInput,
  reasons: Reason[],
): Step[] {
  const base = { stage: rule.stage, ruleId: rule.id, ruleName: rule.name, costCentre }
  if (personId !== input.requesterId)
    return [{ ...base, approverId: personId, because: 'rule', stalled: !input.people.get(personId)?.able }]
  const manager = nextInChain(personId, input)
  if (manager) return [{ ...base, approverId: manager, because: 'insteadOfRequester', stalled: false }]
  reasons.push(stop('decide.ownAndNoManager', { rule: rule.name }, { clearedBy: ['steward'] }))
  return []
}

function nextInChain(personId: string, input: PathInput): string | undefined {
  const seen = new Set([personId, input.requesterId])
  let current = input.people.get(personId)?.managerId
  while (current && !seen.has(current)) {
    if (input.people.get(current)?.able) return current
    seen.add(current)
    current = input.people.get(current)?.managerId
  }
  return undefined
}

function latestOnly(steps: readonly Step[]): Step[] {
  const latest = new Map<string, Step>()
  for (const step of steps) {
    const kept = latest.get(step.approverId)
    if (!kept || step.stage > kept.stage) latest.set(step.approverId, step)
  }
  return [...latest.values()].sort((a, b) => a.stage - b.stage || (a.ruleName < b.ruleName ? -1 : 1))
}
