import { check, note, type Reason, stop } from '#core/reasons.ts'
import { type Minor, minor, sumMinor } from '#core/money/amount.ts'

/** Kinds of entries of the budget ledger; `accrued` is carried beside the others and never counts twice. */
export const BUDGET_KINDS = ['allotted', 'transferred', 'reserved', 'committed', 'spent', 'accrued'] as const
export type BudgetKind = (typeof BUDGET_KINDS)[number]

/** One signed entry in the base currency's smallest unit. */
export interface BudgetEntry {
  readonly accountId: string
  readonly kind: BudgetKind
  readonly amount: Minor
  readonly lineId?: string
}

export type BudgetSums = Readonly<Record<BudgetKind, Minor>>

export function sumBudget(entries: Iterable<Pick<BudgetEntry, 'kind' | 'amount'>>): BudgetSums {
  const sums = Object.fromEntries(BUDGET_KINDS.map(kind => [kind, 0n])) as Record<BudgetKind, bigint>
  for (const entry of entries) sums[entry.kind] += entry.amount
  return sums as BudgetSums
}

/** available = allotted + transferred − reserved − committed − spent (domain page, section 2). */
export const available = (sums: BudgetSums): Minor =>
  minor(sums.allotted + sums.transferred - sums.reserved - sums.committed - sums.spent)

export const CHECK_LEVELS = ['off', 'note', 'check', 'stop'] as const
export type CheckLevel = (typeof CHECK_LEVELS)[number]

export interface CheckedAccount {
  readonly id: string
  readonly label: string
  readonly level: CheckLevel
  /** Per cent of the allotment that may be overdrawn before the check speaks. */
  readonly tolerancePercent: number
  readonly open: boolean
}

/**
 * What taking `amount` (smallest unit of the base currency) from an account leads to.
 * The tolerance is `tolerancePercent` of allotted + transferred, rounded down.
 *
 * checkBudget(account, sums, minor(100)) //=> []   when enough is left
 */
export function checkBudget(
  account: CheckedAccount,
  sums: BudgetSums,
  amount: Minor,
  baseCurrencyText: (amount: Minor) => string,
): Reason[] {
  if (!account.open) return [stop('budget.closed', { account: account.label })]
  if (amount <= 0n || account.level === 'off') return []
  const after = available(sums) - amount
  const tolerance = ((sums.allotted + sums.transferred) * BigInt(Math.round(account.tolerancePercent * 100))) / 10_000n
  if (after >= -tolerance) return []
  const details = {
    account: account.label,
    left: baseCurrencyText(available(sums)),
    wanted: baseCurrencyText(amount),
    over: baseCurrencyText(minor(-after)),
  }
  const speak = { note, check, stop }[account.level]
  return [speak('budget.over', details)]
}

/** An account with what stands on it. */
export interface AccountFacts extends CheckedAccount {
  readonly sums: BudgetSums
}

/** Kinds that lessen what is available. */
const TAKING: ReadonlySet<BudgetKind> = new Set(['reserved', 'committed', 'spent'])

/** What entries take from each account beyond what they give back; accrued never counts (domain page, section 2). */
export function takenByAccount(entries: readonly BudgetEntry[]): Map<string, Minor> {
  const net = new Map<string, Minor>()
  for (const entry of entries)
    if (TAKING.has(entry.kind)) net.set(entry.accountId, minor((net.get(entry.accountId) ?? 0n) + entry.amount))
  return net
}

/**
 * Reasons against entries that were not asked about one by one: accounts that stop and would be overdrawn, that are closed, or that are
 * not there. Only what is taken beyond what is given back is judged.
 */
export function overdrafts(
  accounts: readonly AccountFacts[],
  entries: readonly BudgetEntry[],
  baseCurrencyText: (amount: Minor) => string,
): Reason[] {
  const known = new Map(accounts.map(account => [account.id, account]))
  return [...takenByAccount(entries)]
    .filter(([, amount]) => amount > 0n)
    .flatMap(([id, amount]) => {
      const account = known.get(id)
      return account ? checkBudget(account, account.sums, amount, baseCurrencyText) : [stop('budget.unknownAccount')]
    })
    .filter(reason => reason.level === 'stop')
}

/** What entries come to on each account. */
export function byAccount(entries: readonly BudgetEntry[]): Map<string, Minor> {
  const sums = new Map<string, Minor>()
  for (const { accountId, amount } of entries) sums.set(accountId, sumMinor([sums.get(accountId) ?? 0n, amount]))
  return sums
}
