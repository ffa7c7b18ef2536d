import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ChangeYear, PreviewYearChange } from '#contract/budgets/endpoints.ts'
import { changeYear, type YearMove } from '#core/budgets/budgetYear.ts'
import { fiscalYearOf } from '#core/calendar/days.ts'
import type { Outstanding } from '#core/ledger/commitments.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import type { Read, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { someIds } from '#server/database/rows.ts'
import { holdAll } from '#server/documents/hold.ts'
import { accountLabel, type AccountRow, budgetSums, holdAccounts, postBudget } from '#server/ledger/budgetStore.ts'
import { heldOrders } from '#server/order/orderStore.ts'
import { record } from '#server/documents/history.ts'

type Wanted = BodyOf<typeof PreviewYearChange>
type Shown = ResponseOf<typeof PreviewYearChange>['moves']
interface Planned {
  readonly account: AccountRow
  readonly next: AccountRow
  readonly isNew: boolean
  readonly move: YearMove
}

async function plan(call: Read, wanted: Wanted): Promise<Planned[]> {
  const of = (fiscalYear: number) =>
    call.trx('budgetAccounts').where({ costCentre: wanted.costCentre, fiscalYear }).orderBy('id')
  const accounts = await of(wanted.fromYear).where({ open: true })
  const nextOnes = await of(wanted.fromYear + 1)
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
    const move = changeYear(
      {
        id: account.id,
        nextId: next.id,
        sums: sums.get(account.id)!,
        outstanding: outstanding.filter(one => one.accountId === account.id),
      },
      wanted,
    )
    return { account, next, isNew: !known, move }
  })
}

/** What stands on open lines of these accounts, by line and kind. */
async function standing(call: Read, accountIds: readonly string[]): Promise<Outstanding[]> {
  const rows = await call
    .trx('budgetEntries')
    .whereIn('accountId', [...accountIds])
    .whereNotNull('lineId')
    .whereIn('kind', ['reserved', 'committed', 'accrued'])
    .groupBy('lineId', 'accountId', 'kind')
    .havingRaw('sum(amount) <> 0')
    .orderBy(['lineId', 'accountId', 'kind'])
    .select<Outstanding[]>('lineId', 'accountId', 'kind', call.trx.raw('sum(amount)::bigint as amount'))
  return rows.map(row => ({ ...row, amount: minor(row.amount) }))
}

const shown = (call: Read, planned: readonly Planned[]): Shown =>
  planned.map(({ account, next, move }) => ({
    account: accountLabel(account),
    next: accountLabel(next),
    carried: formatAmount(move.carried, call.base),
    budget: formatAmount(move.budget, call.base),
    rest: formatAmount(move.rest, call.base),
    lines: new Set(move.entries.map(entry => entry.lineId).filter(Boolean)).size,
  }))

const before = (call: Read, wanted: Wanted): Promise<{ id: string } | undefined> =>
  call
    .trx('budgetYearChanges')
    .where({ fromYear: wanted.fromYear, toYear: wanted.fromYear + 1, costCentre: wanted.costCentre })
    .first('id')

export async function previewYearChange(call: Read, wanted: Wanted): Promise<ResponseOf<typeof PreviewYearChange>> {
  return {
    moves: shown(call, await plan(call, wanted)),
    currency: call.base,
    done: (await before(call, wanted)) !== undefined,
  }
}

/**
 * Changes a cost centre's fiscal year: what is open goes to the next year's accounts, lines that are still open are coded to them, and the old
 * accounts are closed. Done once for each cost centre and year.
 */
export async function changeFiscalYear(
  call: Write,
  { reason, ...wanted }: BodyOf<typeof ChangeYear>,
): Promise<ResponseOf<typeof ChangeYear>> {
  if (wanted.fromYear >= fiscalYearOf(call.today, call.house.fiscalYearFrom) + 1)
    throw new RuleBroken(stop('year.future', { year: wanted.fromYear }, { place: 'fromYear' }))
  await call.trx('costCentres').where({ code: wanted.costCentre }).forUpdate().first('code')
  await holdOpenDocuments(call, wanted)
  if (await before(call, wanted))
    throw new RuleBroken(stop('year.doneAlready', { costCentre: wanted.costCentre, year: wanted.fromYear }))
  const planned = await plan(call, wanted)
  if (planned.length === 0)
    throw new RuleBroken(stop('year.noAccounts', { costCentre: wanted.costCentre, year: wanted.fromYear }))
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
    moved: json(moves as unknown),
  })
  await record(call, { kind: 'budgetYear', id, action: 'changed', reason, changes: { moves } })
  return { id, moves }
}

/** Requests and orders with lines on these accounts are held, in id order and before the accounts, as everybody does who posts on them. */
async function holdOpenDocuments(call: Write, wanted: Wanted): Promise<void> {
  const accounts = await call
    .trx('budgetAccounts')
    .where({ costCentre: wanted.costCentre })
    .whereIn('fiscalYear', [wanted.fromYear, wanted.fromYear + 1])
    .pluck('id')
  const { rows } = await call.trx.raw<{ rows: { requisitionId: string | null; orderId: string | null }[] }>(
    `select distinct q.requisition_id, o.order_id from line_splits s left join requisition_lines q on q.id = s.requisition_line_id left join order_lines o on o.id = s.order_line_id
     left join requisitions r on r.id = q.requisition_id left join orders p on p.id = o.order_id where s.account_id = any(:accounts) and (r.state = any(:requests) or p.state = any(:orders))`,
    { accounts, requests: [...REQUISITION_GROUPS.counted], orders: [...ORDER_GROUPS.open] },
  )
  await holdAll(call, 'requisition', someIds(rows.map(row => row.requisitionId)))
  await heldOrders(call, someIds(rows.map(row => row.orderId)).sort())
  await holdAccounts(call, accounts.sort())
}

/** Lines of which something still stands pay from the new account from now on; lines that are finished keep theirs. */
async function recode(call: Write, { account, next, move }: Planned): Promise<void> {
  const ids = someIds(move.entries.map(entry => entry.lineId))
  if (ids.length === 0) return
  await call.trx.raw(
    `update line_splits set account_id = :next where account_id = :old and (line_id = any(:ids) or requisition_line_id in (select requisition_line_id from order_lines where id = any(:ids)))`,
    { old: account.id, next: next.id, ids },
  )
}
