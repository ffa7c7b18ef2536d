import { addBusinessDays, type BusinessCalendar } from '#core/calendar/days.ts'
import { check, note, type Reason, stop } from '#core/reasons.ts'
import { lineAmount, type Minor } from '#core/money/amount.ts'
import { Decimal, decimal, tidy } from '#core/money/decimal.ts'

export interface PriceTier {
  /** Smallest quantity, in the offer's unit, from which `price` holds. */
  readonly from: string
  readonly price: string
}

export interface Offer {
  readonly currency: string
  readonly priceBase: string
  readonly minimum: string
  readonly multiple: string
  readonly leadTimeDays: number
  readonly validFrom: string
  readonly validTo: string | null
  readonly tiers: readonly PriceTier[]
}

/** Whether an offer's last day has passed. hasEnded({ validTo: '2026-11-28' }, '2026-11-29') //=> true */
export const hasEnded = (offer: Pick<Offer, 'validTo'>, today: string): boolean =>
  offer.validTo !== null && offer.validTo < today

/** Whether an offer is made of a line of an agreement: what it says changes by an amendment, and in no other way. */
export const isAgreed = (offer: { readonly agreementLineId: string | null }): boolean => offer.agreementLineId !== null

/** The tier that applies at a quantity: the highest `from` not above it; below the first tier, the first. */
export function tierAt(tiers: readonly PriceTier[], quantity: string): PriceTier {
  const ascending = [...tiers].sort((a, b) => new Decimal(a.from).comparedTo(b.from))
  const first = ascending[0]
  if (!first) throw new Error('An offer has at least one price tier.')
  return ascending.filter(tier => new Decimal(tier.from).lte(quantity)).at(-1) ?? first
}

/** The smallest quantity not below `quantity` that keeps to minimum and multiple. allowedQuantity(offer, '7') //=> '10' for multiples of 5 */
export function allowedQuantity(offer: Pick<Offer, 'minimum' | 'multiple'>, quantity: string): string {
  const wanted = Decimal.max(decimal(quantity), decimal(offer.minimum))
  const multiple = decimal(offer.multiple)
  return multiple.lte(0) ? tidy(wanted) : tidy(wanted.dividedBy(multiple).ceil().times(multiple))
}

export interface PricedQuantity {
  readonly price: string
  readonly amount: Minor
  readonly reasons: Reason[]
}

/**
 * Prices a quantity on an offer. Notes when buying up to the next tier costs less in total, checks minimum and multiple.
 * The amount is in the offer currency's smallest unit.
 */
export function priceQuantity(offer: Offer, quantity: string, today: string): PricedQuantity {
  const reasons: Reason[] = []
  const tier = tierAt(offer.tiers, quantity)
  const amount = lineAmount({ quantity, price: tier.price, priceBase: offer.priceBase, currency: offer.currency })
  const allowed = allowedQuantity(offer, quantity)
  if (!new Decimal(allowed).equals(quantity))
    reasons.push(
      check('offer.quantityRule', {
        quantity: tidy(quantity),
        minimum: tidy(offer.minimum),
        multiple: tidy(offer.multiple),
        allowed,
      }),
    )
  if (today < offer.validFrom || hasEnded(offer, today))
    reasons.push(stop('offer.expired', { validFrom: offer.validFrom, validTo: offer.validTo ?? '' }))
  const cheaper = cheaperAbove(offer, quantity, amount)
  if (cheaper !== undefined) reasons.push(note('offer.cheaperAbove', { quantity: cheaper, unit: '' }))
  return { price: tier.price, amount, reasons }
}

/** The first quantity above that can be bought (minimum and multiple kept) and costs less in all than `amount`; undefined where none does. */
function cheaperAbove(offer: Offer, quantity: string, amount: Minor): string | undefined {
  return offer.tiers
    .map(tier => allowedQuantity(offer, tier.from))
    .filter(from => new Decimal(from).gt(quantity))
    .sort((a, b) => new Decimal(a).comparedTo(b))
    .find(from => priceOf(offer, from) < amount)
}

const priceOf = (offer: Offer, quantity: string): Minor =>
  lineAmount({
    quantity,
    price: tierAt(offer.tiers, quantity).price,
    priceBase: offer.priceBase,
    currency: offer.currency,
  })

/** The first day on which goods ordered today can be there, counting the lead time in business days. */
export const earliestDelivery = (today: string, leadTimeDays: number, calendar: BusinessCalendar): string =>
  addBusinessDays(today, leadTimeDays, calendar)
