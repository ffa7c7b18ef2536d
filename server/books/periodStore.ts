import type { Read } from '#server/call.ts'

export interface PeriodRow {
  month: string
  state: 'open' | 'closed'
  /** Of its journal when it was closed: how many lines, both sides, and a digest of all of them. */
  lines: number
  total: bigint
  digest: string
  byId: string
  at: string
  /** Why it was opened again. */
  reason: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    bookPeriods: PeriodRow
  }
}

/** Months of the books that are closed. */
export const closedMonths = (call: Pick<Read, 'trx'>): Promise<string[]> =>
  call.trx('bookPeriods').where({ state: 'closed' }).orderBy('month').pluck<string[]>('month')
