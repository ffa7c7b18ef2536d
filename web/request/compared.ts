import type { ItemJson, OfferJson } from '#contract/request/catalogue.ts'
import { compareOffers, inOrder } from '#core/request/comparison.ts'
import { hasEnded } from '#core/request/offer.ts'

type Compared = ReturnType<typeof compareOffers>[number]
/** An offer with what it comes to at the wanted quantity. */
export interface ComparedOffer {
  readonly row: Compared
  readonly offer: OfferJson
}

/** Whether a request can use an offer today. */
export const usable = (offer: Pick<OfferJson, 'supplierState' | 'validTo'>, today: string): boolean =>
  offer.supplierState === 'active' && !hasEnded(offer, today)

/** All offers of an item at a quantity, the best first. */
export function comparedOffers(item: ItemJson, quantity: string): ComparedOffer[] {
  const offers = new Map(item.offers.map(offer => [offer.id, offer]))
  return inOrder(
    compareOffers(item.offers, quantity, item, item.baseCurrency),
    row => offers.get(row.id)!.agreement,
  ).map(row => ({ row, offer: offers.get(row.id)! }))
}
