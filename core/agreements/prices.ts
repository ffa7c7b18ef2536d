import type { AgreementContent, AgreementLine, IndexPricing, Pricing } from '#core/agreements/content.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import { type PriceTier, tierAt } from '#core/request/offer.ts'
import { type DatedPrices, pricesOn } from '#core/request/prices.ts'

/** What an index was in a month. What is published later for the same month takes its place. */
export interface IndexValue {
  readonly index: string
  /** The first day of the month. */
  readonly month: string
  readonly value: string
}

export interface IndexPrice {
  readonly price: string
  /** The month whose value it stands on; empty before the first: then the base price holds. */
  readonly month: string
  /** The value of its own month is not known yet: the last one before holds until then. */
  readonly provisional: boolean
  /** Which limit it was kept within. */
  readonly held: 'lowest' | 'highest' | null
}

/** Digits after the point of a price that follows an index. */
const INDEX_DIGITS = 4

/**
 * The price of a day by its index: base × (fixed share + (1 − fixed share) × index ÷ index at the base), then not below the lowest and not above the
 * highest; four digits, half away from zero. The value of the day's month counts, and while that is missing the last one before it.
 *
 * indexPriceOn({ basePrice: '2', fixedShare: '0.4', baseValue: '100', … }, [{ month: '2026-05-01', value: '110' }], '2026-05-20') //=> price '2.12'
 */
export function indexPriceOn(pricing: IndexPricing, values: readonly IndexValue[], day: string): IndexPrice {
  const month = `${day.slice(0, 7)}-01`
  const last = values
    .filter(one => one.index === pricing.index && one.month <= month)
    .reduce<IndexValue | undefined>((best, one) => (best && best.month > one.month ? best : one), undefined)
  const ratio = last ? new Decimal(last.value).dividedBy(pricing.baseValue) : new Decimal(1)
  const fixed = new Decimal(pricing.fixedShare)
  const raw = new Decimal(pricing.basePrice).times(fixed.plus(new Decimal(1).minus(fixed).times(ratio)))
  const [price, held] = within(raw, pricing)
  return {
    price: tidy(price.toDecimalPlaces(INDEX_DIGITS, Decimal.ROUND_HALF_UP)),
    month: last?.month ?? '',
    provisional: last?.month !== month,
    held,
  }
}

function within(price: Decimal, { lowest, highest }: IndexPricing): [Decimal, IndexPrice['held']] {
  if (lowest !== '' && price.lt(lowest)) return [new Decimal(lowest), 'lowest']
  if (highest !== '' && price.gt(highest)) return [new Decimal(highest), 'highest']
  return [price, null]
}

/** The prices of a line on a day, by quantity; before its first period those of the first. */
export function tiersOn(pricing: Pricing, values: readonly IndexValue[], day: string): readonly PriceTier[] {
  if (pricing.kind === 'tiers') return pricing.tiers
  if (pricing.kind === 'index') return [{ from: '0', price: indexPriceOn(pricing, values, day).price }]
  const dated = pricing.periods.map(one => ({ fromDay: one.from, priceBase: '1', tiers: one.tiers }))
  const first = [...dated].sort((a, b) => (a.fromDay < b.fromDay ? -1 : 1))[0]!
  return (pricesOn(dated, day) ?? first).tiers
}

/** The price of a quantity on a day, for the line's price base. */
export const priceOn = (
  line: Pick<AgreementLine, 'pricing'>,
  quantity: string,
  values: readonly IndexValue[],
  day: string,
): string => tierAt(tiersOn(line.pricing, values, day), quantity).price

/** What the catalogue has to know of a line's prices from a day on: those that hold then, and those that are known to begin later. */
export function pricesAhead(
  line: Pick<AgreementLine, 'pricing' | 'priceBase'>,
  { startsOn }: Pick<AgreementContent, 'startsOn'>,
  values: readonly IndexValue[],
  today: string,
): DatedPrices[] {
  const from = startsOn > today ? startsOn : today
  const now = { fromDay: from, priceBase: line.priceBase, tiers: tiersOn(line.pricing, values, from) }
  const later = line.pricing.kind === 'periods' ? line.pricing.periods.filter(one => one.from > from) : []
  return [now, ...later.map(one => ({ fromDay: one.from, priceBase: line.priceBase, tiers: one.tiers }))]
}
