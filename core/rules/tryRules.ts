import type { DecidedDocument } from '#core/rules/facts.ts'
import type { CompiledRules } from '#core/rules/match.ts'
import { approvalPath, type Path, type PathWorld } from '#core/rules/path.ts'

/** A document of the past that rules are tried on. */
export interface TriedDocument {
  readonly id: string
  readonly document: DecidedDocument
}

/** A document that would have gone another way: whom it asked, turn by turn, and whom it would ask. */
export interface OtherWay {
  readonly id: string
  readonly before: readonly (readonly string[])[]
  readonly after: readonly (readonly string[])[]
}

export interface Trial {
  readonly tried: number
  readonly others: readonly OtherWay[]
  /** How many decisions each person would be asked for, then and with the draft. */
  readonly people: readonly { readonly personId: string; readonly before: number; readonly after: number }[]
  /** Documents that nobody would decide. */
  readonly undecided: readonly string[]
  /** Documents for which a rule finds nobody who could decide, with the codes why. */
  readonly stuck: readonly { readonly id: string; readonly rule: string; readonly code: string }[]
  /** Two rules that ask for one decision, and for how many documents: one of them may be more than is needed. */
  readonly overlaps: readonly { readonly rules: readonly [string, string]; readonly documents: number }[]
  /** Rules about such documents that none of the time meets. */
  readonly idle: readonly string[]
}

/**
 * What a draft of rules would have done in the past: with the people, limits and holders of today, so that only the rules differ.
 */
export function tryRules(
  documents: readonly TriedDocument[],
  before: CompiledRules,
  after: CompiledRules,
  world: PathWorld,
): Trial {
  const others: OtherWay[] = []
  const counts = new Map<string, { before: number; after: number }>()
  const overlaps = new Map<string, number>()
  const used = new Set<string>()
  const undecided: string[] = []
  const stuck: { id: string; rule: string; code: string }[] = []
  for (const { id, document } of documents) {
    const old = approvalPath(before, document, world)
    const made = approvalPath(after, document, world)
    count(counts, old, 'before')
    count(counts, made, 'after')
    const [was, is] = [turns(old), turns(made)]
    if (JSON.stringify(was) !== JSON.stringify(is)) others.push({ id, before: was, after: is })
    if (made.steps.length === 0 && made.reasons.length === 0) undecided.push(id)
    for (const reason of made.reasons)
      if (reason.code !== 'decide.choose') stuck.push({ id, rule: String(reason.details.rule), code: reason.code })
    for (const step of made.steps) {
      for (const rule of step.rules) used.add(rule.ruleId)
      const names = [...new Set(step.rules.map(rule => rule.name))].sort()
      for (const [index, one] of names.entries())
        for (const other of names.slice(index + 1)) {
          const key = JSON.stringify([one, other])
          overlaps.set(key, (overlaps.get(key) ?? 0) + 1)
        }
    }
  }
  return {
    tried: documents.length,
    others,
    people: [...counts]
      .map(([personId, both]) => ({ personId, ...both }))
      .sort((a, b) => b.after - a.after || (a.personId < b.personId ? -1 : 1)),
    undecided,
    stuck,
    overlaps: [...overlaps]
      .map(([key, number]) => ({ rules: JSON.parse(key) as [string, string], documents: number }))
      .sort((a, b) => b.documents - a.documents || (a.rules.join() < b.rules.join() ? -1 : 1)),
    idle: after.rules
      .filter(rule => !used.has(rule.id) && documents.some(one => rule.kinds.includes(one.document.kind)))
      .map(rule => rule.name),
  }
}

function count(counts: Map<string, { before: number; after: number }>, path: Path, which: 'before' | 'after'): void {
  for (const { personId } of path.steps.flatMap(step => step.approvers)) {
    const both = counts.get(personId) ?? { before: 0, after: 0 }
    both[which]++
    counts.set(personId, both)
  }
}

/** Whom a path asks, turn by turn; those of a group are one of several. */
const turns = (path: Path): string[][] => path.steps.map(step => step.approvers.map(one => one.personId).sort())
