import type { Knex } from 'knex'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { formatAmount } from '#core/money/amount.ts'
import { PAYMENT_GROUPS } from '#core/pay/states.ts'
import { table } from '#core/text/table.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface Payable {
  id: string
  number: string
  supplierNumber: string
  supplier: string
  supplierState: string
  state: string
  payable: bigint
  currency: string
  dueOn: string
  accountState: string | null
  bankReason: string | null
}

const FAILED = PAYMENT_GROUPS.failed.map(state => `'${state}'`).join(', ')

function shortOf(row: Payable, today: string): string {
  if (row.supplierState === 'barred' || row.supplierState === 'closed') return 'supplier'
  if (row.accountState !== 'proven') return 'account'
  if (row.bankReason !== null) return 'refused'
  return row.dueOn < today ? 'overdue' : 'due'
}

const TONES: Readonly<Record<string, 'stop' | 'attention' | 'plain'>> = table({
  supplier: 'stop',
  account: 'stop',
  refused: 'stop',
  overdue: 'attention',
  due: 'plain',
})

/** What can be paid next, with what stands in the way. */
export const payableList: ListDefinition<Payable> = {
  id: 'invoices.id',
  base: call => {
    const invoices: Knex.QueryBuilder = call
      .trx('invoices')
      .leftJoin('suppliers', 'suppliers.id', 'invoices.supplierId')
    return invoices.whereIn('invoices.state', [...INVOICE_GROUPS.payable])
  },
  select: [
    'invoices.id',
    'invoices.number',
    'invoices.supplier_number',
    'invoices.state',
    'suppliers.name as supplier',
    'suppliers.state as supplier_state',
    'invoices.payable - invoices.set_off as payable',
    'invoices.currency',
    'invoices.due_on',
    "(select state from supplier_bank_accounts where supplier_id = invoices.supplier_id and state <> 'closed') as account_state",
    `(select coalesce(bank_reason, '') from payments where invoice_id = invoices.id and state in (${FAILED}) order by end_to_end_id desc limit 1) as bank_reason`,
  ],
  views: { all: () => undefined, due: (query, call) => void query.where('invoices.dueOn', '<=', call.today) },
  sorts: {
    dueOn: { sql: 'invoices.due_on', descending: false, type: 'date' },
    amount: { sql: '(invoices.base_payable - invoices.base_set_off)', descending: true, type: 'bigint' },
  },
  search: 'invoices.search',
  amount: '(invoices.base_payable - invoices.base_set_off)',
  columns: [
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'supplierNumber', type: 'words', sql: 'invoices.supplier_number' },
    { key: 'dueOn', type: 'date', sql: 'invoices.due_on' },
    {
      key: 'account',
      type: 'words',
      sql: "(select state from supplier_bank_accounts where supplier_id = invoices.supplier_id and state <> 'closed')",
    },
  ],
  row: (row, call) => {
    const short = shortOf(row, call.today)
    return {
      id: row.id,
      path: pathOf('invoice', row.id),
      number: row.number,
      title: row.supplier,
      subtitle: `${row.number}, ${row.supplierNumber}`,
      state: row.state,
      amount: formatAmount(row.payable, row.currency),
      currency: row.currency,
      note: { code: `payable.short.${short}`, details: { dueOn: row.dueOn, reason: row.bankReason ?? '' } },
      tone: TONES[short]!,
      cells: {
        supplier: row.supplier,
        supplierNumber: row.supplierNumber,
        dueOn: row.dueOn,
        account: row.accountState,
      },
    }
  },
}
