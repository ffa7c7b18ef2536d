import {
  type AccountFacts,
  type BudgetEntry,
  type BudgetKind,
  type BudgetSums,
  BUDGET_KINDS,
  available,
  checkBudget,
  type CheckLevel,
} from '#core/ledger/budget.ts'
import type { Outstanding } from '#core/ledger/commitments.ts'
import { formatAmount, type Minor, minor, moneyText } from '#core/money/amount.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import type { BudgetFigures } from '#contract/fields.ts'
import type { Read, Write } from '#server/call.ts'
import type { SourceDocument } from '#server/ledger/quantityStore.ts'

export interface AccountRow {
  id: string
  costCentre: string
  naturalAccount: string
  fiscalYear: number
  project: string | null
  checkLevel: CheckLevel
  tolerancePercent: string
  open: boolean
}
interface BudgetEntryRow {
  id: bigint
  accountId: string
  kind: BudgetKind
  amount: bigint
  lineId: string | null
  at: string
  actorId: string
  documentKind: string
  documentId: string
}
interface BudgetBalanceRow {
  accountId: string
  kind: BudgetKind
  amount: bigint
}
declare module 'knex/types/tables.js' {
  interface Tables {
    budgetAccounts: AccountRow
    budgetEntries: BudgetEntryRow
    budgetBalances: BudgetBalanceRow
    costCentres: { id: string; code: string; name: string; holderId: string | null; version: number; changedAt: string }
    naturalAccounts: { code: string; name: string }
    projects: { code: string; name: string; open: boolean }
  }
}

export const accountLabel = (
  account: Pick<AccountRow, 'costCentre' | 'naturalAccount' | 'fiscalYear' | 'project'>,
): string =>
  `${account.costCentre} / ${account.naturalAccount}, ${account.fiscalYear}${account.project ? `, ${account.project}` : ''}`

/** The cost centre of each of some accounts. */
export async function costCentresOf(call: Read, accountIds: readonly string[]): Promise<Map<string, string>> {
  const rows = await call
    .trx('budgetAccounts')
    .whereIn('id', [...new Set(accountIds)])
    .select('id', 'costCentre')
  return new Map(rows.map(row => [row.id, row.costCentre]))
}

/** Appends entries and brings the kept balances along, in one statement. */
export async function postBudget(call: Write, source: SourceDocument, entries: readonly BudgetEntry[]): Promise<void> {
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
        JSON.stringify(
          real.map(entry => ({
            account_id: entry.accountId,
            kind: entry.kind,
            amount: entry.amount.toString(),
            line_id: entry.lineId ?? null,
          })),
        ),
      ],
    )
    .options({ name: 'post-budget' })
}

/** What stands on lines, by account and kind. */
export async function standingOn(call: Read, lineIds: readonly string[]): Promise<Map<string, Outstanding[]>> {
  const standing = new Map<string, Outstanding[]>()
  if (lineIds.length === 0) return standing
  const { rows } = await call.trx
    .raw<{ rows: { lineId: string; accountId: string; kind: BudgetKind; amount: bigint }[] }>(
      `select line_id, account_id, kind, sum(amount)::bigint as amount from budget_entries where line_id = any(?) group by 1, 2, 3 having sum(amount) <> 0 order by 1, 2, 3`,
      [[...lineIds]],
    )
    .options({ name: 'standing-on-lines' })
  for (const row of rows) {
    const own = standing.get(row.lineId) ?? []
    own.push({ ...row, amount: minor(row.amount) })
    standing.set(row.lineId, own)
  }
  return standing
}

const NO_SUMS = Object.fromEntries(BUDGET_KINDS.map(kind => [kind, minor(0)])) as BudgetSums

