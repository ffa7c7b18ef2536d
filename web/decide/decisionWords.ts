import type { DecisionItem } from '#contract/decide/endpoints.ts'
import { label } from '#web/shared/words.ts'

/** Why something comes to somebody, as a sentence: "Comes to you by the rule Budget holder, LS-210." */
export function becauseWords({
  byRule,
  because,
  waitsFor,
  outcome,
}: Pick<DecisionItem, 'byRule' | 'because' | 'waitsFor' | 'outcome'>): string {
  const rules = [...new Set(because.map(one => `${one.rule}${one.costCentre ? `, ${one.costCentre}` : ''}`))].join('; ')
  const [first] = because
  const extra = first && first.why !== 'rule' && first.why !== 'chain' ? ` (${`${label('because', first.why)} ${first.of}`.trim()})` : '' // prettier-ignore
  if (rules === '') return ''
  const named = `${byRule ? 'by the rule' : 'for'} ${rules}${extra}.`
  return waitsFor !== '' || outcome !== null ? `${named[0]!.toUpperCase()}${named.slice(1)}` : `Comes to you ${named}`
}
