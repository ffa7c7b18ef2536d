import { formatAmount, type Minor, moneyText } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { AuctionEntry, Bid, BidStep, LotRules } from '#core/source/auctionRules.ts'
import { afterEntry, type LotStanding, phaseAt } from '#core/source/replayLot.ts'

/** A bid is below this, in its currency's smallest unit: nothing that is bought here costs as much. */
const MOST = 10n ** 14n

/** A supplier who bids. */
export interface Bidder {
  readonly supplierId: string
  /** The bidding terms are accepted. */
  readonly accepted: boolean
  /** Why the supplier may not be dealt with: paused, barred, closed. */
  readonly reasons: readonly Reason[]
}

/**
 * What stands against a bid, all of it: the window (its first instant included, its end not), the bidder, the figures, the ceiling, the step. A
 * step that is met exactly is enough; per cent are compared without rounding.
 */
export function whyNotBid(rules: LotRules, lot: LotStanding, bidder: Bidder, bid: Bid, at: number): Reason[] {
  const phase = phaseAt(lot, at)
  if (phase !== 'open') return [stop(`bid.${phase}`, {}, { place: 'total' })]
  if (lot.suspended.has(bidder.supplierId)) return [stop('bid.suspended', {}, { clearedBy: ['sourcingLead'] })]
  if (!bidder.accepted) return [stop('bid.termsFirst')]
  if (bidder.reasons.length > 0) return [...bidder.reasons]
  const figures = whyNotFigures(bid)
  if (figures.length > 0) return figures
  return [...aboveCeilings(rules, bid), ...missesStep(rules, lot, bid)]
}

/** The entry that a bid makes, with the lot as it is after it; or what stands against it. A refused bid leaves no trace in the clock. */
export function placeBid(
  rules: LotRules,
  lot: LotStanding,
  bidder: Bidder,
  bid: Bid,
  at: number,
): { ok: true; entry: AuctionEntry; lot: LotStanding } | { ok: false; reasons: Reason[] } {
  const known = lot.bids.find(one => one.id === bid.id)
  // the same press that comes twice is the same bid: it stands already
  if (known) return { ok: true, entry: { kind: 'bid', lotId: rules.lotId, at: known.at, bid: known }, lot }
  const reasons = whyNotBid(rules, lot, bidder, bid, at)
  if (reasons.length > 0) return { ok: false, reasons }
  const entry: AuctionEntry = { kind: 'bid', lotId: rules.lotId, at, bid }
  return { ok: true, entry, lot: afterEntry(rules, lot, entry) }
}

function whyNotFigures(bid: Bid): Reason[] {
  const sum = [...bid.lines.values()].reduce((total, one) => total + one, 0n)
  return [
    ...(bid.total > 0n ? [] : [stop('bid.aboveZero', {}, { place: 'total' })]),
    ...(bid.total < MOST ? [] : [stop('bid.tooLarge', {}, { place: 'total' })]),
    ...[...bid.lines].flatMap(([lineId, amount]) =>
      amount > 0n ? [] : [stop('bid.lineAboveZero', {}, { place: `lines.${lineId}` })],
    ),
    ...(bid.lines.size === 0 || sum === bid.total ? [] : [stop('bid.doesNotAdd', {}, { place: 'total' })]),
  ]
}

const aboveCeilings = (rules: LotRules, bid: Bid): Reason[] => [
  ...(rules.ceiling === null || bid.total <= rules.ceiling
    ? []
    : [stop('bid.aboveCeiling', { most: moneyText(rules.ceiling, rules.currency) }, { place: 'total' })]),
  ...[...bid.lines].flatMap(([lineId, amount]) => {
    const most = rules.lineCeilings.get(lineId)
    return most === undefined || amount <= most
      ? []
      : [stop('bid.lineAboveCeiling', { most: moneyText(most, rules.currency) }, { place: `lines.${lineId}` })]
  }),
]

function missesStep(rules: LotRules, lot: LotStanding, bid: Bid): Reason[] {
  const most = mostFor(rules.step, lot, bid.supplierId)
  if (most === null || new Decimal(bid.total.toString()).lte(most)) return []
  return tellsBest(rules)
    ? [stop('bid.stepMissedHidden', {}, { place: 'total' })]
    : [stop('bid.stepMissed', { most: moneyText(floor(most), rules.currency) }, { place: 'total' })]
}

/** Whether the limit of the step would tell a best price that is not shown. */
const tellsBest = ({ step, shows, sealed }: LotRules): boolean =>
  step.kind !== 'none' && step.against === 'best' && (sealed || !shows.best)

/** The most that the next bid of a supplier may be by the step; null where none is needed: there is none, or nothing yet to be lower than. */
export function mostFor(step: BidStep, lot: LotStanding, supplierId: string): Decimal | null {
  if (step.kind === 'none') return null
  const own = lot.standing.find(one => one.supplierId === supplierId)
  const reference = step.against === 'own' ? own : lot.standing[0]
  if (!reference) return null
  const total = new Decimal(reference.bid.total.toString())
  return step.kind === 'amount'
    ? total.minus(step.amount.toString())
    : total.times(new Decimal(100).minus(step.percent)).dividedBy(100)
}

const floor = (amount: Decimal): Minor => BigInt(amount.floor().toFixed(0)) as Minor

/** What the next bid may be at most, as text, by ceiling and step together; without a step that would tell a best price that is not shown. Empty: no limit. */
export function nextAtMost(rules: LotRules, lot: LotStanding, supplierId: string): string {
  const byStep = tellsBest(rules) ? null : mostFor(rules.step, lot, supplierId)
  const step = byStep === null ? null : floor(byStep)
  const most = step === null ? rules.ceiling : rules.ceiling === null || step < rules.ceiling ? step : rules.ceiling
  return most === null ? '' : formatAmount(most, rules.currency)
}
