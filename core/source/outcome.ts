import type { Minor } from '#core/money/amount.ts'
import type { Decimal } from '#core/money/decimal.ts'
import type { LineShare } from '#core/source/award.ts'
import type { OutcomeTold } from '#core/source/eventKind.ts'

/** What a supplier learns of an award: what it gets itself, and of the rest what the kind tells. */
export interface Outcome {
  readonly won: { lineId: string; quantity: string }[]
  /** By landed cost among those who answered the same lines; null where it is not told, or nobody can say. */
  readonly place: number | null
  /** Landed cost of all that was awarded. */
  readonly winningPrice: Minor | null
}

/**
 * What a supplier may learn, by the setting of the kind: nothing of others, its place, or its place and the winning price.
 *
 * @param costs landed cost of what all answered in common, by supplier
 */
export function outcomeFor(
  tells: OutcomeTold,
  supplierId: string,
  shares: readonly LineShare[],
  costs: ReadonlyMap<string, Decimal>,
  cost: Minor,
): Outcome {
  const own = costs.get(supplierId)
  const place = own === undefined ? null : 1 + [...costs.values()].filter(other => other.lt(own)).length
  return {
    won: shares.filter(one => one.supplierId === supplierId).map(({ lineId, quantity }) => ({ lineId, quantity })),
    place: tells === 'nothing' ? null : place,
    winningPrice: tells === 'winningPrice' && own !== undefined ? cost : null,
  }
}
