import type { ConsentPurpose, StepState } from '#core/consent/consent.ts'
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

/** What people may be asked to say yes to, by the kind of document that limits and rules know it as. */
export const RULED_PURPOSES: Readonly<Partial<Record<ConsentPurpose, DecidedKind>>> = {
  approval: 'requisition',
  transfer: 'transfer',
  onboarding: 'onboarding',
  run: 'run',
  excess: 'orderExcess',
  difference: 'billDifference',
  award: 'award',
}

/** A step as limits see it. */
export interface LimitedStep {
  readonly state: StepState
  readonly personIds: readonly string[]
  readonly rules: readonly {
    readonly name: string
    readonly costCentre: string | null
    readonly measured: Minor | null
  }[]
}

/**
 * Whether a step is above what everybody decides whom it asks, while nobody with enough decides after or beside them for the same rule: limits
 * were lowered since. A limit of exactly the amount is enough; no limit always is.
 */
export function isBeyond(
  step: LimitedStep,
  steps: readonly LimitedStep[],
  limitOf: (personId: string) => Minor | undefined,
): boolean {
  const counting = steps.filter(one => one.state === 'open' || one.state === 'later' || one.state === 'approved')
  return step.rules.some(({ name, costCentre, measured }) => {
    if (measured === null) return false
    const enough = (personId: string): boolean => {
      const limit = limitOf(personId)
      return limit === undefined || measured <= limit
    }
    return !counting.some(
      one => one.personIds.some(enough) && one.rules.some(rule => rule.name === name && rule.costCentre === costCentre),
    )
  })
}
