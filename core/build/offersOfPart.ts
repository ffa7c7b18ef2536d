import type { BuildFacts } from '#core/build/facts.ts'
import { needAt } from '#core/build/need.ts'
import { canCover, costOf, coverQuantity, type Packing, packingOf } from '#core/build/offers.ts'
import type { NoPrice, ReadyBuild } from '#core/build/prepareBuild.ts'
import { stepsText } from '#core/build/steps.ts'
import { formatAmount } from '#core/money/amount.ts'

/** What one offer would come to for the need of a part, or why it does not count. */
export interface OfferOfPart {
  readonly offerId: string
  readonly itemId: string
  readonly item: string
  readonly packing: Packing
  readonly supplier: string
  readonly quantity: string
  readonly amount: string
  readonly leadDays: number
  readonly against: NoPrice | null
}

/** Every offer of a part and of what may take its place: the cheapest first, those that do not count last. */
export function offersOfPart(facts: BuildFacts, ready: ReadyBuild, at: number, builds: number): OfferOfPart[] {
  const part = ready.parts[at]!
  const names = new Map(facts.suppliers.map(one => [one.id, one.name]))
  const { currency } = ready.settings
  const found = part.choices.flatMap(choice => {
    const open = needAt(choice.need, builds) - choice.need.nearly.onHand
    const prepared = new Map(choice.buyable.groups.flatMap(group => group.offers.map(one => [one.offer.id, one])))
    const offers = facts.offers.filter(offer => offer.itemId === choice.item.id)
    return offers.map(offer => {
      const own = prepared.get(offer.id)
      const covers = own !== undefined && open > 0 && canCover(own, open, choice.buyable.excess)
      const quantity = covers ? coverQuantity(own, open, choice.buyable.excess) : 0
      const cost = covers ? costOf(own, quantity) : Infinity
      const against: NoPrice | null =
        choice.against.get(offer.id) ?? (covers || open <= 0 ? null : part.limits.excess ? 'stock' : 'excess')
      return {
        cost,
        offerId: offer.id,
        itemId: choice.item.id,
        item: choice.item.name,
        packing: packingOf(offer.unit, choice.item.unit),
        supplier: names.get(offer.supplierId) ?? '',
        quantity: stepsText(quantity, choice.digits),
        amount: covers ? formatAmount(BigInt(cost), currency) : '',
        leadDays: offer.leadTimeDays,
        against,
      }
    })
  })
  return found.sort((a, b) => a.cost - b.cost).map(({ cost: _cost, ...one }) => one)
}
