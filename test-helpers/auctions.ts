import { minor } from '#core/money/amount.ts'
import type { AuctionEntry, Bid, LotRules } from '#core/source/auctionRules.ts'
import type { Bidder } from '#core/source/placeBid.ts'

/** A lot in euros without ceiling or step, that shows everything and is never extended. */
export const lotRules = (changed: Partial<LotRules> = {}): LotRules => ({
  lotId: 'lot',
  currency: 'EUR',
  ceiling: null,
  lineCeilings: new Map(),
  step: { kind: 'none' },
  extension: null,
  shows: { place: true, best: true, bidders: true },
  sealed: false,
  ...changed,
})

export const bidOf = (supplierId: string, total: number, id = `${supplierId}${total}`): Bid => ({
  id,
  supplierId,
  total: minor(total),
  lines: new Map(),
})
export const bidder = (supplierId: string, changed: Partial<Bidder> = {}): Bidder => ({
  supplierId,
  accepted: true,
  reasons: [],
  ...changed,
})

const SECOND = 1000
/** A log told in seconds: opened at 0 for so long, then what happens when. */
export function logOf(
  seconds: number,
  ...happened: readonly (readonly [at: number, what: string | Bid, value?: string | number])[]
): AuctionEntry[] {
  const opened: AuctionEntry = { kind: 'opened', lotId: null, at: 0, endsAt: seconds * SECOND }
  return [
    opened,
    ...happened.map(([at, what, value]): AuctionEntry => {
      const common = { lotId: 'lot', at: at * SECOND }
      if (typeof what !== 'string') return { ...common, kind: 'bid', bid: what }
      switch (what) {
        case 'extended':
          return { ...common, kind: what, bySeconds: Number(value) }
        case 'removed':
          return { ...common, kind: what, bidId: String(value) }
        case 'suspended':
        case 'lifted':
        case 'withdrawn':
          return { ...common, kind: what, supplierId: String(value) }
        case 'paused':
        case 'resumed':
        case 'endedEarly':
          return { ...common, kind: what }
        default:
          throw new Error(`Nothing is called ${what}.`)
      }
    }),
  ]
}
