import type { Minor } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { DecidedDocument } from '#core/rules/facts.ts'
import type { Limits } from '#core/rules/limits.ts'
import { type CompiledRules, type Evidence, evidenceOf, matchRules, type RuleMatch } from '#core/rules/match.ts'
import type { Rule } from '#core/rules/rule.ts'

/** Somebody who may be asked. */
export interface PathPerson {
  readonly id: string
  readonly name: string
  /** Their account is open, and their roles allow them to decide this kind of document. */
  readonly able: boolean
  readonly managerId: string | null
  readonly roles: readonly { readonly role: string; readonly costCentre: string | null }[]
  readonly limits: Limits
}

export interface PathWorld {
  readonly people: ReadonlyMap<string, PathPerson>
  readonly holders: ReadonlyMap<string, string>
}

/** What the requester said: whom they chose for a rule, whom they added by hand. */
export interface PathChoices {
  readonly chosen: Readonly<Partial<Record<string, string>>>
  readonly added: readonly string[]
}
const NO_CHOICES: PathChoices = { chosen: {}, added: [] }

/** Why a person is asked: because of the rule, instead of the requester, above somebody's limit, as the next of a chain, or added by hand. */
export type Because =
  | { readonly kind: 'rule' | 'chosen' | 'added' }
  | { readonly kind: 'insteadOf' | 'aboveLimit' | 'chain'; readonly personId: string }

/** A rule that asks for a decision, with the facts that made it apply. */
export interface AskingRule {
  readonly ruleId: string
  readonly name: string
  readonly costCentre: string | null
  readonly measured: Minor
  readonly evidence: readonly Evidence[]
}

/** One decision: any of these people takes it. */
export interface PathStep {
  readonly stage: number
  /** Order within the stage: who is above whom decides after them. */
  readonly turn: number
  readonly approvers: readonly { readonly personId: string; readonly because: Because }[]
  readonly rules: readonly AskingRule[]
  /** The lines that are decided; null: the whole document. */
  readonly lineIds: readonly string[] | null
  readonly hours: number | null
  /** Nobody of them can decide: accounts are closed or rights are gone. A steward passes it on. */
  readonly stalled: boolean
}

/**
 * The order of steps as whole numbers from 1: those that are taken beside each other have the same.
 *
 * turnsOf([{ stage: 1, turn: 0 }, { stage: 1, turn: 0 }, { stage: 3, turn: 0 }]) //=> [1, 1, 2]
 */
export function turnsOf(steps: readonly Pick<PathStep, 'stage' | 'turn'>[]): number[] {
  const turns = [...new Set(steps.map(step => step.stage * 100 + step.turn))].sort((a, b) => a - b)
  return steps.map(step => turns.indexOf(step.stage * 100 + step.turn) + 1)
}

/** Somebody whom a rule names and who is not asked because of it, and why. */
export interface LeftOut {
  readonly personId: string
  readonly rule: string
  readonly why: 'own' | 'later' | 'together' | 'cannot' | 'limit'
}

export interface Path {
  readonly steps: readonly PathStep[]
  readonly leftOut: readonly LeftOut[]
  /** Rules that ask for a choice, with whom it is among. */
  readonly choices: readonly { readonly rule: string; readonly ruleId: string; readonly personIds: readonly string[] }[]
  readonly reasons: readonly Reason[]
}

type Draft = Omit<PathStep, 'stalled'>

/**
 * Who decides a document, in order: rules that match ask for people; nobody decides their own; who is asked above their limit is followed by
 * the next in their chain; a person asked twice is asked once, at the latest (domain page, section 6). The order of the rules decides
 * nothing.
 */
