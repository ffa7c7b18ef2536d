import { available, type BudgetEntry, type BudgetSums } from '#core/ledger/budget.ts'
import type { Outstanding } from '#core/ledger/commitments.ts'
import { type Minor, minor } from '#core/money/amount.ts'

export interface YearAccount {
  readonly id: string
  /** The same account of the next year. */
  readonly nextId: string
  readonly sums: BudgetSums
  readonly outstanding: readonly Outstanding[]
}
export interface YearChoice {
  /** The budget of what is carried goes along, so that the next year's own allotment stays whole. */
  readonly carryBudget: boolean
  /** What is left after that goes along too. */
  readonly carryRest: boolean
}
export interface YearMove {
  readonly accountId: string
  readonly nextId: string
  readonly carried: Minor
  readonly budget: Minor
  readonly rest: Minor
  readonly entries: readonly BudgetEntry[]
}

const CARRIED = ['reserved', 'committed', 'accrued'] as const

/**
 * The change of a fiscal year for one account: everything reserved, committed or accrued on open lines moves to the same account of the
 * next year by a pair of entries, and with it, if set, its budget and what is left. What was spent stays where it was spent.
 * Amounts are in the base currency's smallest unit; per kind and line the two entries add up to nothing.
 */
export function changeYear(account: YearAccount, choice: YearChoice): YearMove {
  const parts = account.outstanding.filter(
    part => part.accountId === account.id && (CARRIED as readonly string[]).includes(part.kind) && part.amount !== 0n,
  )
  const lines = parts.flatMap((part): BudgetEntry[] => [
    { accountId: account.id, kind: part.kind, lineId: part.lineId, amount: minor(-part.amount) },
    { accountId: account.nextId, kind: part.kind, lineId: part.lineId, amount: part.amount },
  ])
  const carried = parts.filter(part => part.kind !== 'accrued').reduce<bigint>((sum, part) => sum + part.amount, 0n)
  const budget = choice.carryBudget ? carried : 0n
  const leftBefore = available(account.sums)
  const rest = choice.carryRest ? leftBefore + carried - budget : 0n
  const moved = budget + rest
  const money: BudgetEntry[] =
    moved === 0n
      ? []
      : [
          { accountId: account.id, kind: 'transferred', amount: minor(-moved) },
          { accountId: account.nextId, kind: 'transferred', amount: minor(moved) },
        ]
  return {
    accountId: account.id,
    nextId: account.nextId,
    carried: minor(carried),
    budget: minor(budget),
    rest: minor(rest),
    entries: [...lines, ...money],
  }
}
