import { SUPPLIER_STATE_CODES } from '#core/source/states.ts'
import type { Read } from '#server/call.ts'
import type { ListColumn, ListDefinition } from '#server/lists/list.ts'
import { pathOf } from '#server/documents/sheetParts.ts'

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
  lastOrderOn: string | null
  bad: number
  terms: { days: number }
}

/** Suppliers of which a certificate stands so today, as the core keeps it. */
const standsSql = (call: Read, standing: string) =>
  call.trx.raw(
    'exists (select 1 from supplier_standings t where t.supplier_id = suppliers.id and t.standing = :standing and (t.from_day is null or t.from_day <= :today) and (t.to_day is null or t.to_day >= :today))',
    { standing, today: call.today },
  )

const choices = async (call: Read, sql: string): Promise<{ value: string; label: string }[]> =>
  (
    await call.trx.raw<{
      rows: { value: string; label: string }[]
    }>(sql, sql.includes(':today') ? { today: call.today } : {})
  ).rows
const fixed =
  (group: string, values: readonly string[]): NonNullable<ListColumn['options']> =>
  () =>
    Promise.resolve(values.map(value => ({ value, label: `${group}.${value}` })))

/** What suppliers can be narrowed by. */
const FILTERS: readonly ListColumn[] = [
  {
    key: 'category',
    type: 'choice',
    options: call => choices(call, 'select name as value, name as label from supply_categories order by name'),
    apply: (query, value) => void query.whereRaw('suppliers.categories @> array[?]::text[]', [value]),
  },
  {
    key: 'country',
    type: 'choice',
    options: call =>
      choices(
        call,
        'select country as value, country as label from (select distinct country from supplier_locations) known order by country limit 250',
      ),
    apply: (query, value) =>
      void query.whereRaw(
        'exists (select 1 from supplier_locations l where l.supplier_id = suppliers.id and l.country = ?)',
        [value],
      ),
  },
  {
    key: 'certificate',
    type: 'choice',
    options: fixed('standing', ['lapsed', 'missing', 'soon', 'holds']),
    apply: (query, value, call) => void query.whereRaw(standsSql(call, value)),
  },
  {
    key: 'paid',
    type: 'choice',
    options: fixed('account', ['proven', 'unproven', 'none']),
    apply: (query, value) =>
      void (value === 'none'
        ? query.whereRaw(
            "not exists (select 1 from supplier_bank_accounts a where a.supplier_id = suppliers.id and a.state <> 'closed')",
          )
        : query.whereRaw(
            'exists (select 1 from supplier_bank_accounts a where a.supplier_id = suppliers.id and a.state = ?)',
            [value],
          )),
  },
  {
    key: 'method',
    type: 'choice',
    options: fixed('method', ['creditTransfer', 'directDebit', 'card', 'cheque']),
    apply: (query, value) =>
      void query.whereRaw("coalesce(suppliers.defaults ->> 'method', 'creditTransfer') = ?", [value]),
  },
  {
    key: 'signal',
    type: 'choice',
    options: call =>
      choices(
        call,
        "select key as value, 'signal.' || key as label from supplier_signals where tone = 'bad' group by key order by key",
      ),
    apply: (query, value) =>
      void query.whereRaw(
        "exists (select 1 from supplier_signals g where g.supplier_id = suppliers.id and g.tone = 'bad' and g.key = ?)",
        [value],
      ),
  },
]

export const supplierList: ListDefinition<ListedSupplier> = {
  id: 'suppliers.id',
  base: call => call.trx('suppliers').whereNull('suppliers.mergedInto'),
  select: [
    'suppliers.id',
    'suppliers.number',
    'suppliers.name',
    'suppliers.state',
    'suppliers.currency',
    'suppliers.categories',
    'suppliers.terms',
    'suppliers.last_order_on',
    '(select city from supplier_locations where supplier_id = suppliers.id order by position limit 1) as city',
    '(select country from supplier_locations where supplier_id = suppliers.id order by position limit 1) as country',
    "(select state from supplier_bank_accounts where supplier_id = suppliers.id and state <> 'closed') as account_state",
    "(select count(*)::int from supplier_signals where supplier_id = suppliers.id and tone = 'bad') as bad",
  ],
  views: {
    all: () => undefined,
    wantsAttention: (query, call) =>
      void query.where(
        inner =>
          void inner
            .whereIn('suppliers.state', ['paused', 'proposed'])
            .orWhereRaw(
              "exists (select 1 from supplier_bank_accounts a where a.supplier_id = suppliers.id and a.state = 'unproven')",
            )
            .orWhereRaw(
              "exists (select 1 from supplier_revisions r where r.supplier_id = suppliers.id and r.state = 'waiting')",
            )
            .orWhereRaw(standsSql(call, 'lapsed')),
      ),
    mineToLookAfter: (query, call) => void query.where('suppliers.ownerId', call.actor.id),
  },
  sorts: {
    name: { sql: 'suppliers.name', descending: false, type: 'text' },
    lastOrder: { sql: "coalesce(suppliers.last_order_on, '0001-01-01'::date)", descending: true, type: 'date' },
  },
  search: 'suppliers.search',
  states: { column: 'suppliers.state', values: SUPPLIER_STATE_CODES },
  filters: FILTERS,
  columns: [
    {
      key: 'city',
      type: 'words',
      sql: '(select city from supplier_locations where supplier_id = suppliers.id order by position limit 1)',
    },
    { key: 'country', type: 'words' },
    { key: 'categories', type: 'words' },
    { key: 'currency', type: 'words', sql: 'suppliers.currency' },
    { key: 'days', type: 'figure', sql: "(suppliers.terms ->> 'days')::int" },
    { key: 'lastOrder', type: 'date', sql: 'suppliers.last_order_on' },
    {
      key: 'signals',
      type: 'figure',
      sql: "(select count(*)::int from supplier_signals where supplier_id = suppliers.id and tone = 'bad')",
    },
  ],
  row: row => ({
    id: row.id,
    path: pathOf('supplier', row.id),
    number: row.number,
    title: row.name,
    subtitle: [row.number, row.city, row.country].filter(Boolean).join(', '),
    state: row.state,
    amount: null,
    currency: null,
    note: noteOf(row),
    tone:
      row.state === 'barred'
        ? 'stop'
        : row.state !== 'active' || row.accountState === 'unproven'
          ? 'attention'
          : 'plain',
    cells: {
      city: row.city,
      country: row.country,
      categories: row.categories.join(', '),
      currency: row.currency,
      days: String(row.terms.days),
      lastOrder: row.lastOrderOn,
      signals: row.bad > 0 ? String(row.bad) : '',
    },
  }),
}

function noteOf(row: ListedSupplier): { code: string; details: Record<string, string | number> } | null {
  if (row.state !== 'active') return { code: `supplier.short.${row.state}`, details: {} }
  if (row.accountState === 'unproven') return { code: 'supplier.short.unproven', details: {} }
  if (row.accountState === null) return { code: 'supplier.short.withoutAccount', details: {} }
  return row.bad > 0
    ? { code: row.bad === 1 ? 'supplier.short.signal' : 'supplier.short.signals', details: { count: row.bad } }
    : null
}
