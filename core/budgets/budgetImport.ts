import { CHECK_LEVELS, type CheckLevel } from '#core/ledger/budget.ts'
import { readTypedNumber } from '#core/money/entry.ts'
import { type Reason, stop } from '#core/reasons.ts'

export const BUDGET_COLUMNS = [
  'cost_centre',
  'account',
  'year',
  'project',
  'amount',
  'check',
  'tolerance_percent',
] as const

export interface ImportedBudget {
  readonly costCentre: string
  readonly account: string
  readonly year: number
  readonly project: string | null
  /** What the allotment shall be, in the base currency. */
  readonly amount: string
  readonly level: CheckLevel | null
  readonly tolerancePercent: number | null
}
export interface BudgetCodes {
  readonly costCentres: ReadonlySet<string>
  readonly accounts: ReadonlySet<string>
  readonly projects: ReadonlySet<string>
}

/** One row of a budget file. Amounts take decimal comma and point; one that could be read two ways is a fault, never a guess. */
export function readBudgetRow(
  row: Readonly<Record<string, string>>,
  number: number,
  codes: BudgetCodes,
): { budget?: ImportedBudget; reasons: Reason[] } {
  const reasons: Reason[] = []
  const text = (column: string): string => (row[column] ?? '').trim()
  const fault = (code: string, column: string, details: Record<string, string> = {}): void =>
    void reasons.push(
      stop(code, { column, value: text(column).slice(0, 40), ...details }, { place: `rows.${number}.${column}` }),
    )
  const known = (column: string, codesOf: ReadonlySet<string>): string => {
    const code = text(column).toUpperCase()
    if (code === '') fault('import.missing', column)
    else if (!codesOf.has(code)) fault('import.unknownCode', column)
    return code
  }
  const costCentre = known('cost_centre', codes.costCentres)
  const account = known('account', codes.accounts)
  const project = text('project') === '' ? null : known('project', codes.projects)
  if (!/^20\d\d$/.test(text('year'))) fault('import.year', 'year')
  const amount = readTypedNumber(text('amount'))
  if (!amount.ok && amount.ambiguous)
    fault('import.ambiguousNumber', 'amount', { readings: amount.ambiguous.join(' / ') })
  else if (!amount.ok || Number(amount.value) < 0) fault('import.number', 'amount')
  const level = text('check') as CheckLevel
  if (level && !CHECK_LEVELS.includes(level)) fault('import.checkLevel', 'check', { levels: CHECK_LEVELS.join(', ') })
  const tolerance = text('tolerance_percent') === '' ? null : readTypedNumber(text('tolerance_percent'))
  if (tolerance && (!tolerance.ok || Number(tolerance.value) < 0 || Number(tolerance.value) > 100))
    fault('import.number', 'tolerance_percent')
  if (reasons.length > 0) return { reasons }
  return {
    reasons,
    budget: {
      costCentre,
      account,
      year: Number(text('year')),
      project,
      amount: amount.ok ? amount.value : '0',
      level: level || null,
      tolerancePercent: tolerance?.ok ? Number(tolerance.value) : null,
    },
  }
}
