import { RuleBroken, stop } from '#core/reasons.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'

/**
 * Splits `total` in proportion to `weights` so that the parts re-add to it, also below zero.
 * Parts are rounded down, left-over units go one each to the largest remainders, ties to the earlier split
 * (largest-remainder method of Hamilton; domain page, section 1).
 *
 * allocate(minor(100), ['1', '1', '1']) //=> [34n, 33n, 33n]
 * @throws RuleBroken money.noShares where the weights are negative or all zero
 */
export function allocate(total: Minor, weights: readonly string[]): Minor[] {
  const whole = wholeWeights(weights)
  const weightSum = whole.reduce((sum, weight) => sum + weight, 0n)
  if (weightSum === 0n || whole.some(weight => weight < 0n))
    throw new RuleBroken(stop('money.noShares', { parts: weights.length }))
  const negative = total < 0n
  const size = negative ? -total : total
  const exact = whole.map(weight => size * weight)
  const floors = exact.map(value => value / weightSum)
  const remainders = exact.map((value, index) => value - floors[index]! * weightSum)
  const leftOver = Number(size - floors.reduce((sum, part) => sum + part, 0n))
  const favoured = new Set(
    [...remainders.keys()]
      .sort((a, b) => compareDescending(remainders[a]!, remainders[b]!) || a - b)
      .slice(0, leftOver),
  )
  return floors.map((part, index) => minor((favoured.has(index) ? part + 1n : part) * (negative ? -1n : 1n)))
}

function wholeWeights(weights: readonly string[]): bigint[] {
  return weights.map(weight => BigInt(new Decimal(weight).times(1_000_000).toFixed(0)))
}

const compareDescending = (a: bigint, b: bigint): number => (a > b ? -1 : a < b ? 1 : 0)
