import { Decimal, decimal } from '#core/money/decimal.ts'

/** What was paid for one of an item's own units, exactly, in the base currency. */
export interface UnitPrice {
  readonly price: string
  readonly priceBase: string
  /** To the base currency, at the rate of the document. */
  readonly rate: string
  readonly unit: string
}

/**
 * How much dearer something is than last time, in whole per cent, rounded half away from zero; below zero it is cheaper. Nothing can be said
 * where the units differ or it was free.
 *
 * dearer({ price: '89', priceBase: '1', rate: '1', unit: 'C62' }, { price: '100', priceBase: '1', rate: '1', unit: 'C62' }) //=> -11
 */
export function dearer(now: UnitPrice, then: UnitPrice): number | null {
  if (now.unit !== then.unit) return null
  const of = (one: UnitPrice): Decimal => decimal(one.price).mul(one.rate).div(one.priceBase)
  const before = of(then)
  if (before.isZero()) return null
  return of(now).sub(before).mul(100).div(before).toDecimalPlaces(0, Decimal.ROUND_HALF_UP).toNumber()
}
