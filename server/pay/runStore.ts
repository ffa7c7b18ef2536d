import type { Consent } from '#core/consent/consent.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import type { AccountState, PayableFacts, PaymentFacts, RunFacts } from '#core/pay/facts.ts'
import { PAYMENT_GROUPS, type PaymentState, type RunState } from '#core/pay/states.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { setOffAgainst } from '#server/bill/setOffStore.ts'
import { openDisputes } from '#server/bill/disputeStore.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { latestConsents } from '#server/consent/consentStore.ts'
import { groupBy, someIds } from '#server/database/rows.ts'
import { hold, holdAll } from '#server/documents/hold.ts'

export interface RunRow {
  id: string
  number: string
  state: RunState
  executeOn: string
  proposedBy: string
  approvedBy: string | null
  baseTotal: bigint
  payments: number
  version: number
  createdAt: string
  changedAt: string
  /** What goes to the bank, as it was written when the run was approved. */
  file: string | null
}
export interface PaymentRow {
  id: string
  runId: string
  invoiceId: string
  bankAccountId: string
  iban: string
  bic: string
  holder: string
  amount: bigint
  currency: string
  endToEndId: string
  state: PaymentState
  bankReason: string | null
  paidOn: string | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    paymentRuns: RunRow
    payments: PaymentRow
  }
}

/** A run with everything that the core needs of it, and its row. */
export type KnownRun = Omit<RunFacts, 'payments'> & {
  readonly row: RunRow
  readonly proposer: string
  readonly approver: string | null
  readonly payments: readonly KnownPayment[]
}
export type KnownPayment = PaymentFacts & {
  readonly bic: string
  readonly bankReason: string | null
  readonly dueOn: string | null
}

type Head = RunRow & { proposer: string; approver: string | null }

export async function knownRuns(call: Read, ids: readonly string[]): Promise<Map<string, KnownRun>> {
  if (ids.length === 0) return new Map()
  const heads = await call
    .trx('paymentRuns as run')
    .join('people as proposer', 'proposer.id', 'run.proposedBy')
    .leftJoin('people as approver', 'approver.id', 'run.approvedBy')
    .whereIn('run.id', [...ids])
    .select<Head[]>('run.*', 'proposer.name as proposer', 'approver.name as approver')
  const payments = groupBy(await paymentsWhere(call, 'p.run_id = any(:ids)', { ids: [...ids] }), one => one.runId)
  const approvals = await latestConsents(call, ids, 'run')
  const recalls = await latestConsents(call, ids, 'recall')
  const consent = (of: ReadonlyMap<string, Consent>, id: string): Consent | null => of.get(id) ?? null
  return new Map(
    heads.map(({ proposer, approver, ...row }) => [
      row.id,
      {
        id: row.id,
        number: row.number,
        state: row.state,
        executeOn: row.executeOn,
        proposedBy: row.proposedBy,
        payments: payments.get(row.id) ?? [],
        approval: consent(approvals, row.id),
        recall: consent(recalls, row.id),
        row,
        proposer,
        approver,
      },
    ]),
  )
}

export const knownRun = async (call: Read, id: string): Promise<KnownRun> =>
  found((await knownRuns(call, [id])).get(id), 'paymentRun')

/** Holds a run after its invoices, as everybody does who moves both, and says what is known of it. */
export async function heldRun(call: Write, id: string, version?: number): Promise<KnownRun> {
  const invoices = await call.trx('payments').where({ runId: id }).select('invoiceId')
  await holdAll(
    call,
    'invoice',
    invoices.map(row => row.invoiceId),
  )
  await hold(call, 'paymentRun', id, version)
  return await knownRun(call, id)
}

type PaymentJoined = Omit<KnownPayment, 'lines' | 'amount'> & { amount: bigint }

/** Payments with what the core needs of them. `where` names their row `p`. */
async function paymentsWhere(call: Read, where: string, bindings: Record<string, string[]>): Promise<KnownPayment[]> {
  const { rows } = await call.trx
    .raw<{ rows: PaymentJoined[] }>(
      `select p.id, p.run_id, r.number as run_number, p.invoice_id, i.number as invoice_number, i.supplier_id, s.name as supplier, s.state as supplier_state, i.supplier_number, i.issue_date,
         i.due_on, p.iban, p.bic, p.holder, a.state as account_state, p.amount, p.currency, p.end_to_end_id, p.state, p.paid_on, p.bank_reason
       from payments p join payment_runs r on r.id = p.run_id join invoices i on i.id = p.invoice_id join suppliers s on s.id = i.supplier_id join supplier_bank_accounts a on a.id = p.bank_account_id
       where ${where} order by s.name, i.number, p.id`,
      bindings,
    )
    .options({ name: 'payments-of-runs' + (where.includes('ends') ? '-named' : '') })
  const lines = await billedLines(
    call,
    rows.map(row => row.invoiceId),
  )
  return rows.map(row => ({ ...row, amount: minor(row.amount), lines: lines.get(row.invoiceId) ?? [] }))
}

