import type { PreparedOffer } from '#core/build/offers.ts'

/** Offers of which the cheapest is taken. */
export interface OfferGroup {
  readonly offers: readonly PreparedOffer[]
  /** The offers by what a step of a need of this size costs at least, the lowest first; of equals the one with the earlier place. */
  readonly rankedFor: (need: number) => Ranked
}

/**
 * Offers in their order, with what is asked of each while the cheapest is looked for, one offer after the other in one row of numbers: what a step costs
 * at least, minimum, multiple, most, fee; then for each tier where it begins, what a step costs there, and what any tier above it costs at least.
 */
export interface Ranked {
  readonly offers: readonly PreparedOffer[]
  readonly figures: Float64Array
  /** Numbers for each offer. */
  readonly width: number
}
const HEAD = 5
const PER_TIER = 3
/** Times that an order is asked for before one of its own is made for needs of a size. */
const WORTH_SORTING = 4

/** Makes a group. Where needs of one size, from one power of two to the next, are asked for often, an order of their own is made for them. */
export function groupOf(offers: readonly PreparedOffer[]): OfferGroup {
  const plain = ranked(offers, Infinity)
  const asked: number[] = []
  const orders: (Ranked | undefined)[] = []
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
function ranked(offers: readonly PreparedOffer[], below: number): Ranked {
  const order = offers
    .map(prepared => ({
      prepared,
      lowest: Math.min(...prepared.tiers.map(tier => tier.each * Math.max(1, tier.from / below))),
    }))
    .sort((a, b) => a.lowest - b.lowest || a.prepared.place - b.prepared.place)
  const width = HEAD + PER_TIER * Math.max(1, ...offers.map(one => one.tiers.length))
  const figures = new Float64Array(width * order.length).fill(Infinity)
  for (const [at, { prepared, lowest }] of order.entries()) {
    figures.set([lowest, prepared.minimum, prepared.multiple, prepared.most, prepared.fee], at * width)
    for (const [tier, { from, each }] of prepared.tiers.entries())
      figures.set([from, each, prepared.starts[tier + 1]?.least.cost ?? Infinity], at * width + HEAD + tier * PER_TIER)
  }
  return { offers: order.map(one => one.prepared), figures, width }
}

/** What an offer covers a need for, nearly and never more than half a smallest unit too much; Infinity where it cannot. */
export function nearlyCover({ figures, width }: Ranked, at: number, need: number, excess: boolean): number {
  const row = at * width
  const multiple = figures[row + 2]!
  const quantity = Math.ceil(Math.max(need, figures[row + 1]!) / multiple) * multiple
  if (quantity > figures[row + 3]! || (!excess && quantity !== need)) return Infinity
  let tier = row + HEAD
  for (let next = tier + PER_TIER; next < row + width && figures[next]! <= quantity; next += PER_TIER) tier = next
  const cost = quantity * figures[tier + 1]! + figures[row + 4]!
  return excess ? Math.min(cost, figures[tier + 2]!) : cost
}
