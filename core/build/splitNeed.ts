import { allowedSteps, costOf, type PreparedOffer } from '#core/build/offers.ts'
import type { Buy } from '#core/build/buyPart.ts'

/** Choices that are looked at before the best so far is taken as it is. */
const MOST_CHOICES = 300_000

/**
 * The cheapest way to cover a need with several offers, each at most as far as it goes: depth first, the cheapest steps first, leaving out what cannot
 * beat the best so far (branch and bound; Land and Doig, "An automatic method of solving discrete programming problems", 1960). What the rest costs at
 * least is taken from the lowest price of each offer. Null where all together do not cover it. Of equals the one with less bought is taken.
 *
 * Exact as long as fewer than 300 000 choices have to be looked at; beyond them the best so far counts.
 */
export function splitNeed(offers: readonly PreparedOffer[], need: number, excess: boolean): readonly Buy[] | null {
  const order = offers.filter(one => one.most >= smallest(one)).sort((a, b) => a.lowest - b.lowest || a.place - b.place)
  const left = order.map((_one, index) => order.slice(index).reduce((sum, one) => sum + one.most, 0))
  let best: { buys: Buy[]; cost: number; quantity: number } | null = null
  let choices = 0
  const atLeast = (from: number, open: number): number => {
    let cost = 0
    for (let index = from; index < order.length && open > 0; index++) {
      const taken = Math.min(open, order[index]!.most)
      cost += taken * order[index]!.lowest
      open -= taken
    }
    return open > 0 ? Infinity : cost
  }
  const hopeless = (cost: number, from: number, open: number): boolean =>
    best !== null && cost + atLeast(from, open) - offers.length / 2 > best.cost
  const look = (at: number, open: number, cost: number, buys: Buy[]): void => {
    if (open <= 0) {
      const quantity = buys.reduce((sum, one) => sum + one.quantity, 0)
      if (!best || cost < best.cost || (cost === best.cost && quantity < best.quantity)) best = { buys, cost, quantity }
      return
    }
    if (at === order.length || open > left[at]! || hopeless(cost, at, open) || choices > MOST_CHOICES) return
    const prepared = order[at]!
    for (const quantity of quantitiesOf(prepared, open, excess)) {
      if (choices++ > MOST_CHOICES) return
      const own = costOf(prepared, quantity)
      if (hopeless(cost + own, at + 1, open - quantity)) continue
      look(at + 1, open - quantity, cost + own, [...buys, { prepared, quantity, cost: own }])
    }
    look(at + 1, open, cost, buys)
  }
  look(0, need, 0, [])
  return best === null ? null : (best as { buys: Buy[] }).buys
}

const smallest = (offer: PreparedOffer): number => allowedSteps(offer, 1)

/** Quantities of an offer from what covers all that is open downwards; without excess none is more than that. */
function* quantitiesOf(offer: PreparedOffer, open: number, excess: boolean): Generator<number> {
  const least = smallest(offer)
  const covering = allowedSteps(offer, open)
  // a tier above what is open may cost less in all
  if (excess)
    for (const start of offer.starts)
      if (start.quantity > covering && start.quantity <= offer.most) yield start.quantity
  for (let quantity = Math.min(offer.most, covering); quantity >= least; quantity -= offer.multiple)
    if (excess || quantity <= open) yield quantity
}
