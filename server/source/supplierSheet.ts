import { formatAmount, minor } from '#core/money/amount.ts'
import { actionsFrom } from '#core/states.ts'
import { SUPPLIER_STATES } from '#core/source/states.ts'
import { stop } from '#core/reasons.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadSupplier } from '#contract/source/endpoints.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import { type Call, found, may } from '#server/call.ts'
import { action, PATHS, sheetParts } from '#server/sheets/parts.ts'
import { readParts, searchName, type SupplierRow } from '#server/source/supplierService.ts'

interface AccountRow {
  id: string
  iban: string
  bic: string
  holder: string
  state: 'unproven' | 'proven' | 'closed'
  changedBy: string
  changedById: string
  changedAt: string
  provenBy: string | null
  proof: string | null
}

export async function readSupplier(call: Call, id: string): Promise<ResponseOf<typeof ReadSupplier>> {
  const supplier = found((await call.trx('suppliers').where({ id }).first()) as SupplierRow | undefined, 'supplier')
  const [parts, body, accounts, orders, figures] = await Promise.all([
    sheetParts(call, id),
    readParts(call, supplier),
    call
      .trx('supplierBankAccounts as account')
      .join('people as changer', 'changer.id', 'account.changedBy')
      .leftJoin('people as prover', 'prover.id', 'account.provenBy')
      .where('account.supplierId', id)
      .orderBy('changedAt', 'desc')
      .select('account.id', 'iban', 'bic', 'holder', 'state', 'changer.name as changedBy', 'changer.id as changedById', 'changedAt', 'prover.name as provenBy', 'proof') as Promise<
      AccountRow[]
    >,
    call.trx('orders').where({ supplierId: id }).orderBy('createdAt', 'desc').limit(8).select('id', 'number', 'title', 'state', 'total', 'currency') as Promise<
      { id: string; number: string; title: string; state: string; total: bigint; currency: string }[]
    >,
    call.trx.raw(
      `select count(*) filter (where state in ('issued', 'acknowledged'))::int as open_orders, coalesce(sum(base_total) filter (where state in ('issued', 'acknowledged')), 0)::bigint as open_value, max(issued_at) as last_order,
      (select count(*)::int from invoices where supplier_id = :id and state in ('read', 'onHold', 'matched', 'cleared', 'scheduled')) as open_invoices from orders where supplier_id = :id`,
      { id },
    ) as Promise<{ rows: [{ openOrders: number; openValue: bigint; lastOrder: string | null; openInvoices: number }] }>,
  ])
  const current = accounts.find(account => account.state !== 'closed')
  const write = may(call, 'supplier.write')
  const numbers = figures.rows[0]
  return {
    kind: 'supplier',
    id,
    number: supplier.number,
    title: supplier.name,
    state: supplier.state,
    version: supplier.version,
    ...parts,
    thread: null,
    budgets: [],
    steps: [],
    sentence: sentenceOf(supplier, current),
    tone: supplier.state !== 'active' ? 'stop' : current?.state === 'proven' ? 'plain' : 'attention',
    actions: [
      action('edit', write, { primary: current?.state !== 'unproven' }),
      ...(current?.state === 'unproven'
        ? [action('prove', !may(call, 'supplier.prove') ? false : current.changedById === call.actor.id ? [stop('source.ownProof')] : true, { primary: true })]
        : []),
      action('bankAccount', write),
      ...actionsFrom(SUPPLIER_STATES, supplier.state).map(name => action(name, write)),
    ],
    supplier: body,
    bankAccounts: accounts.map(({ changedById: _changer, ...account }) => account),
    figures: { ...numbers, openValue: formatAmount(minor(numbers.openValue), call.base), currency: call.base },
    orders: may(call, 'order.read') ? orders.map(({ total, ...order }) => ({ ...order, amount: formatAmount(total, order.currency) })) : [],
  }
}

function sentenceOf(supplier: SupplierRow, account: AccountRow | undefined): { code: string; details: Record<string, string | number> } {
  if (supplier.state !== 'active') return { code: `supplier.is.${supplier.state}`, details: {} }
  if (!account) return { code: 'supplier.is.withoutAccount', details: {} }
  if (account.state === 'unproven') return { code: 'supplier.is.unproven', details: { by: account.changedBy, ending: account.iban.slice(-4) } }
  return { code: 'supplier.is.active', details: { days: supplier.terms.days, currency: supplier.currency } }
}

interface ListedSupplier {
  id: string
  number: string
  name: string
  state: string
  currency: string
  categories: string[]
  city: string | null
  country: string | null
  accountState: string | null
  terms: { days: number }
}

export const supplierList: ListDefinition<ListedSupplier> = {
  id: 'suppliers.id',
  base: call => call.trx('suppliers'),
  select: [
    'suppliers.id',
    'suppliers.number',
    'suppliers.name',
    'suppliers.state',
    'suppliers.currency',
    'suppliers.categories',
    'suppliers.terms',
    '(select city from supplier_locations where supplier_id = suppliers.id order by position limit 1) as city',
    '(select country from supplier_locations where supplier_id = suppliers.id order by position limit 1) as country',
    "(select state from supplier_bank_accounts where supplier_id = suppliers.id and state <> 'closed') as account_state",
  ],
  views: {
    all: () => undefined,
    wantsAttention: query =>
      void query.where(inner =>
        inner.whereNot('suppliers.state', 'active').orWhereExists(call => call.from('supplierBankAccounts').whereRaw("supplier_id = suppliers.id and state = 'unproven'")),
      ),
  },
  sorts: { name: { sql: 'suppliers.name', descending: false, type: 'text' } },
  search: "(suppliers.search_name || ' ' || lower(suppliers.number))",
  states: { column: 'suppliers.state', values: ['active', 'paused', 'barred', 'closed'] },
  columns: [
    { key: 'city', numeric: false },
    { key: 'country', numeric: false },
    { key: 'categories', numeric: false },
    { key: 'currency', numeric: false },
    { key: 'days', numeric: true },
  ],
  row: row => ({
    id: row.id,
    path: PATHS.supplier(row.id),
    number: row.number,
    title: row.name,
    subtitle: [row.number, row.city, row.country].filter(Boolean).join(', '),
    state: row.state,
    amount: null,
    currency: null,
    note:
      row.state !== 'active'
        ? { code: `supplier.short.${row.state}`, details: {} }
        : row.accountState === 'unproven'
          ? { code: 'supplier.short.unproven', details: {} }
          : row.accountState === null
            ? { code: 'supplier.short.withoutAccount', details: {} }
            : null,
    tone: row.state === 'barred' ? 'stop' : row.state !== 'active' || row.accountState === 'unproven' ? 'attention' : 'plain',
    cells: { city: row.city, country: row.country, categories: row.categories.join(', '), currency: row.currency, days: String(row.terms.days) },
  }),
}

/** Records whose names look alike, by trigram likeness in per cent. */
export async function similarSuppliers(call: Call, name: string): Promise<{ id: string; number: string; name: string; city: string; country: string; likeness: number }[]> {
  if (name.trim().length < 3) return []
  const { rows } = (await call.trx.raw(
    `select s.id, s.number, s.name, coalesce(l.city, '') as city, coalesce(l.country, '') as country, round(similarity(s.search_name, :name) * 100)::int as likeness
     from suppliers s left join lateral (select city, country from supplier_locations where supplier_id = s.id order by position limit 1) l on true
     where s.search_name % :name order by likeness desc, s.name limit 6`,
    { name: searchName(name) },
  )) as { rows: { id: string; number: string; name: string; city: string; country: string; likeness: number }[] }
  return rows
}
