/**
 * An award problem: who shall get how much of which line. Everything is a whole number: quantities in the smallest unit that can be awarded, money in
 * the smallest unit that prices are given in. Lines and suppliers are told by their place.
 */

/** Quantities of a bid at one price: from `least` to `most` units the goods cost `base` + `price` × quantity. */
export interface Segment {
  readonly least: number
  readonly most: number
  readonly price: number
  /** What was paid more for the units of lower tiers, where tiers are incremental; zero where the tier prices every unit. */
  readonly base: number
}

/** A level of a supplier's rebate: from so much spend on, spend costs (1 − rate) × spend + `offset` ÷ 10 000. */
export interface RebateLevel {
  readonly from: number
  /** Basis points of the spend. */
  readonly rate: number
  /** What is taken back, in ten-thousandths, where the rate counts for the spend above the level only. */
  readonly offset: number
}

export interface AwardSupplier {
  readonly id: string
  /** Once, if anything is awarded. */
  readonly charge: number
  /** Ascending; the first is from nothing, at no rate. */
  readonly levels: readonly RebateLevel[]
}

/** A charge for some lines of a supplier, once, if anything of them is awarded to it. */
export interface LotCharge {
  readonly supplier: number
  readonly lines: readonly number[]
  readonly amount: number
}

/** Some lines together: who gets all of them whole takes so many basis points off their goods. */
export interface Bundle {
  readonly supplier: number
  readonly lines: readonly number[]
  readonly off: number
}

/** A limit for what some suppliers get together, of goods spend before rebates and charges. Shares in basis points of all goods spend. */
export interface SpendRule {
  readonly suppliers: readonly number[]
  readonly leastShare?: number
  readonly mostShare?: number
  readonly least?: number
  readonly most?: number
}

export interface AwardProblem {
  /** What has to be awarded of each line, exactly. */
  readonly demands: readonly number[]
  readonly suppliers: readonly AwardSupplier[]
  /** By line, by supplier: the segments of its bid, ascending; undefined where there is none. */
  readonly bids: readonly (readonly (readonly Segment[] | undefined)[])[]
  readonly mostSuppliers: number
  readonly spendRules: readonly SpendRule[]
  readonly lotCharges: readonly LotCharge[]
  readonly bundles: readonly Bundle[]
}

/** What one supplier gets of one line. */
export interface Award {
  readonly line: number
  readonly supplier: number
  readonly quantity: number
}

/** Basis points of a whole. */
export const WHOLE = 10_000

/** What a quantity of a bid costs; undefined where so much cannot be had. */
export function goodsFor(segments: readonly Segment[] | undefined, quantity: number): number | undefined {
  const one = segments?.find(segment => quantity >= segment.least && quantity <= segment.most)
  return one && one.base + one.price * quantity
}

/** The level that a spend reaches. */
export function levelAt(levels: readonly RebateLevel[], spend: number): RebateLevel {
  let reached = levels[0]!
  for (const level of levels) if (spend >= level.from) reached = level
  return reached
}

/** What a supplier costs in all for a spend: after its rebate, with its charge; nothing where nothing is spent. */
export function costOfSpend({ levels, charge }: AwardSupplier, spend: number): number {
  if (spend === 0) return 0
  const { rate, offset } = levelAt(levels, spend)
  return spend - (spend * rate) / WHOLE + offset / WHOLE + charge
}

/** A bid as it is entered: capacity, minimum, multiple and tiers, in whole units. */
export interface BidFacts {
  readonly capacity: number
  readonly minimum: number
  readonly tiers: readonly { readonly from: number; readonly price: number }[]
  /** Whether a tier prices every unit, or only those from its start on. */
  readonly tierPrices: 'allUnits' | 'incremental'
  /** Only whole multiples of it can be had; left out: any quantity. */
  readonly multiple?: number
}

/** Multiples that one bid may have up to what is asked for: each is looked at alone. */
export const MOST_MULTIPLES = 60

/**
 * The segments of a bid, up to what is asked for: tiers in order, two of one quantity reduced to the cheaper one, what lies beyond capacity or below
 * the minimum left out. Without a tier for the smallest quantity nothing is had below the first. Where only multiples are had, each is a segment of its own.
 *
 * segmentsOf({ capacity: 8, minimum: 3, tiers: [{ from: 1, price: 5 }, { from: 6, price: 4 }], tierPrices: 'allUnits' }, 20)
 * //=> [{ least: 3, most: 5, price: 5, base: 0 }, { least: 6, most: 8, price: 4, base: 0 }]
 */
export function segmentsOf(bid: BidFacts, demand: number): Segment[] {
  const most = Math.min(bid.capacity, demand)
  const least = Math.max(1, bid.minimum)
  const tiers = [...bid.tiers]
    .sort((a, b) => a.from - b.from || b.price - a.price)
    .filter((one, index, all) => all[index + 1]?.from !== one.from)
  let base = 0
  const whole = tiers.flatMap((tier, index) => {
    const before = tiers[index - 1]
    // units below this tier keep what they cost there
    if (bid.tierPrices === 'incremental' && before) base += (before.price - tier.price) * (tier.from - 1)
    const segment = {
      least: Math.max(least, tier.from),
      most: Math.min(most, (tiers[index + 1]?.from ?? Infinity) - 1),
      price: tier.price,
      base,
    }
    return segment.least <= segment.most ? [segment] : []
  })
  return bid.multiple === undefined || bid.multiple <= 1 ? whole : multiplesOf(whole, bid.multiple)
}

const multiplesOf = (segments: readonly Segment[], multiple: number): Segment[] =>
  segments.flatMap(segment => {
    const first = Math.ceil(segment.least / multiple) * multiple
    const count = Math.max(0, Math.floor((segment.most - first) / multiple) + 1)
    return Array.from({ length: count }, (_one, at) => {
      const quantity = first + at * multiple
      return { ...segment, least: quantity, most: quantity }
    })
  })
