import { type Candidate, costOf, coverQuantity, type PreparedOffer } from '#core/build/offers.ts'
import { nearlyCover, type OfferGroup } from '#core/build/offerGroup.ts'
import { splitNeed } from '#core/build/splitNeed.ts'

/** So much of one offer. */
export interface Buy extends Candidate {
  readonly prepared: PreparedOffer
}

/** A part with the offers that may be taken, in the order in which groups of them are tried. */
export interface BuyablePart {
  readonly groups: readonly OfferGroup[]
  /** Whether more than the need may be bought. */
  readonly excess: boolean
}

/** What an offer is looked at closely for: it may be cheaper by what rounding takes away and plain numbers are wrong by. */
const ROUNDING = 1
const NEARLY = 1 - 1e-9

/**
 * What is bought to cover a need: one offer of the first group where any single one covers it, with the least money of all quantities that do, of
 * equals the smaller quantity, then the first offer; where no single one covers it, the cheapest split over all of them. Null where that is not
 * possible either. A need of nothing buys nothing.
 */
export function buyPart(part: BuyablePart, need: number): readonly Buy[] | null {
  if (need <= 0) return []
  for (const group of part.groups) {
    const one = cheapestOf(group, need, part.excess)
    if (one) return [one]
  }
  return splitNeed(
    part.groups.flatMap(group => group.offers),
    need,
    part.excess,
  )
}

/**
 * The cheapest single offer; those that cannot be cheaper than the best so far are not looked at. This is asked millions of times for a curve: nothing is
 * made but what is found in the end.
 */
function cheapestOf(group: OfferGroup, need: number, excess: boolean): Buy | undefined {
  const ranked = group.rankedFor(need)
  let [best, quantity, cost]: [PreparedOffer | undefined, number, number] = [undefined, Infinity, Infinity]
  for (let at = 0; at < ranked.offers.length; at++) {
    // they come by what a step costs at least: the rest is dearer still
    if (ranked.figures[at * ranked.width]! * need * NEARLY > cost + ROUNDING) break
    const nearly = nearlyCover(ranked, at, need, excess)
    if (nearly === Infinity || nearly * NEARLY > cost + ROUNDING) continue
    const prepared = ranked.offers[at]!
    const wanted = coverQuantity(prepared, need, excess)
    const own = costOf(prepared, wanted)
    const better = own !== cost ? own < cost : wanted !== quantity ? wanted < quantity : prepared.place < best!.place
    if (better) [best, quantity, cost] = [prepared, wanted, own]
  }
  return best && { prepared: best, quantity, cost }
}
