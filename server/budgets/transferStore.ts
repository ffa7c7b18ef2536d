import type { TransferState } from '#core/budgets/transfers.ts'

export interface TransferRow {
  id: string
  number: string
  fromId: string
  toId: string
  amount: bigint
  reason: string
  state: TransferState
  askedBy: string
  askedAt: string
  decidedBy: string | null
  decidedAt: string | null
  decidedReason: string | null
  version: number
  changedAt: string
}
interface YearChangeRow {
  id: string
  fromYear: number
  toYear: number
  costCentre: string
  carryBudget: boolean
  carryRest: boolean
  reason: string
  byId: string
  at: string
  moved: unknown
}
declare module 'knex/types/tables.js' {
  interface Tables {
    budgetTransfers: TransferRow
    budgetYearChanges: YearChangeRow
  }
}
