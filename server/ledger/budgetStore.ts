import { minor, formatAmount, type Minor } from '#core/money/amount.ts'
import { type BudgetEntry, type BudgetKind, type BudgetSums, BUDGET_KINDS, available, checkBudget, type CheckedAccount, type CheckLevel } from '#core/ledger/budget.ts'
import type { Outstanding } from '#core/ledger/commitments.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import type { BudgetFigures } from '#contract/fields.ts'
import type { Call } from '#server/call.ts'
import type { SourceDocument } from '#server/ledger/quantityStore.ts'

export interface AccountRow {
  readonly id: string
  readonly costCentre: string
  readonly naturalAccount: string
  readonly fiscalYear: number
  readonly project: string | null
  readonly checkLevel: CheckLevel
  readonly tolerancePercent: string
  readonly open: boolean
}

export const accountLabel = (account: Pick<AccountRow, 'costCentre' | 'naturalAccount' | 'fiscalYear' | 'project'>): string =>
  `${account.costCentre} / ${account.naturalAccount}, ${account.fiscalYear}${account.project ? `, ${account.project}` : ''}`

/** Appends entries and brings the kept balances along, in one statement. */
export async function postBudget(call: Call, source: SourceDocument, entries: readonly BudgetEntry[]): Promise<void> {
  const real = entries.filter(entry => entry.amount !== 0n)
  if (real.length === 0) return
  await call.trx
    .raw(
      `with posted as (
       insert into budget_entries (account_id, kind, amount, line_id, at, actor_id, document_kind, document_id)
       select account_id, kind, amount, line_id, ?, ?, ?, ? from jsonb_to_recordset(?::jsonb) as entry (account_id uuid, kind text, amount bigint, line_id uuid)
       returning account_id, kind, amount)
     insert into budget_balances (account_id, kind, amount) select account_id, kind, sum(amount) from posted group by account_id, kind order by account_id, kind
     on conflict (account_id, kind) do update set amount = budget_balances.amount + excluded.amount`,
      [
        call.now,
        call.actor.id,
        source.kind,
        source.id,
        JSON.stringify(real.map(entry => ({ account_id: entry.accountId, kind: entry.kind, amount: entry.amount.toString(), line_id: entry.lineId ?? null }))),
      ],
    )
    .options({ name: 'post-budget' })
}

/** What stands on lines, by account and kind. */
export async function outstanding(call: Call, lineIds: readonly string[]): Promise<Outstanding[]> {
  if (lineIds.length === 0) return []
  const rows = (await call
    .trx('budgetEntries')
    .whereIn('lineId', [...lineIds])
    .groupBy('lineId', 'accountId', 'kind')
    .orderBy(['lineId', 'accountId', 'kind'])
    .select('lineId', 'accountId', 'kind', call.trx.raw('sum(amount)::bigint as amount'))) as { lineId: string; accountId: string; kind: BudgetKind; amount: bigint }[]
  return rows.filter(row => row.amount !== 0n).map(row => ({ ...row, amount: minor(row.amount) }))
}

export async function budgetSums(call: Call, accountIds: readonly string[]): Promise<Map<string, BudgetSums>> {
  const rows = (await call
    .trx('budgetBalances')
    .whereIn('accountId', [...accountIds])
    .select('accountId', 'kind', 'amount')) as { accountId: string; kind: BudgetKind; amount: bigint }[]
  const sums = new Map(accountIds.map(id => [id, Object.fromEntries(BUDGET_KINDS.map(kind => [kind, minor(0)])) as Record<BudgetKind, Minor>]))
  for (const row of rows) sums.get(row.accountId)![row.kind] = minor(row.amount)
  return sums
}

const checked = (account: AccountRow): CheckedAccount => ({
  id: account.id,
  label: accountLabel(account),
  level: account.checkLevel,
  tolerancePercent: Number(account.tolerancePercent),
  open: account.open,
})

/**
 * What taking these amounts would lead to. With `lock` the accounts' rows are held in id order until the transaction ends, so that two
 * people cannot spend the same euro.
 */
export async function checkBudgets(call: Call, amounts: ReadonlyMap<string, Minor>, lock: boolean): Promise<Reason[]> {
  const ids = [...amounts.keys()].sort()
  const query = call.trx('budgetAccounts').whereIn('id', ids).orderBy('id')
  const accounts = (await (lock ? query.forNoKeyUpdate() : query)) as AccountRow[]
  if (accounts.length !== ids.length) throw new RuleBroken(stop('budget.unknownAccount'))
  const sums = await budgetSums(call, ids)
  return accounts.flatMap(account => checkBudget(checked(account), sums.get(account.id)!, amounts.get(account.id)!, amount => `${call.base} ${formatAmount(amount, call.base)}`))
}

/** Figures before and after per account; `here` is what this document takes, already counted or not yet. */
export async function budgetFigures(call: Call, here: ReadonlyMap<string, Minor>, counted: boolean): Promise<BudgetFigures[]> {
  const ids = [...here.keys()]
  if (ids.length === 0) return []
  const accounts = (await call.trx('budgetAccounts').whereIn('id', ids).orderBy(['costCentre', 'naturalAccount'])) as AccountRow[]
  const sums = await budgetSums(call, ids)
  const text = (amount: bigint): string => formatAmount(amount, call.base)
  return accounts.map(account => {
    const own = sums.get(account.id)!
    const taken = here.get(account.id) ?? minor(0)
    return {
      accountId: account.id,
      label: accountLabel(account),
      currency: call.base,
      allotted: text(own.allotted + own.transferred),
      reserved: text(own.reserved),
      committed: text(own.committed),
      spent: text(own.spent),
      accrued: text(own.accrued),
      available: text(available(own)),
      here: text(taken),
      after: text(counted ? available(own) : available(own) - taken),
    }
  })
}
