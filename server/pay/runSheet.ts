import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRun } from '#contract/pay/endpoints.ts'
import { formatAmount, sumMinor } from '#core/money/amount.ts'
import { stop } from '#core/reasons.ts'
import { type Call, found, may } from '#server/call.ts'
import type { ListDefinition } from '#server/lists/list.ts'
import type { PaymentRow, RunRow } from '#server/pay/runService.ts'
import { action, PATHS, sheetParts } from '#server/sheets/parts.ts'
import { threadOf } from '#server/sheets/thread.ts'

type ShownPayment = PaymentRow & { invoiceNumber: string; supplier: string; dueOn: string | null; accountState: string }

export async function readRun(call: Call, id: string): Promise<ResponseOf<typeof ReadRun>> {
  const run = found(
    (await call
      .trx('paymentRuns as run')
      .join('people as proposer', 'proposer.id', 'run.proposedBy')
      .leftJoin('people as approver', 'approver.id', 'run.approvedBy')
      .where('run.id', id)
      .first('run.*', 'proposer.name as proposer', 'approver.name as approver')) as (RunRow & { proposer: string; approver: string | null }) | undefined,
    'paymentRun',
  )
  const [parts, payments, messages] = await Promise.all([
    sheetParts(call, id),
    call
      .trx('payments')
      .join('invoices', 'invoices.id', 'payments.invoiceId')
      .join('suppliers', 'suppliers.id', 'invoices.supplierId')
      .join('supplierBankAccounts as account', 'account.id', 'payments.bankAccountId')
      .where({ runId: id })
      .orderBy(['suppliers.name', 'invoices.number'])
      .select('payments.*', 'invoices.number as invoiceNumber', 'suppliers.name as supplier', 'invoices.dueOn', 'account.state as accountState') as unknown as Promise<
      ShownPayment[]
    >,
    call.trx('bankMessages').where({ runId: id }).orderBy('at').select('id', 'kind', 'messageId', 'at') as Promise<{ id: string; kind: string; messageId: string; at: string }[]>,
  ])
  const orders = (await call
    .trx('orderLines')
    .whereIn(
      'id',
      call
        .trx('invoiceLines')
        .whereIn(
          'invoiceId',
          payments.map(payment => payment.invoiceId),
        )
        .whereNotNull('orderLineId')
        .select('orderLineId'),
    )
    .distinct('orderId')) as { orderId: string }[]
  const thread = orders.length > 0 ? await threadOf(call, { orderIds: orders.map(row => row.orderId) }) : null
  const currencies = [...new Set(payments.map(payment => payment.currency))].sort()
  const refused = payments.filter(payment => payment.state === 'refused').length
  const own = run.proposedBy === call.actor.id
  return {
    kind: 'paymentRun',
    id,
    number: run.number,
    title: `Payment run of ${run.executeOn}`,
    state: run.state,
    version: run.version,
    ...parts,
    thread,
    budgets: [],
    steps: [],
    sentence: {
      code: run.state === 'answered' && refused > 0 ? 'run.is.partlyRefused' : `run.is.${run.state}`,
      details: { payments: payments.length, refused, who: run.proposer, executeOn: run.executeOn },
    },
    tone: run.state === 'proposed' ? 'attention' : refused > 0 ? 'stop' : run.state === 'answered' ? 'settled' : 'plain',
    actions: [
      ...(run.state === 'proposed'
        ? [action('approve', !may(call, 'payment.approve') ? false : own ? [stop('pay.ownRun', {}, { clearedBy: ['financeController', 'director'] })] : true, { primary: true })]
        : []),
      ...(run.state === 'proposed' || run.state === 'approved' ? [action('withdraw', may(call, 'payment.propose'))] : []),
    ],
    executeOn: run.executeOn,
    proposedBy: run.proposer,
    approvedBy: run.approver,
    messages,
    totals: currencies.map(currency => {
      const own = payments.filter(payment => payment.currency === currency)
      return { currency, amount: formatAmount(sumMinor(own.map(payment => payment.amount)), currency), payments: own.length }
    }),
    payments: payments.map(payment => ({
      id: payment.id,
      invoiceId: payment.invoiceId,
      invoiceNumber: payment.invoiceNumber,
      invoicePath: PATHS.invoice(payment.invoiceId),
      supplier: payment.supplier,
      iban: payment.iban,
      accountState: payment.accountState,
      amount: formatAmount(payment.amount, payment.currency),
      currency: payment.currency,
      dueOn: payment.dueOn,
      state: payment.state,
      endToEndId: payment.endToEndId,
      bankReason: payment.bankReason,
      paidOn: payment.paidOn,
    })),
  }
}

