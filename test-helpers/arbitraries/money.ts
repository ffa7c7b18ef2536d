import fc from 'fast-check'
import { minor, type Minor } from '#core/money/amount.ts'

/** Amounts in a smallest unit, above and below zero, up to a thousand million. */
export const anyMinor = (): fc.Arbitrary<Minor> =>
  fc.bigInt({ min: -100_000_000_000n, max: 100_000_000_000n }).map(minor)

/** One to twelve weights, not all nought. */
export const someWeights = (): fc.Arbitrary<string[]> =>
  fc
    .array(fc.integer({ min: 0, max: 10_000 }), { minLength: 1, maxLength: 12 })
    .filter(list => list.some(weight => weight > 0))
    .map(list => list.map(String))

/** A quantity above zero with up to six digits after the point, as text. */
export const someQuantity = (): fc.Arbitrary<string> =>
  fc.integer({ min: 1, max: 2_000_000_000 }).map(units => (units / 1_000_000).toFixed(6).replace(/\.?0+$/, ''))