export function approvalPath(
  rules: CompiledRules,
  document: DecidedDocument,
  world: PathWorld,
  choices: PathChoices = NO_CHOICES,
): Path {
  const naming = new Naming(document, world, choices)
  const drafts = matchRules(rules, document).flatMap(match => naming.draftsOf(match))
  const added = choices.added
    .filter(id => id !== document.requesterId && world.people.get(id)?.able)
    .map((personId): Draft => ({
      stage: 1,
      turn: 0,
      approvers: [{ personId, because: { kind: 'added' } }],
      rules: [],
      lineIds: null,
      hours: null,
    }))
  const nameOf = (id: string): string => world.people.get(id)?.name ?? ''
  const steps = askedOnce([...drafts, ...added], naming.leftOut)
  return {
    steps: steps.map(step => ({
      ...step,
      approvers: [...step.approvers].sort((a, b) => (nameOf(a.personId) < nameOf(b.personId) ? -1 : 1)),
      stalled: !step.approvers.some(one => world.people.get(one.personId)?.able),
    })),
    leftOut: naming.leftOut,
    choices: naming.open,
    reasons: naming.reasons,
  }
}

/** Finds the people whom rules ask for, for one document. */
class Naming {
  readonly leftOut: LeftOut[] = []
  readonly reasons: Reason[] = []
  readonly open: Path['choices'][number][] = []
  constructor(
    private readonly document: DecidedDocument,
    private readonly world: PathWorld,
    private readonly choices: PathChoices,
  ) {}

  draftsOf(match: RuleMatch): Draft[] {
    const { rule } = match
    const centres =
      rule.who.kind === 'holder' || (rule.who.kind === 'role' && rule.who.inCentre) ? match.costCentres : [null]
    if (centres.length === 0) return this.nobody(rule, null)
    return centres.flatMap(centre => this.draftsFor(match, centre))
  }

  private draftsFor(match: RuleMatch, centre: string | null): Draft[] {
    const { rule } = match
    const draft = (people: Draft['approvers'], turn = 0): Draft => ({
      stage: rule.stage,
      turn,
      approvers: people,
      rules: [
        {
          ruleId: rule.id,
          name: rule.name,
          costCentre: centre,
          measured: match.measured,
          evidence: evidenceOf(match, this.document),
        },
      ],
      lineIds: rule.scope === 'lines' ? match.lineIds : null,
      hours: rule.hours,
    })
    if (rule.who.kind === 'chain')
      return this.chain(rule.who.levels, rule, match.measured).map((one, turn) => draft([one], turn))
    const named = this.named(rule, centre)
    const people = this.withoutOwn(rule, this.thoseWhoCan(rule, named))
    if (people.length === 0) return this.nobody(rule, centre)
    if (rule.need === 'choose') return this.choice(rule, people, draft, match.measured)
    if (rule.need === 'all') return people.flatMap(one => this.withLimit(rule, [one], draft, match.measured))
    return this.withLimit(rule, people, draft, match.measured)
  }

  /** Whom a rule names, whether or not they can. */
  private named(rule: Rule, centre: string | null): string[] {
    const { who } = rule
    const { people, holders } = this.world
    switch (who.kind) {
      case 'people':
        return who.personIds.filter(id => people.has(id))
      case 'holder': {
        const holder = centre === null ? undefined : holders.get(centre)
        return holder ? [holder] : []
      }
      case 'role': {
        const having = (costCentre: string | null): string[] =>
          [...people.values()]
            .filter(
              one => one.able && one.roles.some(given => given.role === who.role && given.costCentre === costCentre),
            )
            .map(one => one.id)
        const inCentre = who.inCentre ? having(centre) : []
        return inCentre.length > 0 ? inCentre : having(null)
      }
      case 'chain':
        return []
    }
  }

  /** In a group those who cannot decide are left out while others can; alone they are asked, and the step stalls where everybody sees it. */
  private thoseWhoCan(rule: Rule, ids: readonly string[]): string[] {
    const able = ids.filter(id => this.world.people.get(id)?.able)
    if (able.length === 0 || rule.need === 'all') return [...ids]
    for (const id of ids) if (!able.includes(id)) this.leave(id, rule, 'cannot')
    return able
  }

  /** The requester is left out while others remain; otherwise the next in their chain decides. */
  private withoutOwn(rule: Rule, ids: readonly string[]): Draft['approvers'][number][] {
    const { requesterId } = this.document
    const others = ids.filter(id => id !== requesterId).map(personId => ({ personId, because: RULE }))
    if (others.length === ids.length) return others
    this.leave(requesterId, rule, 'own')
    if (others.length > 0 && rule.need !== 'all') return others
    const next = this.above(requesterId)
    if (next === undefined) {
      if (others.length === 0) this.reasons.push(stop('decide.ownAndNoManager', { rule: rule.name }, STEWARD))
      return others
    }
    return [
      ...others.filter(one => one.personId !== next),
      { personId: next, because: { kind: 'insteadOf', personId: requesterId } },
    ]
  }

