import type { DecisionItem } from '#contract/decide/endpoints.ts'
import { label } from '#web/shared/words.ts'

/** Why something comes to somebody, as a sentence: "Comes to you because it is charged to LS-210 (Holders decide)." */
export function becauseWords({
  because,
  waitsFor,
  outcome,
}: Pick<DecisionItem, 'because' | 'waitsFor' | 'outcome'>): string {
  const rules = [...new Set(because.map(one => `${one.rule}${one.costCentre ? `, ${one.costCentre}` : ''}`))].join('; ')
  const [first] = because
  const extra = first && first.why !== 'rule' && first.why !== 'chain' ? ` (${`${label('because', first.why)} ${first.of}`.trim()})` : '' // prettier-ignore
  if (rules === '') return ''
  return waitsFor !== '' || outcome !== null
    ? `By the rule ${rules}${extra}.`
    : `Comes to you by the rule ${rules}${extra}.`
}
