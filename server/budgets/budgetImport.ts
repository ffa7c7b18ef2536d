import { randomUUID } from 'node:crypto'
import type { ImportResult } from '#contract/files/endpoints.ts'
import { BUDGET_COLUMNS, type ImportedBudget, readBudgetRow } from '#core/budgets/budgetImport.ts'
import { minor, parseAmount } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Write, Read } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { MOST_ROWS_AT_ONCE } from '#server/formats/cells.ts'
import { importResult, type RowFaults, slices } from '#server/formats/importResult.ts'
import { budgetSums, postBudget } from '#server/ledger/budgetStore.ts'
import { record } from '#server/documents/history.ts'

type Placed = ImportedBudget & { readonly row: number }
const codesOf = async (call: Read, table: string): Promise<Set<string>> =>
  new Set(await call.trx(table).pluck<string[]>('code'))
const key = (budget: Pick<ImportedBudget, 'costCentre' | 'account' | 'year' | 'project'>): string =>
  `${budget.costCentre} ${budget.account} ${budget.year} ${budget.project ?? ''}`

/** Reads a budget file. A row says what the allotment shall be; the difference is posted, so that the same file twice changes nothing. All rows or none. */
export async function importBudgets(call: Write, bytes: Buffer, dryRun: boolean): Promise<ImportResult> {
  const needed = ['cost_centre', 'account', 'year', 'amount']
  const table = await compute('tableOf', { bytes, known: BUDGET_COLUMNS, needed, most: MOST_ROWS_AT_ONCE })
  const codes = {
    costCentres: await codesOf(call, 'costCentres'),
    accounts: await codesOf(call, 'naturalAccounts'),
    projects: await codesOf(call, 'projects'),
  }
  const faults: RowFaults[] = []
  const budgets = new Map<string, Placed>()
  for await (const { row, index } of slices(table.rows)) {
    const number = index + 2
    const { budget, reasons } = readBudgetRow(row, number, codes)
    const twin = budget ? budgets.get(key(budget)) : undefined
    if (!budget) faults.push({ row: number, reasons })
    else if (twin)
      faults.push({
        row: number,
        reasons: [stop('import.twice', { row: twin.row }, { place: `rows.${number}.account` })],
      })
    else if (!fits(budget.amount, call.base))
      faults.push({
        row: number,
        reasons: [
          stop('import.number', { column: 'amount', value: budget.amount }, { place: `rows.${number}.amount` }),
        ],
      })
    else budgets.set(key(budget), { ...budget, row: number })
  }
  const load = !dryRun && faults.length === 0
  if (load) for (const budget of budgets.values()) await allotTo(call, budget)
  return importResult(table, faults, load)
}

function fits(amount: string, base: string): boolean {
  try {
    parseAmount(amount, base)
    return true
  } catch (error) {
    if (error instanceof RuleBroken) return false
    throw error
  }
}

async function allotTo(call: Write, budget: Placed): Promise<void> {
  const where = {
    costCentre: budget.costCentre,
    naturalAccount: budget.account,
    fiscalYear: budget.year,
    project: budget.project,
  }
  const known = await call.trx('budgetAccounts').where(where).forNoKeyUpdate().first()
  const id = known?.id ?? randomUUID()
  const settings = {
    ...(budget.level ? { checkLevel: budget.level } : {}),
    ...(budget.tolerancePercent === null ? {} : { tolerancePercent: String(budget.tolerancePercent) }),
  }
  if (!known)
    await call.trx('budgetAccounts').insert({ id, ...where, checkLevel: 'check', tolerancePercent: '0', ...settings })
  else if (Object.keys(settings).length > 0) await call.trx('budgetAccounts').where({ id }).update(settings)
  const before = known ? (await budgetSums(call, [id])).get(id)!.allotted : minor(0)
  const wanted = parseAmount(budget.amount, call.base)
  await postBudget(call, { kind: 'allotment', id }, [
    { accountId: id, kind: 'allotted', amount: minor(wanted - before) },
  ])
  if (wanted !== before || Object.keys(settings).length > 0)
    await record(call, {
      kind: 'budgetAccount',
      id,
      action: 'imported',
      changes: { before: before.toString(), after: wanted.toString(), ...settings },
    })
}