/** What invoices bill, by order line, in the ordered unit. */
async function billedLines(
  call: Read,
  invoiceIds: readonly string[],
): Promise<Map<string, { orderLineId: string; quantity: string }[]>> {
  const { rows } = await call.trx
    .raw<{ rows: { invoiceId: string; orderLineId: string; quantity: string }[] }>(
      'select invoice_id, order_line_id, quantity from invoice_lines where invoice_id = any(?) and order_line_id is not null order by invoice_id, position',
      [someIds(invoiceIds)],
    )
    .options({ name: 'billed-lines' })
  return groupBy(rows, row => row.invoiceId)
}

/** Payments that a bank's message may be about: of runs by their number, or by their own identification. */
export const paymentsNamed = (
  call: Read,
  references: { readonly runNumbers: readonly string[]; readonly endToEndIds: readonly string[] },
): Promise<KnownPayment[]> =>
  paymentsWhere(call, '(p.end_to_end_id = any(:ends) or r.number = any(:runs))', {
    ends: [...references.endToEndIds],
    runs: [...references.runNumbers],
  })

interface DueRow {
  invoiceId: string
  number: string
  supplierId: string
  supplier: string
  supplierState: string
  method: string
  dueOn: string
  payable: bigint
  currency: string
  basePayable: bigint
  accountId: string | null
  iban: string
  bic: string
  holder: string
  accountState: AccountState
  refusedWith: string | null
}

/** Holds the invoices that are due until a day, sets open credits off against them, and says what decides whether each can be paid. */
export async function heldDue(call: Write, dueUntil: string): Promise<PayableFacts[]> {
  const due = await call
    .trx('invoices')
    .whereIn('state', [...INVOICE_GROUPS.payable])
    .where('dueOn', '<=', dueUntil)
    .select('id')
  const ids = due.map(row => row.id)
  await holdAll(call, 'invoice', ids)
  await setOffAgainst(call, ids)
  const { rows } = await call.trx
    .raw<{ rows: DueRow[] }>(
      `select i.id as invoice_id, i.number, i.supplier_id, s.name as supplier, s.state as supplier_state, coalesce(s.defaults ->> 'method', '') as method, i.due_on, i.payable - i.set_off as payable, i.currency, i.base_payable - i.base_set_off as base_payable,
         a.id as account_id, a.iban, a.bic, a.holder, a.state as account_state, failed.reason as refused_with
       from invoices i join suppliers s on s.id = i.supplier_id left join supplier_bank_accounts a on a.supplier_id = i.supplier_id and a.state <> 'closed'
       left join lateral (select coalesce(p.bank_reason, '') as reason from payments p where p.invoice_id = i.id and p.bank_account_id = a.id and p.state = any(:failed) order by p.end_to_end_id desc limit 1) failed on true
       where i.id = any(:ids) and i.state = any(:payable) order by i.id`,
      { ids, failed: [...PAYMENT_GROUPS.failed], payable: [...INVOICE_GROUPS.payable] },
    )
    .options({ name: 'due-invoices' })
  const disputed = await openDisputes(call, ids)
  return rows.map((row): PayableFacts => ({
    invoiceId: row.invoiceId,
    number: row.number,
    supplierId: row.supplierId,
    supplier: row.supplier,
    supplierState: row.supplierState,
    method: row.method,
    dueOn: row.dueOn,
    amount: minor(row.payable),
    currency: row.currency,
    baseAmount: minor(row.basePayable),
    account:
      row.accountId === null
        ? null
        : { id: row.accountId, iban: row.iban, bic: row.bic, holder: row.holder, state: row.accountState },
    refusedWith: row.refusedWith,
    disputed: disputed.has(row.invoiceId),
  }))
}

export type Totals = { currency: string; amount: Minor; payments: number }[]

/** What a run pays in each currency. */
export function totalsOf(payments: readonly { readonly currency: string; readonly amount: Minor }[]): Totals {
  return [...groupBy(payments, payment => payment.currency)]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([currency, own]) => ({
      currency,
      amount: minor(own.reduce((sum, payment) => sum + payment.amount, 0n)),
      payments: own.length,
    }))
}