  private choice(rule: Rule, people: Draft['approvers'], draft: MakeDraft, amount: Minor): Draft[] {
    const ids = people.map(one => one.personId)
    const chosen = this.choices.chosen[rule.id]
    if (ids.length > 1) this.open.push({ rule: rule.name, ruleId: rule.id, personIds: ids })
    const one = ids.length === 1 ? people[0]! : people.find(other => other.personId === chosen)
    if (!one) {
      this.reasons.push(stop('decide.choose', { rule: rule.name }, { place: `chosen.${rule.id}` }))
      return []
    }
    return this.withLimit(rule, [ids.length === 1 ? one : { ...one, because: { kind: 'chosen' } }], draft, amount)
  }

  /**
   * The step, and where the amount is above the limit of everybody in it, those above them after it, until somebody's limit covers it. Who
   * has too low a limit is left out of a group while others have enough.
   */
  private withLimit(rule: Rule, people: Draft['approvers'], draft: MakeDraft, amount: Minor): Draft[] {
    const enough = people.filter(one => this.covers(one.personId, amount))
    if (enough.length > 0) {
      for (const one of people) if (!enough.includes(one)) this.leave(one.personId, rule, 'limit')
      return [draft(enough)]
    }
    const steps = [draft(people)]
    let last = this.highest(people.map(one => one.personId))
    while (!this.covers(last, amount)) {
      const next = this.above(last)
      if (next === undefined) {
        this.reasons.push(stop('decide.noAuthority', { rule: rule.name }, STEWARD))
        break
      }
      steps.push(draft([{ personId: next, because: { kind: 'aboveLimit', personId: last } }], steps.length))
      last = next
    }
    return steps
  }

  private chain(levels: number, rule: Rule, amount: Minor): Draft['approvers'][number][] {
    const people: Draft['approvers'][number][] = []
    let last = this.document.requesterId
    while (people.length < levels) {
      const next = this.above(last)
      if (next === undefined) break
      people.push({ personId: next, because: { kind: 'chain', personId: last } })
      last = next
      if (this.covers(next, amount)) return people
    }
    const code = people.length === 0 ? 'decide.nobody' : 'decide.noAuthority'
    this.reasons.push(stop(code, { rule: rule.name, costCentre: '' }, STEWARD))
    return people
  }

  private nobody(rule: Rule, centre: string | null): Draft[] {
    if (!this.reasons.some(one => one.details.rule === rule.name))
      this.reasons.push(stop('decide.nobody', { rule: rule.name, costCentre: centre ?? '' }, STEWARD))
    return []
  }

  private covers(personId: string, amount: Minor): boolean {
    const limit = this.world.people.get(personId)?.limits[this.document.kind]
    return limit === undefined || amount <= limit
  }

  private highest(ids: readonly string[]): string {
    const limitOf = (id: string): bigint => this.world.people.get(id)?.limits[this.document.kind] ?? 0n
    return ids.reduce((best, id) => (limitOf(id) > limitOf(best) ? id : best))
  }

  /** The next above somebody who can decide, never the requester. */
  private above(personId: string): string | undefined {
    const { people } = this.world
    const seen = new Set([personId])
    for (let id = people.get(personId)?.managerId; id && !seen.has(id); id = people.get(id)?.managerId) {
      if (id !== this.document.requesterId && people.get(id)?.able) return id
      seen.add(id)
    }
    return undefined
  }

  private leave(personId: string, rule: Rule, why: LeftOut['why']): void {
    this.leftOut.push({ personId, rule: rule.name, why })
  }
}

type MakeDraft = (people: Draft['approvers'], turn?: number) => Draft
const RULE: Because = { kind: 'rule' }
const STEWARD = { clearedBy: ['steward'] }

/**
 * Each person is asked once, at the latest. From the last step to the first: one whose people hold all of a later one goes into it, since
 * whoever decides there decides for both; one person alone makes a later group that they are in wait for them alone; from a group those are
 * taken out who are asked later, while others remain. So every rule is still decided by somebody whom it names.
 */
