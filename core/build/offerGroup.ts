import type { PreparedOffer } from '#core/build/offers.ts'

/** An offer, and what no step of a need of some size costs less than. */
export interface Ranked {
  readonly prepared: PreparedOffer
  readonly lowest: number
}

/** Offers of which the cheapest is taken. */
export interface OfferGroup {
  readonly offers: readonly PreparedOffer[]
  /** The offers by what a step of a need of this size costs at least, the lowest first; of equals the one with the earlier place. */
  readonly rankedFor: (need: number) => readonly Ranked[]
}

/** Times that an order is asked for before one of its own is made for needs of a size. */
const WORTH_SORTING = 4

/** Makes a group. Where needs of one size, from one power of two to the next, are asked for often, an order of their own is made for them. */
export function groupOf(offers: readonly PreparedOffer[]): OfferGroup {
  const plain = ranked(offers, Infinity)
  const asked: number[] = []
  const orders: (readonly Ranked[] | undefined)[] = []
  return {
    offers,
    rankedFor: need => {
      const size = Math.floor(Math.log2(Math.max(1, need)))
      const times = (asked[size] = (asked[size] ?? 0) + 1)
      return times < WORTH_SORTING ? plain : (orders[size] ??= ranked(offers, 2 ** (size + 1)))
    },
  }
}

/** A tier that begins above the need costs at least as much as its beginning does: its price counts for so much more per step. */
const ranked = (offers: readonly PreparedOffer[], below: number): Ranked[] =>
  offers
    .map(prepared => ({
      prepared,
      lowest: Math.min(...prepared.tiers.map(tier => tier.each * Math.max(1, tier.from / below))),
    }))
    .sort((a, b) => a.lowest - b.lowest || a.prepared.place - b.prepared.place)
