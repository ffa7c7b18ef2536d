import type { Minor } from '#core/money/amount.ts'

/** By how much a bid has to be lower, and than what: the bidder's own last one, or the best that stands. */
export type BidStep =
  | { readonly kind: 'none' }
  | { readonly kind: 'amount'; readonly amount: Minor; readonly against: StepAgainst }
  /** `percent` as a plain decimal: '0.5' is half a per cent. */
  | { readonly kind: 'percent'; readonly percent: string; readonly against: StepAgainst }
export type StepAgainst = 'own' | 'best'

/** When a late bid moves the end, by how much, and how often at most. */
export interface ExtensionRule {
  /** How long before the end a bid counts as late, in seconds; exactly that long before counts. */
  readonly withinSeconds: number
  readonly bySeconds: number
  /** From the bid, or from the end as it stands. */
  readonly from: 'bid' | 'end'
  /** How many of the first places are watched; null: every place. */
  readonly places: number | null
  /** How often at most; null: as often as it happens. */
  readonly most: number | null
}

/** What suppliers are shown while the window is open, beside their own bids. */
export interface ShownToSuppliers {
  readonly place: boolean
  readonly best: boolean
  readonly bidders: boolean
}

/** The rules of one lot of a reverse auction. Amounts in `currency`'s smallest unit, instants in milliseconds since 1970. */
export interface LotRules {
  readonly lotId: string
  readonly currency: string
  /** No bid is above it; null: there is none. */
  readonly ceiling: Minor | null
  /** The most that each line may be worth, by line; a line that is missing has no limit. */
  readonly lineCeilings: ReadonlyMap<string, Minor>
  readonly step: BidStep
  readonly extension: ExtensionRule | null
  readonly shows: ShownToSuppliers
  /** Nobody on our side sees anything of it before its end. */
  readonly sealed: boolean
}

/** One offer for the whole of a lot. */
export interface Bid {
  readonly id: string
  readonly supplierId: string
  /** What the lot costs by it, in the currency of the event. */
  readonly total: Minor
  /** What each line costs by it. */
  readonly lines: ReadonlyMap<string, Minor>
}

/** What happened to one lot, or to all (`lotId` null), in the order in which the server took it. */
export type AuctionEntry = { readonly at: number; readonly lotId: string | null } & (
  | { readonly kind: 'opened'; readonly endsAt: number }
  | { readonly kind: 'paused' }
  | { readonly kind: 'resumed' }
  /** By hand; the end moves by so much, later only. */
  | { readonly kind: 'extended'; readonly bySeconds: number }
  | { readonly kind: 'endedEarly' }
  | { readonly kind: 'bid'; readonly bid: Bid }
  | { readonly kind: 'removed'; readonly bidId: string }
  | { readonly kind: 'suspended'; readonly supplierId: string }
  | { readonly kind: 'lifted'; readonly supplierId: string }
  /** All of a supplier's bids of before, of its own will. */
  | { readonly kind: 'withdrawn'; readonly supplierId: string }
)
