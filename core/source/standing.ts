import type { Bid } from '#core/source/auctionRules.ts'

/** A bid as it was taken: `turn` says which came first. */
export interface TakenBid extends Bid {
  readonly turn: number
  readonly at: number
  /** Taken out, by us or with all of its supplier's by themselves. */
  readonly out: boolean
}

/** Who stands where: one bid for each supplier, the best first. */
export interface Placed {
  readonly supplierId: string
  readonly place: number
  readonly bid: TakenBid
}

/** The bid of each supplier that counts: its last one that was not taken out. In sealed and open lots alike, also where it is higher. */
function counting(bids: readonly TakenBid[], suspended: ReadonlySet<string>): TakenBid[] {
  const last = new Map<string, TakenBid>()
  for (const bid of bids) if (!bid.out && !suspended.has(bid.supplierId)) last.set(bid.supplierId, bid)
  return [...last.values()]
}

/**
 * The standing of a lot: lower leads, of equal ones the earlier (domain page, section 9). Who is suspended has no place.
 *
 * standingOf([bid('a', 100n, 1), bid('b', 90n, 2)], new Set()).map(one => one.supplierId) //=> ['b', 'a']
 */
export const standingOf = (bids: readonly TakenBid[], suspended: ReadonlySet<string>): Placed[] =>
  counting(bids, suspended)
    .sort((a, b) => (a.total < b.total ? -1 : a.total > b.total ? 1 : a.turn - b.turn))
    .map((bid, index) => ({ supplierId: bid.supplierId, place: index + 1, bid }))

/** Whether the first so many places (null: all) are held by others than before, or in another order. */
export function placesMoved(before: readonly Placed[], after: readonly Placed[], places: number | null): boolean {
  const first = (standing: readonly Placed[]): string =>
    standing
      .slice(0, places ?? standing.length)
      .map(one => one.supplierId)
      .join(' ')
  return first(before) !== first(after)
}
