import { allocate } from '#core/money/allocate.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import type { BudgetEntry, BudgetKind } from '#core/ledger/budget.ts'

/** An account that pays for a line, with its share; shares are weights, whatever they add up to. */
export interface LineSplit {
  readonly accountId: string
  readonly share: string
}

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

/** Distributes `amount` over accounts by weight, as entries of one kind. */
export function spread(kind: BudgetKind, lineId: string, amount: Minor, splits: readonly LineSplit[]): BudgetEntry[] {
  if (amount === 0n || splits.length === 0) return []
  const parts = allocate(
    amount,
    splits.map(split => split.share),
  )
  return splits
    .map((split, index) => ({ accountId: split.accountId, kind, lineId, amount: parts[index]! }))
    .filter(entry => entry.amount !== 0n)
}

/** The entries that lead from what is outstanding to the wanted split of `amount`: the difference per account. */
export function adjustTo(
  outstanding: readonly Outstanding[],
  kind: BudgetKind,
  lineId: string,
  amount: Minor,
  splits: readonly LineSplit[],
): BudgetEntry[] {
  const wanted = new Map(spread(kind, lineId, amount, splits).map(entry => [entry.accountId, entry.amount as bigint]))
  for (const part of outstanding)
    if (part.kind === kind) wanted.set(part.accountId, (wanted.get(part.accountId) ?? 0n) - part.amount)
  return [...wanted]
    .filter(([, difference]) => difference !== 0n)
    .map(([accountId, difference]) => ({ accountId, kind, lineId, amount: minor(difference) }))
}

/** What stands after further entries: sums per line, account and kind, noughts left out. */
export function addStanding(standing: readonly Outstanding[], entries: readonly BudgetEntry[]): Outstanding[] {
  const sums = new Map<string, Outstanding>()
  for (const part of [...standing, ...entries]) {
    const { lineId, accountId, kind, amount } = part
    if (lineId === undefined) continue
    const key = `${lineId} ${accountId} ${kind}`
    sums.set(key, { lineId, accountId, kind, amount: minor((sums.get(key)?.amount ?? 0n) + amount) })
  }
  return [...sums.values()].filter(part => part.amount !== 0n)
}

/** What stands of one kind on a line, over all its accounts. */
export const standingAmount = (standing: readonly Outstanding[], kind: BudgetKind): Minor =>
  minor(standing.reduce<bigint>((sum, part) => (part.kind === kind ? sum + part.amount : sum), 0n))
