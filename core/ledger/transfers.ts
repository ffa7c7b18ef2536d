import { available, type BudgetEntry, type BudgetSums } from '#core/ledger/budget.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { StateTable } from '#core/states.ts'

export type TransferState = 'waiting' | 'approved' | 'refused' | 'withdrawn'
export type TransferAction = 'approve' | 'refuse' | 'withdraw'
export const TRANSFER_STATES: StateTable<TransferState, TransferAction> = {
  waiting: { approve: 'approved', refuse: 'refused', withdraw: 'withdrawn' },
  approved: {},
  refused: {},
  withdrawn: {},
}

interface TransferAccount {
  readonly id: string
  readonly label: string
  readonly open: boolean
}

/** What stands against moving an amount: the giving account has to have it, both have to be open. */
export function checkTransfer(from: TransferAccount, to: TransferAccount, sums: BudgetSums, amount: Minor, text: (amount: Minor) => string): Reason[] {
  const reasons = [from, to].filter(account => !account.open).map(account => stop('budget.closed', { account: account.label }))
  if (from.id === to.id) reasons.push(stop('transfer.same', {}, { place: 'toId' }))
  if (amount <= 0n) reasons.push(stop('transfer.amount', {}, { place: 'amount' }))
  const left = available(sums)
  if (amount > left) reasons.push(stop('transfer.notThere', { account: from.label, left: text(left), wanted: text(amount) }, { place: 'amount' }))
  return reasons
}

/** The two entries of an approved transfer; they add up to nothing. */
export const transferEntries = (fromId: string, toId: string, amount: Minor): BudgetEntry[] => [
  { accountId: fromId, kind: 'transferred', amount: minor(-amount) },
  { accountId: toId, kind: 'transferred', amount },
]