interface ListedRun {
  id: string
  number: string
  state: string
  executeOn: string
  baseTotal: bigint
  payments: number
  proposer: string
  refused: number
}

export const runList: ListDefinition<ListedRun> = {
  id: 'run.id',
  base: call => call.trx('paymentRuns as run').leftJoin('people', 'people.id', 'run.proposedBy'),
  select: [
    'run.id',
    'run.number',
    'run.state',
    'run.execute_on',
    'run.base_total',
    'run.payments',
    'people.name as proposer',
    "(select count(*)::int from payments where run_id = run.id and state = 'refused') as refused",
  ],
  views: { all: () => undefined, open: query => void query.whereIn('run.state', ['proposed', 'approved', 'sent']) },
  sorts: { newest: { sql: 'run.created_at', descending: true, type: 'timestamptz' } },
  search: "lower(run.number || ' ' || people.name)",
  states: { column: 'run.state', values: ['proposed', 'approved', 'sent', 'answered', 'withdrawn'] },
  columns: [
    { key: 'executeOn', numeric: false },
    { key: 'payments', numeric: true },
    { key: 'proposer', numeric: false },
    { key: 'refused', numeric: true },
  ],
  row: (row, call) => ({
    id: row.id,
    path: PATHS.paymentRun(row.id),
    number: row.number,
    title: `${row.payments} payments`,
    subtitle: `${row.number}, ${row.proposer}`,
    state: row.state,
    amount: formatAmount(row.baseTotal, call.base),
    currency: call.base,
    note: { code: `run.short.${row.refused > 0 ? 'refused' : row.state}`, details: { who: row.proposer, refused: row.refused } },
    tone: row.refused > 0 ? 'stop' : row.state === 'proposed' ? 'attention' : row.state === 'answered' ? 'settled' : 'plain',
    cells: { executeOn: row.executeOn, payments: String(row.payments), proposer: row.proposer, refused: String(row.refused) },
  }),
}

interface Payable {
  id: string
  number: string
  supplierNumber: string
  supplier: string
  gross: bigint
  currency: string
  dueOn: string
  accountState: string | null
  bankReason: string | null
}

export const payableList: ListDefinition<Payable> = {
  id: 'invoices.id',
  base: call => call.trx('invoices').leftJoin('suppliers', 'suppliers.id', 'invoices.supplierId').where('invoices.state', 'cleared'),
  select: [
    'invoices.id',
    'invoices.number',
    'invoices.supplier_number',
    'suppliers.name as supplier',
    'invoices.gross',
    'invoices.currency',
    'invoices.due_on',
    "(select state from supplier_bank_accounts where supplier_id = invoices.supplier_id and state <> 'closed') as account_state",
    "(select bank_reason from payments where invoice_id = invoices.id and state = 'refused' order by end_to_end_id desc limit 1) as bank_reason",
  ],
  views: { all: () => undefined, due: (query, call) => void query.where('invoices.dueOn', '<=', call.today) },
  sorts: { dueOn: { sql: 'invoices.due_on', descending: false, type: 'date' }, amount: { sql: 'invoices.base_gross', descending: true, type: 'bigint' } },
  search: 'invoices.search',
  columns: [
    { key: 'supplier', numeric: false },
    { key: 'supplierNumber', numeric: false },
    { key: 'dueOn', numeric: false },
    { key: 'account', numeric: false },
  ],
  row: (row, call) => ({
    id: row.id,
    path: PATHS.invoice(row.id),
    number: row.number,
    title: row.supplier,
    subtitle: `${row.number}, ${row.supplierNumber}`,
    state: 'cleared',
    amount: formatAmount(row.gross, row.currency),
    currency: row.currency,
    note: {
      code: `payable.short.${row.accountState !== 'proven' ? 'account' : row.bankReason ? 'refused' : row.dueOn < call.today ? 'overdue' : 'due'}`,
      details: { dueOn: row.dueOn, reason: row.bankReason ?? '' },
    },
    tone: row.accountState !== 'proven' || row.bankReason ? 'stop' : row.dueOn < call.today ? 'attention' : 'plain',
    cells: { supplier: row.supplier, supplierNumber: row.supplierNumber, dueOn: row.dueOn, account: row.accountState },
  }),
}
