/** A point of a supplier's line: from then on, this is what stands of it; null: nothing does. */
export interface Step {
  readonly at: number
  readonly total: number | null
}
export interface BidShown {
  readonly id: string
  readonly supplierId: string
  readonly total: string
  readonly at: string
  readonly out: boolean
}

/** What each supplier's last bid was over time, without those that were taken out; drawn as steps. */
export function stepsOf(bids: readonly BidShown[]): Map<string, Step[]> {
  const steps = new Map<string, Step[]>()
  for (const bid of bids) {
    if (bid.out) continue
    const own = steps.get(bid.supplierId) ?? []
    steps.set(bid.supplierId, [...own, { at: Date.parse(bid.at), total: Number(bid.total) }])
  }
  return steps
}

/** From where to where the picture goes: all bids, with a little room; one bid alone gets room of its own. */
export function rangeOf(bids: readonly BidShown[]): [low: number, high: number] {
  const totals = bids.filter(bid => !bid.out).map(bid => Number(bid.total))
  if (totals.length === 0) return [0, 1]
  const [low, high] = [Math.min(...totals), Math.max(...totals)]
  const room = (high - low || low || 1) * 0.06
  return [low - room, high + room]
}