export async function budgetSums(call: Read, accountIds: readonly string[]): Promise<Map<string, BudgetSums>> {
  const { rows } = await call.trx
    .raw<{ rows: BudgetBalanceRow[] }>(
      'select account_id, kind, amount from budget_balances where account_id = any(?)',
      [[...accountIds]],
    )
    .options({ name: 'budget-sums' })
  const sums = new Map<string, Record<BudgetKind, Minor>>(accountIds.map(id => [id, { ...NO_SUMS }]))
  for (const row of rows) sums.get(row.accountId)![row.kind] = minor(row.amount)
  return sums
}

const factsOf = (account: AccountRow, sums: ReadonlyMap<string, BudgetSums>): AccountFacts => ({
  id: account.id,
  label: accountLabel(account),
  level: account.checkLevel,
  tolerancePercent: Number(account.tolerancePercent),
  open: account.open,
  sums: sums.get(account.id) ?? NO_SUMS,
})

/**
 * Holds accounts in id order until the transaction ends and says what stands on them, so that two people cannot spend the same euro. They
 * are held after the documents that pay from them.
 */
export async function holdAccounts(call: Write, ids: readonly string[]): Promise<AccountFacts[]> {
  if (ids.length === 0) return []
  const rows = await call
    .trx('budgetAccounts')
    .whereIn('id', [...ids])
    .orderBy('id')
    .forNoKeyUpdate()
  const sums = await budgetSums(
    call,
    rows.map(row => row.id),
  )
  return rows.map(row => factsOf(row, sums))
}

/** Accounts with what stands on them, not held: what is judged by them is judged again when it is done. */
export async function accountFacts(call: Read, ids: readonly string[]): Promise<AccountFacts[]> {
  if (ids.length === 0) return []
  const rows = await call
    .trx('budgetAccounts')
    .whereIn('id', [...ids])
    .orderBy('id')
  const sums = await budgetSums(call, ids)
  return rows.map(row => factsOf(row, sums))
}

/** What taking these amounts would lead to, as the accounts stand now; `instead`: what the same document has reserved already, which is free then. */
export async function checkBudgets(
  call: Read,
  amounts: ReadonlyMap<string, Minor>,
  instead: ReadonlyMap<string, Minor> = new Map(),
): Promise<Reason[]> {
  const ids = [...amounts.keys()].sort()
  const rows = await call.trx('budgetAccounts').whereIn('id', ids).orderBy('id')
  if (rows.length !== ids.length) throw new RuleBroken(stop('budget.unknownAccount'))
  const sums = await budgetSums(call, ids)
  return judge(
    call,
    rows.map(row => withoutOwn(factsOf(row, sums), instead)),
    amounts,
  )
}

const withoutOwn = <A extends AccountFacts & { id: string }>(account: A, own: ReadonlyMap<string, Minor>): A => ({
  ...account,
  sums: { ...account.sums, reserved: minor(account.sums.reserved - (own.get(account.id) ?? 0n)) },
})

/** The same with accounts that are held. */
export const judge = (call: Read, accounts: readonly AccountFacts[], amounts: ReadonlyMap<string, Minor>): Reason[] =>
  accounts.flatMap(account =>
    checkBudget(account, account.sums, amounts.get(account.id)!, amount => moneyText(amount, call.base)),
  )

/** Accounts by name, for whoever sees a document that they pay for. */
export async function accountLabels(call: Read, ids: readonly string[]): Promise<{ id: string; label: string }[]> {
  if (ids.length === 0) return []
  const accounts = await call.trx('budgetAccounts').whereIn('id', [...new Set(ids)]).orderBy(['costCentre', 'naturalAccount']) // prettier-ignore
  return accounts.map(account => ({ id: account.id, label: accountLabel(account) }))
}

/** Figures before and after per account; `here` is what this document takes, already counted or not yet. */
export async function budgetFigures(
  call: Read,
  here: ReadonlyMap<string, Minor>,
  counted: boolean,
): Promise<BudgetFigures[]> {
  const ids = [...here.keys()]
  if (ids.length === 0) return []
  const accounts = await call.trx('budgetAccounts').whereIn('id', ids).orderBy(['costCentre', 'naturalAccount'])
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
