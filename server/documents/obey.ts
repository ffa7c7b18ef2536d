import type { Decision, Done } from '#core/acts/decision.ts'
import { type Reason, RuleBroken } from '#core/reasons.ts'

/** What follows from a decision, or its refusal thrown. A refusal that keeps something is dealt with before by its act. */
export function obey<Next>(decision: Decision<Next>): Done<Next> {
  if (decision.ok) return decision
  throw new RuleBroken(decision.reasons)
}

/** @throws RuleBroken when anything stands in the way */
export function refuse(reasons: readonly Reason[]): void {
  if (reasons.length > 0) throw new RuleBroken(reasons)
}
