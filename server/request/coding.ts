import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ProposeAccounts } from '#contract/request/endpoints.ts'
import { fiscalYearOf } from '#core/calendar/days.ts'
import { type CodingAccount, proposeAccounts } from '#core/request/coding.ts'
import type { Read } from '#server/call.ts'
import type { AccountRow } from '#server/ledger/budgetStore.ts'
import { accountNames, accountWords } from '#server/request/choices.ts'
import { categoriesOf } from '#server/source/categoryStore.ts'

interface Used {
  accountId: string
  itemId: string | null
  category: string
  own: boolean
  costCentre: string
}

/** Accounts of lines like these that were submitted within two years: this person's own first, then newest first. */
async function used(call: Read, itemIds: readonly string[], categories: readonly string[]): Promise<Used[]> {
  const { rows } = await call.trx.raw<{ rows: Used[] }>(
    `select s.account_id, l.item_id, l.category, r.requester_id = :me as own, a.cost_centre from requisition_lines l join requisitions r on r.id = l.requisition_id join line_splits s on s.requisition_line_id = l.id
     join budget_accounts a on a.id = s.account_id
     where r.submitted_at is not null and r.submitted_at > :now::timestamptz - interval '2 years' and (r.requester_id = :me or l.item_id = any(:items) or (l.category <> '' and l.category = any(:categories)))
     order by (r.requester_id = :me) desc, r.submitted_at desc limit 600`,
    { me: call.actor.id, now: call.now, items: [...itemIds], categories: [...categories] },
  )
  return rows
}

/** Proposes accounts for lines, with the reason of each. */
export async function proposeCoding(
  call: Read,
  body: BodyOf<typeof ProposeAccounts>,
): Promise<ResponseOf<typeof ProposeAccounts>> {
  const itemIds = [...new Set(body.lines.map(line => line.itemId).filter(id => id !== null))]
  const items = new Map(
    (await call.trx('items').whereIn('id', itemIds).select<{ id: string; category: string }[]>('id', 'category')).map(
      item => [item.id, item.category],
    ),
  )
  const categoryOf = (line: (typeof body.lines)[number]): string =>
    (line.itemId && items.get(line.itemId)) || line.category
  const names = [...new Set(body.lines.map(categoryOf).filter(Boolean))]
  const categories = new Map((await categoriesOf(call, names)).map(category => [category.name, category]))
  const before = await used(call, itemIds, names)
  const accounts = await call
    .trx('budgetAccounts')
    .leftJoin('projects', 'projects.code', 'budgetAccounts.project')
    .select<AccountRow[]>(
      'budgetAccounts.*',
      call.trx.raw('budget_accounts.open and coalesce(projects.open, true) as open'),
    )
  const known: CodingAccount[] = accounts.map(account => ({ ...account, year: account.fiscalYear }))
  const words = await accountNames(call)
  const label = new Map(accounts.map(account => [account.id, accountWords(account, words)]))
  const own = before.filter(one => one.own)
  const lines = body.lines.map(line => {
    const category = categoryOf(line)
    const proposals = proposeAccounts({
      accounts: known,
      year: fiscalYearOf(line.needBy ?? call.today, call.house.fiscalYearFrom),
      project: line.project,
      sameItem: before.filter(one => line.itemId !== null && one.itemId === line.itemId).map(one => one.accountId),
      sameCategory: own.filter(one => category !== '' && one.category === category).map(one => one.accountId),
      categoryAccount: categories.get(category)?.naturalAccount ?? null,
      costCentres: [...new Set([...call.actor.costCentres, ...own.map(one => one.costCentre)])],
      lastTime: own.slice(0, 6).map(one => one.accountId),
    })
    return { proposals: proposals.map(one => ({ ...one, label: label.get(one.accountId) ?? '' })) }
  })
  return { lines }
}
