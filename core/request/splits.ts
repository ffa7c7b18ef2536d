import { Decimal, isDecimalText, sumDecimals, tidy } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** What the figures of a split are: parts (1 : 1), percentages, amounts in the line's currency, or quantities in its unit. */
export const SPLIT_BY = ['share', 'percent', 'amount', 'quantity'] as const
export type SplitBy = (typeof SPLIT_BY)[number]

export interface Split {
  readonly accountId: string
  /** A weight above zero; parts re-add by largest remainder whatever it counts. */
  readonly share: string
}
export interface SplitWhole {
  /** The line's amount in its currency, as decimal text. */
  readonly amount: string
  readonly quantity: string
}

const POSITIVE = (text: string): boolean => isDecimalText(text) && new Decimal(text).gt(0)

/** What the figures have to add up to; parts need no sum. wholeOf('percent', …) //=> '100' */
export const wholeOf = (by: SplitBy, whole: SplitWhole): string | null =>
  by === 'share' ? null : by === 'percent' ? '100' : by === 'amount' ? whole.amount : whole.quantity

/** What is left to give out, with its sign; null where the figures are parts. leftOver('percent', [{ share: '60' }], …) //=> '40' */
export function leftOver(by: SplitBy, splits: readonly Split[], whole: SplitWhole): string | null {
  const total = wholeOf(by, whole)
  return total === null
    ? null
    : tidy(new Decimal(total).minus(sumDecimals(splits.map(split => (isDecimalText(split.share) ? split.share : '0')))))
}

/** Faults of a split: an account twice, a figure that is not above zero, figures that do not add. */
export function checkSplits(by: SplitBy, splits: readonly Split[], whole: SplitWhole, position: number): Reason[] {
  const extra = { place: `lines.${position}.splits` }
  if (splits.length === 0) return [stop('line.noAccount', {}, extra)]
  if (
    new Set(splits.map(split => split.accountId)).size !== splits.length ||
    splits.some(split => !POSITIVE(split.share))
  )
    return [stop('line.shares', {}, extra)]
  const left = splits.length === 1 ? '0' : leftOver(by, splits, whole)
  return left === null || new Decimal(left).isZero()
    ? []
    : [stop('line.splitsAdd', { left, whole: wholeOf(by, whole) ?? '', by }, extra)]
}

/**
 * Keeps a split adding up while one of its figures is typed: the last other row takes what is left, as long as that stays above zero.
 *
 * balanced('percent', [{ share: '70' }, { share: '50' }], 0, …) //=> [{ share: '70' }, { share: '30' }]
 */
export function balanced(by: SplitBy, splits: readonly Split[], typed: number, whole: SplitWhole): Split[] {
  const total = wholeOf(by, whole)
  const taker = splits.length - 1 === typed ? splits.length - 2 : splits.length - 1
  if (total === null || taker < 0) return [...splits]
  const others = sumDecimals(
    splits.filter((_, index) => index !== taker).map(split => (isDecimalText(split.share) ? split.share : '0')),
  )
  const rest = new Decimal(total).minus(others)
  return rest.lte(0)
    ? [...splits]
    : splits.map((split, index) => (index === taker ? { ...split, share: tidy(rest) } : split))
}

/**
 * The same split counted otherwise. Figures are rounded to `digits`, and the last row takes the rounding, so that they add.
 *
 * recount('share', 'percent', [{ share: '1' }, { share: '2' }], …) //=> [{ share: '33.33' }, { share: '66.67' }]
 */
export function recount(to: SplitBy, splits: readonly Split[], whole: SplitWhole, digits = 2): Split[] {
  const total = wholeOf(to, whole)
  const weights = splits.map(split => (POSITIVE(split.share) ? new Decimal(split.share) : new Decimal(0)))
  const sum = sumDecimals(weights)
  if (total === null || sum.isZero() || splits.length === 0) return [...splits]
  const parts = weights.map(weight => weight.times(total).dividedBy(sum).toDecimalPlaces(digits))
  const rest = new Decimal(total).minus(sumDecimals(parts.slice(0, -1)))
  return splits.map((split, index) => ({ ...split, share: tidy(index === splits.length - 1 ? rest : parts[index]!) }))
}
