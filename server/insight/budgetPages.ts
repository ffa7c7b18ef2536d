import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadBudget, ReadLineEntries } from '#contract/insight/endpoints.ts'
import { fiscalYearOf } from '#core/calendar/days.ts'
import { documentKind, isDocumentKind } from '#core/documents/kinds.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { found, type Read } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { needVisible, visibleBindings, visibleIds, visibleSql } from '#server/documents/visible.ts'
import { accountLabel, type AccountRow, budgetFigures } from '#server/ledger/budgetStore.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface EntryRow {
  id: bigint
  kind: string
  at: string
  documentKind: string
  documentId: string
  actor: string
}

/** What entries are called and where their documents are, by the list of kinds; many kinds, one query each. */
async function documentsOf(call: Read, rows: readonly EntryRow[]): Promise<(row: EntryRow) => Named> {
  const named = new Map<string, Named>()
  for (const [kind, own] of groupBy(rows, row => row.documentKind)) {
    if (!isDocumentKind(kind)) continue
    const { rows: table, letter, title, home, path } = documentKind(kind)
    const label = letter === '' ? snake(title) : 'number'
    const { rows: found } = await call.trx.raw<{ rows: { id: string; label: string; place: string }[] }>(
      `select id, ${label}::text as label, ${snake(home)}::text as place from ${snake(table)} where id = any(?)`,
      [[...new Set(own.map(row => row.documentId))]],
    )
    const open = await visibleIds(
      call,
      kind,
      found.map(one => one.id),
    )
    for (const one of found) named.set(one.id, { label: one.label, path: open.has(one.id) ? path(one.place) : null })
  }
  return row => named.get(row.documentId) ?? { label: row.documentKind, path: null }
}

interface Named {
  readonly label: string
  readonly path: string | null
}

const snake = (name: string): string => name.replace(/[A-Z]/g, letter => `_${letter.toLowerCase()}`)

/** A budget account with the entries behind its figures, the latest first; for those who hold it, keep its books or charge it. */
export async function readBudget(call: Read, id: string): Promise<ResponseOf<typeof ReadBudget>> {
  await needVisible(call, 'budgetAccount', id)
  const account = found(await call.trx('budgetAccounts').where({ id }).first(), 'budgetAccount')
  const [figures] = await budgetFigures(call, new Map([[id, minor(0)]]), true)
  const { rows } = await call.trx.raw<{ rows: (EntryRow & { amount: bigint })[] }>(
    'select entry.id, entry.kind, entry.amount, entry.at, entry.document_kind, entry.document_id, people.name as actor from budget_entries entry join people on people.id = entry.actor_id where account_id = ? order by entry.id desc limit 200',
    [id],
  )
  const [count] = await call.trx('budgetEntries').where({ accountId: id }).count<{ entries: bigint }[]>('* as entries')
  const named = await documentsOf(call, rows)
  return {
    figures: figures!,
    level: account.checkLevel,
    entries: rows.map(row => ({
      id: row.id.toString(),
      kind: row.kind,
      amount: formatAmount(row.amount, call.base),
      at: row.at,
      document: named(row).label,
      path: named(row).path,
      actor: row.actor,
    })),
    entryCount: Number(count?.entries ?? 0),
  }
}

export async function readLineEntries(call: Read, lineId: string): Promise<ResponseOf<typeof ReadLineEntries>> {
  const { rows } = await call.trx.raw<{ rows: (EntryRow & { quantity: string; reversesId: bigint | null })[] }>(
    'select entry.id, entry.kind, entry.quantity, entry.at, entry.reverses_id, entry.document_kind, entry.document_id, people.name as actor from quantity_entries entry join people on people.id = entry.actor_id where line_id = ? order by entry.id limit 500',
    [lineId],
  )
  const named = await documentsOf(call, rows)
  return {
    entries: rows.map(row => ({
      id: row.id.toString(),
      kind: row.kind,
      quantity: row.quantity,
      at: row.at,
      document: named(row).label,
      actor: row.actor,
      reverses: row.reversesId?.toString() ?? null,
    })),
  }
}

interface Listed extends AccountRow {
  costCentreName: string
  accountName: string
  allotted: bigint
  reserved: bigint
  committed: bigint
  spent: bigint
  accrued: bigint
}

const sum = (kind: string): string =>
  `coalesce((select amount from budget_balances where account_id = account.id and kind = '${kind}'), 0) as ${kind}`

export const budgetList: ListDefinition<Listed> = {
  id: 'account.id',
  base: call =>
    call
      .trx('budgetAccounts as account')
      .join('costCentres as centre', 'centre.code', 'account.costCentre')
      .join('naturalAccounts as nature', 'nature.code', 'account.naturalAccount')
      .whereRaw(visibleSql(call, 'budgetAccount', 'account'), visibleBindings(call)),
  select: [
    'account.*',
    'centre.name as cost_centre_name',
    'nature.name as account_name',
    ...['allotted', 'reserved', 'committed', 'spent', 'accrued'].map(sum),
  ],
  views: {
    thisYear: (query, call) =>
      void query.where('account.fiscalYear', fiscalYearOf(call.today, call.house.fiscalYearFrom)),
    mine: (query, call) => void query.whereIn('account.costCentre', [...call.actor.costCentres]),
    all: () => undefined,
  },
  sorts: {
    account: {
      sql: '(account.cost_centre || account.natural_account || account.fiscal_year)',
      descending: false,
      type: 'text',
    },
  },
  search:
    "lower(account.cost_centre || ' / ' || account.natural_account || ', ' || account.fiscal_year || ', ' || centre.name || ' ' || nature.name || ' ' || coalesce(account.project, ''))",
  columns: ['allotted', 'reserved', 'committed', 'spent', 'accrued'].map(key => ({ key, type: 'figure' as const })),
  row: (row, call) => {
    const left = row.allotted - row.reserved - row.committed - row.spent
    const text = (amount: bigint): string => formatAmount(amount, call.base)
    return {
      id: row.id,
      path: `/insight/${row.id}`,
      number: accountLabel(row),
      title: `${row.costCentre} / ${row.naturalAccount} ${row.accountName}`,
      subtitle: `${row.costCentreName}, ${row.fiscalYear}${row.project ? `, ${row.project}` : ''}`,
      state: row.open ? 'open' : 'closed',
      amount: text(left),
      currency: call.base,
      note: {
        code: left < 0n ? 'budget.short.over' : 'budget.short.left',
        details: { percent: row.allotted > 0n ? Number((left * 100n) / row.allotted) : 0 },
      },
      tone: left < 0n ? 'stop' : 'plain',
      cells: {
        allotted: text(row.allotted),
        reserved: text(row.reserved),
        committed: text(row.committed),
        spent: text(row.spent),
        accrued: text(row.accrued),
      },
    }
  },
}