function askedOnce(steps: readonly Draft[], leftOut: LeftOut[]): Draft[] {
  const kept = new Kept()
  const keys = new Map(steps.map(step => [step, keyOf(step)]))
  const byKey = (a: Draft, b: Draft): number => (keys.get(a)! < keys.get(b)! ? -1 : keys.get(a)! > keys.get(b)! ? 1 : 0)
  const lastFirst = [...steps].sort((a, b) => -sooner(a, b) || a.approvers.length - b.approvers.length || byKey(a, b))
  for (const step of lastFirst) {
    const into =
      kept.within(step) ?? (step.approvers.length === 1 ? kept.later(step, step.approvers[0]!.personId) : undefined)
    if (into) {
      tell(step, step.approvers, into.step, leftOut)
      kept.join(into, step)
      continue
    }
    const left = step.approvers.filter(one => !kept.later(step, one.personId))
    if (left.length === 0 || left.length === step.approvers.length) {
      kept.add(step)
      continue
    }
    for (const one of step.approvers.filter(other => !left.includes(other)))
      tell(step, [one], kept.later(step, one.personId)!.step, leftOut)
    kept.add({ ...step, approvers: left })
  }
  return kept.steps().sort((a, b) => sooner(a, b) || (keyOf(a) < keyOf(b) ? -1 : 1))
}

interface KeptStep {
  step: Draft
  /** The people whom it asks. */
  people: ReadonlySet<string>
}

/** Steps that stay, found by the people whom they ask. */
class Kept {
  readonly #all: KeptStep[] = []
  readonly #byPerson = new Map<string, KeptStep[]>()

  add(step: Draft): void {
    const one = { step, people: new Set(step.approvers.map(approver => approver.personId)) }
    this.#all.push(one)
    for (const person of one.people) this.#byPerson.set(person, [...this.#of(person), one])
  }
  /** One whose people are all among those of a step. */
  within(step: Draft): KeptStep | undefined {
    const people = new Set(step.approvers.map(one => one.personId))
    for (const person of people)
      for (const one of this.#of(person)) if ([...one.people].every(id => people.has(id))) return one
    return undefined
  }
  /** One that asks somebody after a step does. */
  later(step: Draft, personId: string): KeptStep | undefined {
    return this.#of(personId).find(one => sooner(step, one.step) < 0)
  }
  /** Decides for another step, too: by those of its people whom that one asks. */
  join(into: KeptStep, step: Draft): void {
    const people = new Set(step.approvers.map(one => one.personId))
    into.step = joined({ ...into.step, approvers: into.step.approvers.filter(one => people.has(one.personId)) }, step)
    into.people = new Set(into.step.approvers.map(one => one.personId))
  }
  steps(): Draft[] {
    return this.#all.map(one => one.step)
  }
  #of(personId: string): readonly KeptStep[] {
    return (this.#byPerson.get(personId) ?? []).filter(one => one.people.has(personId))
  }
}

function tell(step: Draft, people: Draft['approvers'], into: Draft, leftOut: LeftOut[]): void {
  for (const { personId } of people)
    for (const rule of step.rules)
      leftOut.push({ personId, rule: rule.name, why: sooner(step, into) < 0 ? 'later' : 'together' })
}

const sooner = (a: Draft, b: Draft): number => a.stage - b.stage || a.turn - b.turn
/** By which steps of one turn are put in order, whatever the order of the rules. */
const keyOf = (step: Draft): string =>
  [...step.rules.map(rule => `${rule.name} ${rule.costCentre ?? ''}`), ...step.approvers.map(one => one.personId)].join(
    '|',
  )
/** One decision for the rules of both; the whole document where one of them asks for it, and the shorter time. */
const joined = (step: Draft, other: Draft): Draft => ({
  ...step,
  rules: [...step.rules, ...other.rules].sort((a, b) => (a.name < b.name ? -1 : 1)),
  lineIds: step.lineIds === null || other.lineIds === null ? null : [...new Set([...step.lineIds, ...other.lineIds])],
  hours: step.hours === null ? other.hours : other.hours === null ? step.hours : Math.min(step.hours, other.hours),
})
