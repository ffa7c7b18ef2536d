import { saysWhy } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { normalName, plainLetters } from '#core/source/names.ts'

/** A row of a record that may move to another: what makes it the same as one that is there already. */
export interface MovingRow {
  readonly id: string
  readonly same: string
}

/** Which rows of the merged record move to the one that is kept; those that say the same stay where they are. */
export function rowsToMove(
  kept: readonly MovingRow[],
  merged: readonly MovingRow[],
): { move: string[]; stay: string[] } {
  const there = new Set(kept.map(row => row.same))
  const move: string[] = []
  const stay: string[] = []
  for (const row of merged) (there.has(row.same) ? stay : move).push(row.id)
  return { move, stay }
}

const plain = (text: string): string => plainLetters(text).replace(/[^\p{L}\p{N}@]/gu, '')
/** What makes two locations one. */
export const sameLocation = (one: { street: string; postalCode: string; city: string; country: string }): string =>
  [plain(one.street), plain(one.postalCode), plain(one.city), one.country].join(' ')
/** What makes two contacts one: the mail address, else the name. */
export const sameContact = (one: { name: string; email: string }): string =>
  one.email ? one.email.toLowerCase() : plain(one.name)
export const sameName = (name: string): string => normalName(name).joined || plain(name)

export interface MergeFacts {
  readonly keptId: string
  readonly mergedId: string
  readonly kept: {
    readonly name: string
    readonly state: string
    readonly mergedInto: string | null
    readonly kind: string
  }
  readonly merged: {
    readonly name: string
    readonly state: string
    readonly mergedInto: string | null
    readonly kind: string
  }
  /** Open invoices of both that carry one number. */
  readonly sameInvoices: readonly string[]
  /** Invoices of the merged record that are not paid: their money would go to the account of the other. */
  readonly unpaidInvoices: readonly string[]
  /** Payment runs under way that pay the merged record. */
  readonly openRuns: readonly string[]
}

/** What stands in the way of a merge. */
export function mergeReasons(facts: MergeFacts): Reason[] {
  const { kept, merged } = facts
  return [
    ...whyNotItself(facts.keptId, facts.mergedId),
    ...whyNotChange(merged),
    ...whyNotChange(kept),
    ...(kept.kind !== merged.kind ? [stop('merge.kinds')] : []),
    ...(kept.state === 'closed' || kept.state === 'barred'
      ? [stop('merge.keptState', { name: kept.name, state: kept.state })]
      : []),
    ...facts.sameInvoices.map(number => stop('merge.sameInvoice', { number })),
    ...facts.openRuns.map(run => stop('merge.inRun', { run }, { clearedBy: ['treasurer'] })),
  ]
}

/** Days in which a merge can be undone (domain page, section 4). */
export const UNDO_DAYS = 30
/** The last instant at which a merge of that instant can be undone. */
export const undoUntil = (at: string): string => new Date(Date.parse(at) + UNDO_DAYS * 86_400_000).toISOString()

/** What stands in the way of changing a record: it was merged into another, which is the one to change. */
export const whyNotChange = (record: { readonly name: string; readonly mergedInto: string | null }): Reason[] =>
  record.mergedInto === null ? [] : [stop('merge.already', { name: record.name })]

/** What stands in the way of bringing two records together, or telling them apart: they are one. */
export const whyNotItself = (oneId: string, otherId: string): Reason[] =>
  oneId === otherId ? [stop('merge.itself')] : []

/** What stands in the way of taking a merge back: it was taken back, its thirty days are over, or the record that was kept is merged itself. */
export function whyNotUndo(
  merge: { readonly at: string; readonly undoneAt: string | null },
  kept: { readonly name: string; readonly mergedInto: string | null },
  now: string,
): Reason[] {
  if (merge.undoneAt !== null) return [stop('merge.undone')]
  const until = undoUntil(merge.at)
  if (now > until) return [stop('merge.tooLate', { until: until.slice(0, 10) })]
  return kept.mergedInto === null ? [] : [stop('merge.keptMerged', { name: kept.name })]
}

/** What stands in the way of saying of two records that look alike that they are different: nobody says why, or they were merged. */
export const whyNotTellApart = (pair: { readonly state: string }, different: boolean, reason: string): Reason[] => [
  ...(different && !saysWhy(reason) ? [stop('merge.whyDifferent', {}, { place: 'reason' })] : []),
  ...(pair.state === 'merged' ? [stop('merge.pairMerged')] : []),
]
