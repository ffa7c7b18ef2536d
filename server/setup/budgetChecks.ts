import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadBudgetChecks, SaveBudgetChecks } from '#contract/setup/budgetChecks.ts'
import { fiscalYearDays, fiscalYearOf } from '#core/calendar/days.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { record } from '#server/documents/history.ts'
import { HOUSE, writeSetting } from '#server/house/house.ts'

/** Fiscal years with their days, and what happens where a budget of one does not suffice; years before the last are left out. */
export async function readBudgetChecks(call: Read): Promise<ResponseOf<typeof ReadBudgetChecks>> {
  const firstMonth = call.house.fiscalYearFrom ?? 1
  const now = fiscalYearOf(call.today, firstMonth)
  const rows = await call
    .trx('budgetAccounts')
    .where('fiscalYear', '>=', now - 1)
    .orderBy(['fiscalYear', 'costCentre', 'naturalAccount', 'project'])
  const years = [...new Set([now - 1, now, now + 1, ...rows.map(row => row.fiscalYear)])].sort((a, b) => a - b)
  return {
    firstMonth,
    fixed: (await call.trx('budgetAccounts').first('id')) !== undefined,
    years: years.map(year => {
      const [from, to] = fiscalYearDays(year, firstMonth)
      return { year, from, to, accounts: rows.filter(row => row.fiscalYear === year).length, now: year === now }
    }),
    accounts: rows.map(row => ({
      id: row.id,
      year: row.fiscalYear,
      costCentre: row.costCentre,
      account: row.naturalAccount,
      project: row.project,
      open: row.open,
      level: row.checkLevel,
      tolerance: plain(row.tolerancePercent),
    })),
  }
}

const plain = (percent: string): string => String(Number(percent))

/** Sets level and tolerance of some accounts; what somebody else has changed meanwhile is not written over. @throws RuleBroken budget.checksChanged */
export async function saveBudgetChecks(
  call: Write,
  { seen, to }: BodyOf<typeof SaveBudgetChecks>,
): Promise<Record<string, never>> {
  const ids = seen.map(one => one.id).sort()
  const rows = await call.trx('budgetAccounts').whereIn('id', ids).orderBy('id').forNoKeyUpdate()
  const now = new Map(rows.map(row => [row.id, row]))
  const changed = seen.some(one => {
    const row = now.get(one.id)
    return !row || row.checkLevel !== one.level || plain(row.tolerancePercent) !== plain(one.tolerance)
  })
  if (changed) throw new RuleBroken(stop('budget.checksChanged'))
  await call.trx('budgetAccounts').whereIn('id', ids).update({ checkLevel: to.level, tolerancePercent: to.tolerance })
  for (const one of seen)
    await record(call, {
      kind: 'budgetAccount',
      id: one.id,
      action: 'changed',
      changes: { before: { level: one.level, tolerance: one.tolerance }, after: to },
    })
  return {}
}

/** With which month fiscal years begin. @throws RuleBroken budget.yearsFixed */
export async function saveFirstMonth(call: Write, month: number): Promise<Record<string, never>> {
  await call.trx.raw('lock table budget_accounts in share row exclusive mode')
  if (await call.trx('budgetAccounts').first('id')) throw new RuleBroken(stop('budget.yearsFixed'))
  const before = call.house.fiscalYearFrom ?? 1
  await writeSetting(call, 'house', { ...call.house, fiscalYearFrom: month })
  const changes = { before: { fiscalYearFrom: before }, after: { fiscalYearFrom: month } }
  await record(call, { kind: 'house', id: HOUSE, action: 'changed', changes })
  return {}
}
