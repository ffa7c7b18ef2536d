import { Decimal } from '#core/money/decimal.ts'

/**
 * How far a difference may go: per cent of the reference, and absolute. Absolute is, for a price, in the order's currency per price unit
 * of the order; for a quantity in the order's unit; for all others in the document's currency. Null: no such limit.
 */
export interface Tolerance {
  readonly percent: string | null
  readonly absolute: string | null
  /** stricter (what counts when nothing is said): within both limits · looser: within either. */
  readonly combine?: 'stricter' | 'looser'
  /** Less than was agreed is held, too, when it is further off than that. */
  readonly both?: boolean
}

export interface ToleranceProfile {
  readonly price: Tolerance
  readonly quantity: Tolerance
  readonly freight: Tolerance
  readonly tax: Tolerance
  /** What a line may cost above its ordered worth in all; not judged where nothing is set. */
  readonly amount?: Tolerance
  /** Differences of price, quantity, charges and tax that are no more than this together are let pass; nothing where nothing is set. */
  readonly smallTotal?: Tolerance
}

const NONE: Tolerance = { percent: null, absolute: null }
export const STRICT: ToleranceProfile = { price: NONE, quantity: NONE, freight: NONE, tax: NONE }

/**
 * Whether `over` is nothing, or within the limits that are set; exactly at the limit passes. No limit set: nothing above is allowed
 * (domain page, section 7). `scale` turns the absolute limit into what `over` is measured in.
 *
 * within('2', '100', { percent: '2', absolute: null }) //=> true
 */
export function within(
  over: string | Decimal,
  reference: string | Decimal,
  tolerance: Tolerance,
  scale: string | Decimal = '1',
): boolean {
  const difference = new Decimal(over)
  if (difference.lte(0)) return true
  const limits = [
    tolerance.percent === null ? null : new Decimal(reference).times(tolerance.percent).dividedBy(100),
    tolerance.absolute === null ? null : new Decimal(tolerance.absolute).times(scale),
  ].filter(limit => limit !== null)
  const holds = (limit: Decimal): boolean => difference.lte(limit)
  return limits.length > 0 && (tolerance.combine === 'looser' ? limits.some(holds) : limits.every(holds))
}
