import { Decimal, tidy } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { PriceTier } from '#core/request/offer.ts'

/** Prices of an offer from a day on, until the next ones begin. */
export interface DatedPrices {
  readonly fromDay: string
  /** The number of units that a price is for. */
  readonly priceBase: string
  readonly tiers: readonly PriceTier[]
}

/** The prices in force on a day; undefined before the first. */
export const pricesOn = <P extends DatedPrices>(all: readonly P[], day: string): P | undefined =>
  all
    .filter(one => one.fromDay <= day)
    .reduce<P | undefined>((last, one) => (last && last.fromDay > one.fromDay ? last : one), undefined)

/** The first price of a whole unit, for comparing what is priced per 1 with what is priced per 100. unitPrice({ priceBase: '100', tiers: [{ from: '1', price: '25' }] }) //=> 0.25 */
export const unitPrice = ({ priceBase, tiers }: Pick<DatedPrices, 'priceBase' | 'tiers'>): Decimal =>
  new Decimal(tiers[0]!.price).div(priceBase)

/** By how many percent the first price changes, with one digit, half away from zero. percentBetween('4', '5') //=> '25' */
export const percentBetween = (before: Decimal, after: Decimal): string =>
  after.minus(before).div(before).times(100).toDecimalPlaces(1, Decimal.ROUND_HALF_UP).toFixed()

/** A change of many prices at once. */
export interface PriceChange {
  /** Percent by which every price changes; below zero they fall. */
  readonly percent: string
  /** Digits after the point to which the new prices are rounded, half away from zero. */
  readonly places: number
}
const LEAST = -90
const MOST = 900
const PLACES = 6

/** Why prices cannot be changed so. */
export function whyNotChange({ percent, places }: PriceChange): Reason[] {
  const by = new Decimal(percent)
  const wrong: Reason[] = []
  if (by.isZero() || by.lt(LEAST) || by.gt(MOST))
    wrong.push(stop('price.percent', { least: LEAST, most: MOST }, { place: 'percent' }))
  if (!Number.isInteger(places) || places < 0 || places > PLACES)
    wrong.push(stop('price.places', { most: PLACES }, { place: 'places' }))
  return wrong
}

/**
 * Tiers after a change. changedTiers([{ from: '1', price: '4.20' }], { percent: '-2.5', places: 2 }) //=> [{ from: '1', price: '4.1' }]
 *
 * A price that would be rounded to nothing keeps as many digits as it needs.
 */
export function changedTiers(tiers: readonly PriceTier[], { percent, places }: PriceChange): PriceTier[] {
  const factor = new Decimal(percent).div(100).plus(1)
  return tiers.map(({ from, price }) => {
    const exact = new Decimal(price).times(factor)
    const rounded = exact.toDecimalPlaces(places, Decimal.ROUND_HALF_UP)
    return { from, price: rounded.gt(0) ? rounded.toFixed() : tidy(exact) }
  })
}

/** Whether two offers ask the same for the same. samePrices({ priceBase: '1', tiers: [{ from: '1', price: '4.20' }] }, { priceBase: '1', tiers: [{ from: '1.0', price: '4.2' }] }) //=> true */
export function samePrices(
  a: Pick<DatedPrices, 'priceBase' | 'tiers'>,
  b: Pick<DatedPrices, 'priceBase' | 'tiers'>,
): boolean {
  const text = ({ priceBase, tiers }: Pick<DatedPrices, 'priceBase' | 'tiers'>): string =>
    [priceBase, ...tiers.flatMap(tier => [tier.from, tier.price])]
      .map(figure => new Decimal(figure).toFixed())
      .join(' ')
  return text(a) === text(b)
}
