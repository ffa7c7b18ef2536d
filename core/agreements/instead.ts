import { Decimal } from '#core/money/decimal.ts'
import { type PriceTier, tierAt } from '#core/request/offer.ts'
import { type PackConversion, unitsIn } from '#core/units/units.ts'

/** Another offer of an item; `rate`: one unit of its currency in the base currency, null where there is none. */
export interface OtherOffer {
  readonly supplier: string
  readonly unit: string
  readonly itemUnit: string
  readonly packs: readonly PackConversion[]
  readonly currency: string
  readonly rate: string | null
  readonly priceBase: string
  readonly tiers: readonly PriceTier[]
}

/** What can be taken in place of an agreement that is spent: from whom, at which price for how many of which unit. */
export interface Instead {
  readonly supplier: string
  readonly price: string
  readonly currency: string
  readonly priceBase: string
  readonly unit: string
}

/**
 * The cheapest of other offers for so much of an item, by what one of its units costs in the base currency; of equal ones the first. Offers that cannot be compared,
 * because their unit or currency is not known, are passed over; null where none is left.
 */
export function insteadOf(
  wanted: { readonly quantity: string; readonly unit: string },
  offers: readonly OtherOffer[],
): Instead | null {
  let best: { readonly each: Decimal; readonly instead: Instead } | null = null
  for (const offer of offers) {
    const sold = unitsIn(offer.unit, offer.itemUnit, offer.packs)
    const asked = unitsIn(wanted.unit, offer.itemUnit, offer.packs)
    if (sold === undefined || asked === undefined || offer.rate === null || offer.tiers.length === 0) continue
    const quantity = new Decimal(wanted.quantity).times(asked).dividedBy(sold).toString()
    const { price } = tierAt(offer.tiers, quantity)
    const each = new Decimal(price).times(offer.rate).dividedBy(offer.priceBase).dividedBy(sold)
    if (best !== null && each.gte(best.each)) continue
    const { supplier, currency, priceBase, unit } = offer
    best = { each, instead: { supplier, price, currency, priceBase, unit } }
  }
  return best && best.instead
}
