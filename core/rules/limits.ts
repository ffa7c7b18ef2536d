import type { Minor } from '#core/money/amount.ts'
import { DECIDED_KINDS, type DecidedKind } from '#core/rules/facts.ts'

/** Up to which amount somebody decides alone, by kind, in the base currency's smallest unit; a kind that is missing has no limit. */
export type Limits = Readonly<Partial<Record<DecidedKind, Minor>>>

/**
 * Kinds of which somebody may decide more than before: that is power over money.
 *
 * loosened({ requisition: minor(100) }, { requisition: minor(200), run: minor(5) }) //=> ['requisition']
 */
export const loosened = (before: Limits, after: Limits): DecidedKind[] =>
  DECIDED_KINDS.filter(kind => {
    const [was, is] = [before[kind], after[kind]]
    return was !== undefined && (is === undefined || is > was)
  })
