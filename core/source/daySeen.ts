import { formatAmount } from '#core/money/amount.ts'
import type { LotRules } from '#core/source/auctionRules.ts'
import { nextAtMost } from '#core/source/placeBid.ts'
import { type LotStanding, type LotPhase, phaseAt } from '#core/source/replayLot.ts'

/** A lot as one supplier sees it: their own bids, and of the others only what the rules show. */
export interface LotForSupplier {
  readonly phase: LotPhase
  readonly endsAt: number | null
  readonly left: number | null
  readonly own: readonly { readonly id: string; readonly total: string; readonly at: number; readonly out: boolean }[]
  readonly suspended: boolean
  /** Null where it is not shown, or where they have none. */
  readonly place: number | null
  readonly best: string | null
  readonly bidders: number | null
  /** What their next bid may be at most, as far as that tells nothing that is not shown; empty: no limit. */
  readonly nextAtMost: string
}

/**
 * What a supplier may know of a lot at an instant. In a sealed lot nobody learns anything of others.
 */
export function lotForSupplier(rules: LotRules, lot: LotStanding, supplierId: string, at: number): LotForSupplier {
  const own = lot.standing.find(one => one.supplierId === supplierId)
  const shows = rules.sealed ? { place: false, best: false, bidders: false } : rules.shows
  const best = lot.standing[0]
  return {
    phase: phaseAt(lot, at),
    endsAt: lot.endsAt,
    left: lot.left,
    own: lot.bids
      .filter(bid => bid.supplierId === supplierId)
      .map(bid => ({ id: bid.id, total: formatAmount(bid.total, rules.currency), at: bid.at, out: bid.out })),
    suspended: lot.suspended.has(supplierId),
    place: shows.place && own ? own.place : null,
    best: shows.best && best ? formatAmount(best.bid.total, rules.currency) : null,
    bidders: shows.bidders ? lot.standing.length : null,
    nextAtMost: nextAtMost(rules, lot, supplierId),
  }
}

/** A lot as our side sees it; of a sealed one nothing but its clock before it is over. */
export interface LotForTeam {
  readonly phase: LotPhase
  readonly endsAt: number | null
  readonly left: number | null
  readonly extensions: number
  readonly standing: readonly { readonly supplierId: string; readonly place: number; readonly total: string }[]
  readonly bids: readonly {
    readonly id: string
    readonly supplierId: string
    readonly total: string
    readonly at: number
    readonly out: boolean
  }[]
}

/** What our side may know of a lot at an instant. */
export function lotForTeam(rules: LotRules, lot: LotStanding, at: number): LotForTeam {
  const phase = phaseAt(lot, at)
  const hidden = rules.sealed && phase !== 'over'
  const text = (total: bigint): string => formatAmount(total, rules.currency)
  return {
    phase,
    endsAt: lot.endsAt,
    left: lot.left,
    extensions: lot.extensions,
    standing: hidden
      ? []
      : lot.standing.map(one => ({ supplierId: one.supplierId, place: one.place, total: text(one.bid.total) })),
    bids: hidden
      ? []
      : lot.bids.map(({ id, supplierId, total, at: taken, out }) => ({
          id,
          supplierId,
          total: text(total),
          at: taken,
          out,
        })),
  }
}
