import type { AuctionEntry, Bid, ExtensionRule, LotRules } from '#core/source/auctionRules.ts'
import { placesMoved, type Placed, standingOf, type TakenBid } from '#core/source/standing.ts'

export type LotPhase = 'planned' | 'open' | 'paused' | 'over'

/** A lot as it stands after its log. Instants and lengths in milliseconds. */
export interface LotStanding {
  readonly phase: LotPhase
  readonly openedAt: number | null
  /** The first instant at which no bid counts any more; while it is paused, as if it went on at once. */
  readonly endsAt: number | null
  /** While it is paused: how long it still runs. */
  readonly left: number | null
  /** How often late bids moved the end. */
  readonly extensions: number
  readonly bids: readonly TakenBid[]
  readonly suspended: ReadonlySet<string>
  readonly standing: readonly Placed[]
}

const PLANNED: LotStanding = {
  phase: 'planned',
  openedAt: null,
  endsAt: null,
  left: null,
  extensions: 0,
  bids: [],
  suspended: new Set(),
  standing: [],
}

/**
 * A lot after everything in its log, in the order of the log: its clock, its bids and its standing come from nothing else, so that they are the
 * same after any restart. Only what was accepted stands in a log; what a log says is not judged again.
 */
export const replayLot = (rules: LotRules, log: readonly AuctionEntry[]): LotStanding =>
  log.reduce((lot, entry) => afterEntry(rules, lot, entry), PLANNED)

/** A lot after one entry more; entries of other lots leave it as it is. */
export function afterEntry(rules: LotRules, lot: LotStanding, entry: AuctionEntry): LotStanding {
  if (entry.lotId !== null && entry.lotId !== rules.lotId) return lot
  switch (entry.kind) {
    case 'opened':
      return { ...lot, phase: 'open', openedAt: entry.at, endsAt: entry.endsAt }
    case 'paused':
      return { ...lot, phase: 'paused', left: Math.max(0, lot.endsAt! - entry.at) }
    case 'resumed':
      return { ...lot, phase: 'open', endsAt: entry.at + lot.left!, left: null }
    case 'extended':
      return extended(lot, entry.bySeconds * 1000)
    case 'endedEarly':
      return { ...lot, phase: 'over', endsAt: entry.at, left: null }
    case 'bid':
      return withBid(rules, lot, entry.bid, entry.at)
    case 'removed':
      return withOut(lot, bid => bid.id === entry.bidId)
    case 'withdrawn':
      return withOut(lot, bid => bid.supplierId === entry.supplierId)
    case 'suspended':
      return withSuspended(lot, new Set([...lot.suspended, entry.supplierId]))
    case 'lifted':
      return withSuspended(lot, new Set([...lot.suspended].filter(one => one !== entry.supplierId)))
  }
}

const extended = (lot: LotStanding, by: number): LotStanding =>
  lot.phase === 'paused' ? { ...lot, left: lot.left! + by } : { ...lot, endsAt: lot.endsAt! + by }

/** Bids taken out, the ones before them stand again; the clock is left as it is. */
function withOut(lot: LotStanding, gone: (bid: TakenBid) => boolean): LotStanding {
  const bids = lot.bids.map(bid => (gone(bid) ? { ...bid, out: true } : bid))
  return { ...lot, bids, standing: standingOf(bids, lot.suspended) }
}

const withSuspended = (lot: LotStanding, suspended: ReadonlySet<string>): LotStanding => ({
  ...lot,
  suspended,
  standing: standingOf(lot.bids, suspended),
})

function withBid(rules: LotRules, lot: LotStanding, bid: Bid, at: number): LotStanding {
  const bids = [...lot.bids, { ...bid, turn: lot.bids.length + 1, at, out: false }]
  const standing = standingOf(bids, lot.suspended)
  const next = { ...lot, bids, standing }
  const end = rules.extension && endAfter(rules.extension, lot, standing, at)
  return end === null ? next : { ...next, endsAt: end, extensions: lot.extensions + 1 }
}

/** The end that a late bid leads to; null where it moves nothing: it is early, nothing watched moved, it happened often enough, or the end is later already. */
function endAfter(rule: ExtensionRule, lot: LotStanding, standing: readonly Placed[], at: number): number | null {
  const late = lot.endsAt! - at <= rule.withinSeconds * 1000
  if (!late || (rule.most !== null && lot.extensions >= rule.most)) return null
  if (!placesMoved(lot.standing, standing, rule.places)) return null
  const end = (rule.from === 'bid' ? at : lot.endsAt!) + rule.bySeconds * 1000
  return end > lot.endsAt! ? end : null
}

/** The phase of a lot at an instant: an open one is over from its end on, with nobody having said so. */
export const phaseAt = (lot: LotStanding, at: number): LotPhase =>
  lot.phase === 'open' && at >= lot.endsAt! ? 'over' : lot.phase
