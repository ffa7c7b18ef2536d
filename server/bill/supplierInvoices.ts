import type { ResponseOf } from '#contract/endpoint.ts'
import type { SupplierInvoices, SupplierInvoiceSheet } from '#contract/bill/credits.ts'
import type { KeptHold } from '#core/bill/holds.ts'
import { isWrittenHere } from '#core/bill/outgoing.ts'
import { againstOf } from '#core/bill/matchInvoice.ts'
import { CREDIT_STATES, type CreditState } from '#core/bill/creditStates.ts'
import { INVOICE_GROUPS, type InvoiceState } from '#core/bill/states.ts'
import { formatAmount } from '#core/money/amount.ts'
import { isIn } from '#core/states.ts'
import { type CreditRow, creditsAgainst } from '#server/bill/creditStore.ts'
import { creditable, creditLines } from '#server/bill/creditSheet.ts'
import { disputesOf } from '#server/bill/disputeStore.ts'
import { knownInvoice, type KnownInvoice } from '#server/bill/invoiceStore.ts'
import { creditedInvoice } from '#server/bill/knownCreditStore.ts'
import { found, type Read } from '#server/call.ts'

interface Own {
  id: string
  number: string
  issueDate: string
  state: InvoiceState
  gross: bigint
  currency: string
  dueOn: string | null
  order: string
}

const shown = ({ gross, currency, ...own }: Own) => ({ ...own, currency, gross: formatAmount(gross, currency) })

/** Invoices that are shown at once. */
const MOST_INVOICES = 100

/** A supplier's own invoices, the newest first, found by its own number or the order's. */
export async function supplierInvoices(call: Read, search = ''): Promise<ResponseOf<typeof SupplierInvoices>> {
  const { rows } = await call.trx.raw<{ rows: Own[] }>(
    `select i.id, i.supplier_number as number, i.issue_date, i.state, i.payable as gross, i.currency, i.due_on, i.order_reference as "order" from invoices i
     where i.supplier_id = :supplier and (:search = '' or position(:search in lower(i.supplier_number || ' ' || i.order_reference || ' ' || i.number)) > 0) order by i.received_at desc limit :most`,
    { supplier: call.actor.supplierId, search: search.trim().toLowerCase(), most: MOST_INVOICES + 1 },
  )
  return { invoices: rows.slice(0, MOST_INVOICES).map(shown), more: rows.length > MOST_INVOICES }
}

export async function supplierInvoice(call: Read, id: string): Promise<ResponseOf<typeof SupplierInvoiceSheet>> {
  found(
    await call
      .trx('invoices')
      .where({ id, supplierId: call.actor.supplierId ?? '' })
      .first('id'),
    'invoice',
  )
  const invoice = await knownInvoice(call, id)
  const { row, currency } = invoice
  const text = (amount: bigint): string => formatAmount(amount, currency)
  const credits = (await creditsAgainst(call, [id], Object.keys(CREDIT_STATES) as CreditState[])).get(id) ?? []
  const left = creditable(await creditedInvoice(call, invoice))
  return {
    id,
    number: row.supplierNumber,
    issueDate: row.issueDate,
    state: row.state,
    gross: text(row.gross),
    currency,
    dueOn: row.dueOn,
    order: row.orderReference,
    ours: row.number,
    madeHere: isWrittenHere(row.source),
    version: row.version,
    payable: text(row.payable),
    setOff: text(row.setOff),
    payDay: await payDay(call, invoice),
    waits: invoice.holds.filter(hold => !hold.ended).map(hold => waitOf(invoice, hold)),
    disputes: await disputesOf(call, id, 'supplier'),
    mayCredit: isIn(INVOICE_GROUPS.standing, row.state) && left.grossLeft !== text(0n),
    chargesLeft: left.chargesLeft,
    lines: left.lines,
    credits: credits
      .filter(one => one.row.issuer === 'supplier' || one.row.state !== 'draft')
      .map(one => ({ ...creditJson(one.row), charges: text(one.charges), net: text(one.net), tax: text(one.tax), gross: text(one.gross), lines: creditLines(one, currency) })), // prettier-ignore
  }
}

const creditJson = (row: CreditRow) => ({
  id: row.id,
  version: row.version,
  number: row.number,
  theirs: row.supplierNumber,
  issuer: row.issuer,
  state: row.state,
  issueDate: row.issueDate,
  reason: row.reason,
  setOff: formatAmount(row.setOff, row.currency),
  mayWrite: row.issuer === 'supplier' && row.state === 'draft',
  mayWithdraw: row.issuer === 'supplier' && CREDIT_STATES[row.state].withdraw !== undefined,
})

/** What the supplier is told of a difference: what it waits for and where, not who of us clears it. */
function waitOf(invoice: KnownInvoice, hold: KeptHold) {
  const line = invoice.lines.find(one => one.position === hold.position)
  const ordered = line && againstOf(invoice, line)?.line
  return {
    code: `supplierInvoice.waits.${hold.kind}`,
    details: {
      line: hold.position ?? 0,
      ordered: ordered?.position ?? 0,
      description: line?.description ?? '',
      quantity: hold.quantity,
      unit: line?.unit ?? '',
      amount: formatAmount(hold.amount, invoice.currency),
      currency: invoice.currency,
      place: ordered?.place.split('\n')[0] ?? '',
    },
  }
}

/** When the money comes: the day it was paid, the day of its payment run, or the day it is due; null while something holds it. */
async function payDay(call: Read, invoice: KnownInvoice): Promise<string | null> {
  if (isIn(INVOICE_GROUPS.payable, invoice.state))
    return (invoice.dueOn ?? '') > call.today ? invoice.dueOn : call.today
  const { rows } = await call.trx.raw<{ rows: { day: string }[] }>(
    `select coalesce(p.paid_on, r.execute_on)::text as day from payments p join payment_runs r on r.id = p.run_id where p.invoice_id = ? and p.state not in ('refused', 'withdrawn') order by r.created_at desc limit 1`,
    [invoice.id],
  )
  return rows[0]?.day ?? null
}
