import type { BuildFacts } from '#core/build/facts.ts'
import type { BuildOffer } from '#core/build/offers.ts'
import { samePrices, unitPrice } from '#core/request/prices.ts'
import { Decimal } from '#core/money/decimal.ts'

/** Something that is otherwise today than on the day that a costing is priced on. Per cents have one digit. */
export type Change =
  | { readonly kind: 'price'; readonly itemId: string; readonly supplierId: string; readonly percent: string }
  | { readonly kind: 'terms' | 'newOffer' | 'offerGone'; readonly itemId: string; readonly supplierId: string }
  | { readonly kind: 'discontinued'; readonly itemId: string }
  | { readonly kind: 'rate'; readonly currency: string; readonly percent: string }

const inForce = (offer: BuildOffer, day: string): boolean =>
  offer.validFrom <= day && (offer.validTo === null || offer.validTo >= day)
const percent = (before: Decimal, after: Decimal): string =>
  after.minus(before).div(before).times(100).toDecimalPlaces(1, Decimal.ROUND_HALF_UP).toFixed()

/**
 * What has changed from the facts of one day to those of another, offer by offer, the greatest changes of price first: prices (by the first of each
 * offer, per unit), other terms, offers that came and went, items that ended, rates of the currencies that offers are in.
 */
export function changesBetween(before: BuildFacts, after: BuildFacts): Change[] {
  const was = new Map(before.offers.filter(one => inForce(one, before.pricedOn)).map(one => [one.id, one]))
  const is = new Map(after.offers.filter(one => inForce(one, after.pricedOn)).map(one => [one.id, one]))
  const changes: Change[] = []
  for (const offer of is.values()) {
    const old = was.get(offer.id)
    const whose = { itemId: offer.itemId, supplierId: offer.supplierId }
    if (!old) changes.push({ kind: 'newOffer', ...whose })
    else if (!samePrices(old, offer)) {
      const by = percent(unitPrice(old), unitPrice(offer))
      changes.push(by === '0' ? { kind: 'terms', ...whose } : { kind: 'price', ...whose, percent: by })
    } else if (termsOf(old) !== termsOf(offer)) changes.push({ kind: 'terms', ...whose })
  }
  for (const old of was.values())
    if (!is.has(old.id)) changes.push({ kind: 'offerGone', itemId: old.itemId, supplierId: old.supplierId })
  const ended = new Set(before.items.filter(item => item.discontinued).map(item => item.id))
  for (const item of after.items)
    if (item.discontinued && !ended.has(item.id)) changes.push({ kind: 'discontinued', itemId: item.id })
  return [...changes.sort((a, b) => weight(b) - weight(a)), ...rateChanges(before, after)]
}

const termsOf = ({ minimum, multiple, leadTimeDays, fee, currency, unit }: BuildOffer): string =>
  [new Decimal(minimum), new Decimal(multiple), leadTimeDays, new Decimal(fee || '0'), currency, unit].join(' ')
const weight = (change: Change): number => ('percent' in change ? Math.abs(Number(change.percent)) : 0)

function rateChanges(before: BuildFacts, after: BuildFacts): Change[] {
  const used = new Set([...before.offers, ...after.offers].map(offer => offer.currency))
  return [...used].sort().flatMap((currency): Change[] => {
    const [old, now] = [before.rates[currency], after.rates[currency]]
    if (old === undefined || now === undefined) return []
    const by = percent(new Decimal(old), new Decimal(now))
    return by === '0' ? [] : [{ kind: 'rate', currency, percent: by }]
  })
}
