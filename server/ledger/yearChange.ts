import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ChangeYear, PreviewYearChange } from '#contract/ledger/endpoints.ts'
import { changeYear, type YearMove } from '#core/ledger/budgetYear.ts'
import type { Outstanding } from '#core/ledger/commitments.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Call } from '#server/call.ts'
import { accountLabel, type AccountRow, budgetSums, postBudget } from '#server/ledger/budgetStore.ts'
import { record } from '#server/ledger/history.ts'

type Wanted = BodyOf<typeof PreviewYearChange>
type Shown = ResponseOf<typeof PreviewYearChange>['moves']
interface Planned {
  readonly account: AccountRow
  readonly next: AccountRow
  readonly isNew: boolean
  readonly move: YearMove
}

async function plan(call: Call, wanted: Wanted): Promise<Planned[]> {
  const accounts = (await call
    .trx('budgetAccounts')
    .where({ costCentre: wanted.costCentre, fiscalYear: wanted.fromYear, open: true })
    .orderBy('id')
    .forNoKeyUpdate()) as AccountRow[]
  const nextOnes = (await call
    .trx('budgetAccounts')
    .where({ costCentre: wanted.costCentre, fiscalYear: wanted.fromYear + 1 })
    .orderBy('id')
    .forNoKeyUpdate()) as AccountRow[]
  const sums = await budgetSums(
    call,
    accounts.map(account => account.id),
  )
  const outstanding = await standing(
    call,
    accounts.map(account => account.id),
  )
  return accounts.map(account => {
    const known = nextOnes.find(one => one.naturalAccount === account.naturalAccount && one.project === account.project)
    const next = known ?? { ...account, id: randomUUID(), fiscalYear: wanted.fromYear + 1 }
    const move = changeYear({ id: account.id, nextId: next.id, sums: sums.get(account.id)!, outstanding: outstanding.filter(one => one.accountId === account.id) }, wanted)
    return { account, next, isNew: !known, move }
  })
}

/** What stands on open lines of these accounts, by line and kind. */
async function standing(call: Call, accountIds: readonly string[]): Promise<Outstanding[]> {
  const rows = (await call
    .trx('budgetEntries')
    .whereIn('accountId', [...accountIds])
    .whereNotNull('lineId')
    .whereIn('kind', ['reserved', 'committed', 'accrued'])
    .groupBy('lineId', 'accountId', 'kind')
    .havingRaw('sum(amount) <> 0')
    .orderBy(['lineId', 'accountId', 'kind'])
    .select('lineId', 'accountId', 'kind', call.trx.raw('sum(amount)::bigint as amount'))) as Outstanding[]
  return rows.map(row => ({ ...row, amount: minor(row.amount) }))
}

const shown = (call: Call, planned: readonly Planned[]): Shown =>
  planned.map(({ account, next, move }) => ({
    account: accountLabel(account),
    next: accountLabel(next),
    carried: formatAmount(move.carried, call.base),
    budget: formatAmount(move.budget, call.base),
    rest: formatAmount(move.rest, call.base),
    lines: new Set(move.entries.map(entry => entry.lineId).filter(Boolean)).size,
  }))

const before = (call: Call, wanted: Wanted): Promise<unknown> =>
  call
    .trx('budgetYearChanges')
    .where({ fromYear: wanted.fromYear, toYear: wanted.fromYear + 1, costCentre: wanted.costCentre })
    .first('id') as Promise<unknown>

export async function previewYearChange(call: Call, wanted: Wanted): Promise<ResponseOf<typeof PreviewYearChange>> {
  return { moves: shown(call, await plan(call, wanted)), currency: call.base, done: (await before(call, wanted)) !== undefined }
}

/**
 * Changes a cost centre's fiscal year: what is open goes to the next year's accounts, lines that are still open are coded to them, and the old
 * accounts are closed. Done once for each cost centre and year.
 */
