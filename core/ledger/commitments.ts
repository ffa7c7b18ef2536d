import { allocate } from '#core/money/allocate.ts'
import { amountToDecimal, type Minor, minor, roundAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { BudgetEntry, BudgetKind } from '#core/ledger/budget.ts'

/** What stands on a line for one account and kind: the sum of its entries. */
export interface Outstanding {
  readonly lineId: string
  readonly accountId: string
  readonly kind: BudgetKind
  readonly amount: Minor
}

/** Counter-entries that bring every outstanding figure of the given kinds to nought. */
export function releaseAll(outstanding: readonly Outstanding[], kinds: readonly BudgetKind[]): BudgetEntry[] {
  return outstanding
    .filter(part => kinds.includes(part.kind) && part.amount !== 0n)
    .map(part => ({ accountId: part.accountId, kind: part.kind, amount: minor(-part.amount), lineId: part.lineId }))
}

/**
 * Releases the part of what is outstanding that belongs to `done` of `remaining` (both quantities). The last part releases
 * the rest, so that rounding leaves nothing behind. Amounts are rounded half away from zero, each account for itself.
 *
 * releaseShare([{ …, amount: minor(100) }], 'committed', '1', '3') //=> [{ …, amount: -33n }]
 */
export function releaseShare(outstanding: readonly Outstanding[], kind: BudgetKind, done: string, remaining: string): BudgetEntry[] {
  const all = new Decimal(done).gte(remaining)
  const share = all ? new Decimal(1) : new Decimal(done).dividedBy(remaining)
  return outstanding
    .filter(part => part.kind === kind && part.amount !== 0n)
    .map(part => ({ accountId: part.accountId, kind, lineId: part.lineId, amount: minor(-roundAmount(amountToDecimal(part.amount, 'JPY').times(share), 'JPY')) }))
    .filter(entry => entry.amount !== 0n)
}

/** Distributes `amount` over accounts by weight, as entries of one kind. */
export function spread(kind: BudgetKind, lineId: string, amount: Minor, splits: readonly { accountId: string; share: string }[]): BudgetEntry[] {
  if (amount === 0n || splits.length === 0) return []
  const parts = allocate(
    amount,
    splits.map(split => split.share),
  )
  return splits.map((split, index) => ({ accountId: split.accountId, kind, lineId, amount: parts[index]! })).filter(entry => entry.amount !== 0n)
}

/** The entries that lead from what is outstanding to the wanted split of `amount`: the difference per account. */
export function adjustTo(
  outstanding: readonly Outstanding[],
  kind: BudgetKind,
  lineId: string,
  amount: Minor,
  splits: readonly { accountId: string; share: string }[],
): BudgetEntry[] {
  const wanted = new Map(spread(kind, lineId, amount, splits).map(entry => [entry.accountId, entry.amount as bigint]))
  for (const part of outstanding) if (part.kind === kind) wanted.set(part.accountId, (wanted.get(part.accountId) ?? 0n) - part.amount)
  return [...wanted].filter(([, difference]) => difference !== 0n).map(([accountId, difference]) => ({ accountId, kind, lineId, amount: minor(difference) }))
}
