import { INVOICE_GROUPS, INVOICE_STATES } from '#core/bill/states.ts'
import { formatAmount } from '#core/money/amount.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import type { ListDefinition } from '#server/lists/list.ts'

interface Listed {
  id: string
  number: string
  supplierNumber: string
  supplier: string
  state: string
  payable: bigint
  currency: string
  dueOn: string | null
  issueDate: string
  holds: string | null
  holdAmount: bigint | null
  accountState: string | null
}

export const invoiceList: ListDefinition<Listed> = {
  id: 'invoices.id',
  base: call => call.trx('invoices').leftJoin('suppliers', 'suppliers.id', 'invoices.supplierId'),
  select: [
    'invoices.id',
    'invoices.number',
    'invoices.supplier_number',
    'suppliers.name as supplier',
    'invoices.state',
    'invoices.payable - invoices.set_off as payable',
    'invoices.currency',
    'invoices.due_on',
    'invoices.issue_date',
    "(select string_agg(distinct kind, ' ') from invoice_holds where invoice_id = invoices.id and ended_at is null) as holds",
    '(select sum(amount)::bigint from invoice_holds where invoice_id = invoices.id and ended_at is null) as hold_amount',
    "(select state from supplier_bank_accounts where supplier_id = invoices.supplier_id and state <> 'closed') as account_state",
  ],
  views: {
    toSettle: query => void query.whereIn('invoices.state', [...INVOICE_GROUPS.waiting]),
    posted: query => void query.whereIn('invoices.state', [...INVOICE_GROUPS.posted]),
    all: () => undefined,
  },
  sorts: {
    newest: { sql: 'invoices.received_at', descending: true, type: 'timestamptz' },
    amount: { sql: 'invoices.base_payable', descending: true, type: 'bigint' },
  },
  search: 'invoices.search',
  // what credits took of it is not owed
  amount: '(invoices.base_payable - invoices.base_set_off)',
  states: {
    column: 'invoices.state',
    values: Object.keys(INVOICE_STATES).filter(state => state !== 'read'),
  },
  columns: [
    { key: 'supplier', type: 'words', sql: 'suppliers.name' },
    { key: 'supplierNumber', type: 'words', sql: 'invoices.supplier_number' },
    { key: 'issueDate', type: 'date', sql: 'invoices.issue_date' },
    { key: 'dueOn', type: 'date', sql: 'invoices.due_on' },
    {
      key: 'holds',
      type: 'words',
      sql: "(select string_agg(distinct kind, ' ') from invoice_holds where invoice_id = invoices.id and ended_at is null)",
    },
  ],
  row: row => ({
    id: row.id,
    path: pathOf('invoice', row.id),
    number: row.number,
    title: row.supplier,
    subtitle: `${row.number}, ${row.supplierNumber}`,
    state: row.state,
    amount: formatAmount(row.payable, row.currency),
    currency: row.currency,
    note: {
      code:
        row.state !== 'onHold' || !row.holds
          ? `invoice.short.${row.state}`
          : row.holds.includes(' ')
            ? 'invoice.short.held'
            : `invoice.short.held.${row.holds}`,
      details: {
        amount: formatAmount(row.holdAmount ?? 0n, row.currency),
        count: row.holds?.split(' ').length ?? 0,
        dueOn: row.dueOn ?? '',
      },
    },
    tone:
      row.state === 'onHold'
        ? 'stop'
        : row.state === 'matched'
          ? 'attention'
          : row.state === 'paid'
            ? 'settled'
            : 'plain',
    cells: {
      supplier: row.supplier,
      supplierNumber: row.supplierNumber,
      issueDate: row.issueDate,
      dueOn: row.dueOn,
      holds: row.holds,
    },
  }),
}
