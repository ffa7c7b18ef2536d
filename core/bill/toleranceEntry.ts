import { type Reason, stop } from '#core/reasons.ts'

/** What a tolerance is about. `smallTotal` is of all differences of an invoice together. */
export const TOLERANCES = ['price', 'quantity', 'amount', 'freight', 'tax', 'smallTotal'] as const
export type ToleranceOf = (typeof TOLERANCES)[number]
/** Those that can hold what is less than agreed, too: of quantities less is a part, and tax is judged both ways as it is. */
const BOTH_WAYS: readonly ToleranceOf[] = ['price', 'freight']

/** One limit that a house has set: for whom it holds, and from which day. Empty: for all. */
export interface ToleranceRule {
  readonly of: ToleranceOf
  /** Number of a supplier. */
  readonly supplier: string
  /** Name of a category of what is bought; only lines have one. */
  readonly category: string
  readonly currency: string
  /** The least value from which it holds, in whole units of the base currency; of the ordered line, else of the document. */
  readonly above: string
  readonly from: string
  readonly percent: string | null
  readonly absolute: string | null
  readonly combine: 'stricter' | 'looser'
  /** Less than was agreed is held, too. */
  readonly both: boolean
}

/** An entry of the register of tolerances as a rule. */
export const toleranceRule = (values: Readonly<Record<string, string>>): ToleranceRule => ({
  of: values.of as ToleranceOf,
  supplier: values.supplier ?? '',
  category: values.category ?? '',
  currency: values.currency ?? '',
  above: values.above || '0',
  from: values.from ?? '',
  percent: values.percent || null,
  absolute: values.absolute || null,
  combine: values.combine === 'looser' ? 'looser' : 'stricter',
  both: values.ways === 'both',
})

/** What stands against a tolerance: one without a limit, or below the agreement where less is never held. */
export function whyNotTolerance(values: Readonly<Record<string, string>>): Reason[] {
  if (!TOLERANCES.some(one => one === values.of)) return []
  const rule = toleranceRule(values)
  return [
    ...(rule.percent === null && rule.absolute === null ? [stop('tolerance.noLimit', {}, { place: 'percent' })] : []),
    ...(rule.both && !BOTH_WAYS.includes(rule.of) ? [stop('tolerance.oneWay', {}, { place: 'ways' })] : []),
    ...(rule.category !== '' && !OF_LINES.includes(rule.of)
      ? [stop('tolerance.ofLines', {}, { place: 'category' })]
      : []),
  ]
}
const OF_LINES: readonly ToleranceOf[] = ['price', 'quantity', 'amount']
