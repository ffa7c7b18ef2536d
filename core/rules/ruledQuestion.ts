import type { NewConsent } from '#core/consent/consent.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type Path, turnsOf } from '#core/rules/path.ts'

/** A question with its steps, and for each of these the step of the way that it comes from; none where no rule asks. */
export type Ruled =
  | { readonly ok: true; readonly question: NewConsent; readonly from: Path['steps'] }
  | { readonly ok: false; readonly reasons: readonly Reason[] }

/**
 * The question about a document that rules may decide: stage by stage those whom the rules ask; where no rule applies, those whom the house
 * asks anyway. Whoever may not decide the standing question (who asked, whom it is about) decides none of the steps.
 */
export function ruledQuestion(standing: NewConsent, path: Path, right: string): Ruled {
  if (path.reasons.length > 0) return { ok: false, reasons: path.reasons }
  if (path.steps.length === 0) return { ok: true, question: standing, from: [] }
  const notBy = [...new Set(standing.steps.flatMap(step => step.notBy))]
  const turns = turnsOf(path.steps)
  const steps = path.steps.map((step, index) => ({
    stage: turns[index]!,
    asked: step.approvers
      .filter(one => !notBy.includes(one.personId))
      .map(one => ({ kind: 'person' as const, personId: one.personId, right })),
    notBy,
    label: step.rules.map(rule => rule.name).join(', '),
  }))
  const empty = path.steps.filter((_step, index) => steps[index]!.asked.length === 0)
  if (empty.length > 0)
    return {
      ok: false,
      reasons: empty.map(step =>
        stop('decide.ruleAsksOwn', { rule: step.rules[0]?.name ?? '' }, { clearedBy: ['steward'] }),
      ),
    }
  return { ok: true, question: { ...standing, steps }, from: path.steps }
}
