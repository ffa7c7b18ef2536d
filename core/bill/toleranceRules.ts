import { STRICT, type Tolerance, type ToleranceProfile } from '#core/bill/tolerance.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { TOLERANCES, type ToleranceRule } from '#core/bill/toleranceEntry.ts'

/** What is judged: a document, or a line of it. */
export interface ToleranceCase {
  readonly supplier: string
  /** Of what is bought and those above it, the nearest first; a document has none. */
  readonly categories: readonly string[]
  readonly currency: string
  /** Base currency for one unit of `currency`. */
  readonly rate: string
  readonly base: string
  /** In the base currency. */
  readonly value: string | Decimal
  /** The day whose version counts. */
  readonly on: string
}

/**
 * The limits that hold for a case. Of those that fit, the one with a supplier goes before the one with a category, that before the one with the
 * higher value, that before the one with a currency; among equals the version that began last. An absolute limit that names no currency is in
 * the base currency and converted; of quantities it is in the order's unit. A profile of `strict` allows nothing.
 *
 * profileFor([{ of: 'price', percent: '2', … }], { supplier: 'S-1', … }).price.percent //=> '2'
 */
export function profileFor(
  rules: readonly ToleranceRule[],
  one: ToleranceCase,
  profile = 'standard',
): ToleranceProfile {
  if (profile === 'strict') return STRICT
  const limits = TOLERANCES.flatMap(of => {
    const best = rules.filter(rule => rule.of === of && fits(rule, one)).sort(nearerFirst(one))[0]
    return best ? [[of, limitOf(best, one)] as const] : []
  })
  return { ...STRICT, ...Object.fromEntries(limits) }
}

const fits = (rule: ToleranceRule, one: ToleranceCase): boolean =>
  rule.from <= one.on &&
  (['supplier', 'currency'] as const).every(key => rule[key] === '' || rule[key] === one[key]) &&
  (rule.category === '' || one.categories.includes(rule.category)) &&
  new Decimal(one.value).gte(rule.above)

const nearerFirst =
  ({ categories }: ToleranceCase) =>
  (a: ToleranceRule, b: ToleranceRule): number =>
    Number(b.supplier !== '') - Number(a.supplier !== '') ||
    farOf(a, categories) - farOf(b, categories) ||
    new Decimal(b.above).comparedTo(a.above) ||
    Number(b.currency !== '') - Number(a.currency !== '') ||
    (a.from < b.from ? 1 : a.from > b.from ? -1 : 0)
const farOf = (rule: ToleranceRule, categories: readonly string[]): number =>
  rule.category === '' ? categories.length : categories.indexOf(rule.category)

function limitOf({ of, percent, absolute, combine, both, currency }: ToleranceRule, one: ToleranceCase): Tolerance {
  const converts = absolute !== null && currency === '' && of !== 'quantity' && one.currency !== one.base
  return {
    percent,
    absolute: converts ? tidy(new Decimal(absolute).dividedBy(one.rate)) : absolute,
    ...(combine === 'looser' ? { combine } : {}),
    ...(both ? { both } : {}),
  }
}
