import type { LineKind } from '#core/request/kinds.ts'
import { addStanding, adjustTo, type LineSplit, type Outstanding } from '#core/ledger/commitments.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { addQuantities, type QuantityEntry, type QuantitySums, toOrder } from '#core/ledger/quantity.ts'
import { type Minor, minor, portion } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { LineState } from '#core/request/states.ts'

/** A requested line with what the ledgers say of it. */
export interface RequestedFacts {
  readonly id: string
  readonly requisitionId: string
  readonly kind: LineKind
  readonly description: string
  readonly state: LineState
  readonly quantity: string
  /** What was approved for the whole quantity, in the base currency. */
  readonly baseAmount: Minor
  readonly splits: readonly LineSplit[]
  readonly sums: QuantitySums
  /** What is reserved on it, by account. */
  readonly standing: readonly Outstanding[]
}

/**
 * What has to be reserved on a requested line: the approved value of what is requested and not ordered yet. Nothing before it is
 * submitted or after it was taken back, because then nothing is requested. In the base currency's smallest unit, rounded half away from zero.
 *
 * reservedAmount({ quantity: '10', baseAmount: minor(1000), sums: { requested: '10', ordered: '4', … } }) //=> 600n
 */
export function reservedAmount(line: Pick<RequestedFacts, 'quantity' | 'baseAmount' | 'sums'>): Minor {
  const open = Decimal.max(0, toOrder(line.sums))
  return open.isZero() ? minor(0) : portion(line.baseAmount, open, line.quantity)
}

/** The entries that bring the reservation of each line to what it has to be. */
export const reservationEntries = (lines: readonly RequestedFacts[]): BudgetEntry[] =>
  lines.flatMap(line => adjustTo(line.standing, 'reserved', line.id, reservedAmount(line), line.splits))

/** Requested lines as they are after quantities were posted. */
export const withQuantities = <L extends { readonly id: string; readonly sums: QuantitySums }>(
  lines: readonly L[],
  entries: readonly QuantityEntry[],
): L[] =>
  lines.map(line => ({
    ...line,
    sums: addQuantities(
      line.sums,
      entries.filter(entry => entry.lineId === line.id),
    ),
  }))

/** Lines as they are after amounts were posted. */
export const withBudget = <L extends { readonly id: string; readonly standing: readonly Outstanding[] }>(
  lines: readonly L[],
  entries: readonly BudgetEntry[],
): L[] =>
  lines.map(line => ({
    ...line,
    standing: addStanding(
      line.standing,
      entries.filter(entry => entry.lineId === line.id),
    ),
  }))

/** What lines have reserved, by account. */
export function reservedByAccount(lines: readonly Pick<RequestedFacts, 'standing'>[]): Map<string, Minor> {
  const sums = new Map<string, Minor>()
  for (const { accountId, amount } of lines.flatMap(line => line.standing))
    sums.set(accountId, minor((sums.get(accountId) ?? 0n) + amount))
  return sums
}
