import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadBudget, ReadLineEntries } from '#contract/insight/endpoints.ts'
import { formatAmount, minor } from '#core/money/amount.ts'
import { type Call, found, may } from '#server/call.ts'
import { accountLabel, type AccountRow, budgetFigures } from '#server/ledger/budgetStore.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { PATHS } from '#server/sheets/parts.ts'

const DOCUMENT = `coalesce((select number from requisitions where id = entry.document_id), (select number from orders where id = entry.document_id), (select number from invoices where id = entry.document_id), (select number from receipts where id = entry.document_id), (select number from budget_transfers where id = entry.document_id), (select 'change of the year to ' || to_year from budget_year_changes where id = entry.document_id), (select i.number from payments p join invoices i on i.id = p.invoice_id where p.id = entry.document_id), entry.document_kind) as document`

/** A budget account with the entries behind its figures, the latest first. */
export async function readBudget(call: Call, id: string): Promise<ResponseOf<typeof ReadBudget>> {
  const account = found((await call.trx('budgetAccounts').where({ id }).first()) as AccountRow | undefined, 'budgetAccount')
  const [figures] = await budgetFigures(call, new Map([[id, minor(0)]]), true)
  const { rows } = (await call.trx.raw(
    `select entry.id, entry.kind, entry.amount, entry.at, entry.document_kind, entry.document_id, people.name as actor, ${DOCUMENT} from budget_entries entry join people on people.id = entry.actor_id where account_id = ? order by entry.id desc limit 200`,
    [id],
  )) as { rows: { id: bigint; kind: string; amount: bigint; at: string; documentKind: string; documentId: string; actor: string; document: string }[] }
  const count = (await call.trx('budgetEntries').where({ accountId: id }).count({ entries: '*' }).first()) as unknown as { entries: bigint }
  const path = (row: { documentKind: string; documentId: string }): string | null =>
    row.documentKind === 'requisition'
      ? PATHS.requisition(row.documentId)
      : row.documentKind === 'order' && may(call, 'order.read')
        ? PATHS.order(row.documentId)
        : row.documentKind === 'invoice' && may(call, 'invoice.read')
          ? PATHS.invoice(row.documentId)
          : row.documentKind === 'budgetTransfer'
            ? '/insight/transfers'
            : null
  return {
    figures: figures!,
    level: account.checkLevel,
    entries: rows.map(row => ({
      id: row.id.toString(),
      kind: row.kind,
      amount: formatAmount(row.amount, call.base),
      at: row.at,
      document: row.document,
      path: path(row),
      actor: row.actor,
    })),
    entryCount: Number(count.entries),
  }
}

export async function readLineEntries(call: Call, lineId: string): Promise<ResponseOf<typeof ReadLineEntries>> {
  const { rows } = (await call.trx.raw(
    `select entry.id, entry.kind, entry.quantity, entry.at, entry.reverses_id, people.name as actor, ${DOCUMENT} from quantity_entries entry join people on people.id = entry.actor_id where line_id = ? order by entry.id limit 500`,
    [lineId],
  )) as { rows: { id: bigint; kind: string; quantity: string; at: string; reversesId: bigint | null; actor: string; document: string }[] }
  return {
    entries: rows.map(row => ({
      id: row.id.toString(),
      kind: row.kind,
      quantity: row.quantity,
      at: row.at,
      document: row.document,
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

const sum = (kind: string): string => `coalesce((select amount from budget_balances where account_id = account.id and kind = '${kind}'), 0) as ${kind}`

export const budgetList: ListDefinition<Listed> = {
  id: 'account.id',
  base: call =>
    call
      .trx('budgetAccounts as account')
      .join('costCentres as centre', 'centre.code', 'account.costCentre')
      .join('naturalAccounts as nature', 'nature.code', 'account.naturalAccount'),
  select: ['account.*', 'centre.name as cost_centre_name', 'nature.name as account_name', ...['allotted', 'reserved', 'committed', 'spent', 'accrued'].map(sum)],
  views: {
    thisYear: (query, call) => void query.where('account.fiscalYear', Number(call.today.slice(0, 4))),
    mine: (query, call) => void query.whereIn('account.costCentre', [...call.actor.costCentres]),
    all: () => undefined,
  },
  sorts: { account: { sql: '(account.cost_centre || account.natural_account || account.fiscal_year)', descending: false, type: 'text' } },
  search: "lower(account.cost_centre || ' ' || account.natural_account || ' ' || centre.name || ' ' || nature.name || ' ' || coalesce(account.project, ''))",
  columns: ['allotted', 'reserved', 'committed', 'spent', 'accrued'].map(key => ({ key, numeric: true })),
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
      note: { code: left < 0n ? 'budget.short.over' : 'budget.short.left', details: { percent: row.allotted > 0n ? Number((left * 100n) / row.allotted) : 0 } },
      tone: left < 0n ? 'stop' : 'plain',
      cells: { allotted: text(row.allotted), reserved: text(row.reserved), committed: text(row.committed), spent: text(row.spent), accrued: text(row.accrued) },
    }
  },
}