export async function changeFiscalYear(call: Call, { reason, ...wanted }: BodyOf<typeof ChangeYear>): Promise<ResponseOf<typeof ChangeYear>> {
  if (wanted.fromYear >= Number(call.today.slice(0, 4)) + 1) throw new RuleBroken(stop('year.future', { year: wanted.fromYear }, { place: 'fromYear' }))
  await call.trx('costCentres').where({ code: wanted.costCentre }).forUpdate().first('code')
  await lockOpenDocuments(call, wanted)
  if (await before(call, wanted)) throw new RuleBroken(stop('year.doneAlready', { costCentre: wanted.costCentre, year: wanted.fromYear }))
  const planned = await plan(call, wanted)
  if (planned.length === 0) throw new RuleBroken(stop('year.noAccounts', { costCentre: wanted.costCentre, year: wanted.fromYear }))
  const id = randomUUID()
  for (const { next, isNew } of planned)
    if (isNew)
      await call.trx('budgetAccounts').insert({
        id: next.id,
        costCentre: next.costCentre,
        naturalAccount: next.naturalAccount,
        fiscalYear: next.fiscalYear,
        project: next.project,
        checkLevel: next.checkLevel,
        tolerancePercent: next.tolerancePercent,
      })
  await postBudget(
    call,
    { kind: 'budgetYear', id },
    planned.flatMap(one => [...one.move.entries]),
  )
  for (const one of planned) await recode(call, one)
  await call
    .trx('budgetAccounts')
    .whereIn(
      'id',
      planned.map(one => one.account.id),
    )
    .update({ open: false })
  const moves = shown(call, planned)
  await call.trx('budgetYearChanges').insert({
    id,
    fromYear: wanted.fromYear,
    toYear: wanted.fromYear + 1,
    costCentre: wanted.costCentre,
    carryBudget: wanted.carryBudget,
    carryRest: wanted.carryRest,
    reason,
    byId: call.actor.id,
    at: call.now,
    moved: JSON.stringify(moves),
  })
  await record(call, { kind: 'budgetYear', id, action: 'changed', reason, changes: { moves } })
  return { id, moves }
}

/** Requests and orders with lines on these accounts are held, in id order and before the accounts, as everybody does who posts on them. */
async function lockOpenDocuments(call: Call, wanted: Wanted): Promise<void> {
  const ids = (await call.trx('budgetAccounts').where({ costCentre: wanted.costCentre, fiscalYear: wanted.fromYear }).pluck('id')) as string[]
  const onThem = `exists (select 1 from jsonb_array_elements(line.splits) as part where part ->> 'accountId' = any(?))`
  await call.trx.raw(
    `select id from requisitions where state in ('waiting', 'approved', 'inPurchasing', 'ordered') and id in (select line.requisition_id from requisition_lines line where ${onThem}) order by id for no key update`,
    [ids],
  )
  await call.trx.raw(
    `select id from orders where state in ('draft', 'issued', 'acknowledged', 'closed') and id in (select line.order_id from order_lines line where ${onThem}) order by id for no key update`,
    [ids],
  )
  await call.trx.raw(`select id from order_lines line where ${onThem} order by id for no key update`, [ids])
}

/** Lines of which something still stands pay from the new account from now on; lines that are finished keep theirs. */
async function recode(call: Call, { account, next, move }: Planned): Promise<void> {
  const ids = [...new Set(move.entries.map(entry => entry.lineId).filter(lineId => lineId !== undefined))]
  if (ids.length === 0) return
  const where = { requisition_lines: 'id = any(:ids) or id in (select requisition_line_id from order_lines where id = any(:ids))', order_lines: 'id = any(:ids)' }
  for (const table of ['requisition_lines', 'order_lines'] as const)
    await call.trx.raw(
      `update ${table} set splits = (select jsonb_agg(case when part ->> 'accountId' = :old then jsonb_set(part, '{accountId}', to_jsonb(:new::text)) else part end order by place) from jsonb_array_elements(splits) with ordinality as parts (part, place))
       where ${where[table]}`,
      { old: account.id, new: next.id, ids },
    )
}
