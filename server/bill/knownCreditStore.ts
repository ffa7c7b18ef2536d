import type { CreditedInvoice, CreditFacts } from '#core/bill/creditFacts.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import { type CreditRow, creditsAgainst, figuresOf } from '#server/bill/creditStore.ts'
import { heldInvoice, knownInvoice, type KnownInvoice } from '#server/bill/invoiceStore.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { hold } from '#server/documents/hold.ts'
import type { KnownOrder } from '#server/order/orderStore.ts'

/** A credit note with everything that the core needs of it, and its row. */
export type KnownCredit = CreditFacts & {
  readonly receivedAt: string
  readonly row: CreditRow
  readonly orders: readonly KnownOrder[]
}

/** An invoice as it can be credited; `less` leaves one credit note out of what was taken from it. */
export async function creditedInvoice(call: Read, invoice: KnownInvoice, less?: string): Promise<CreditedInvoice> {
  const standing = (await creditsAgainst(call, [invoice.id])).get(invoice.id) ?? []
  const { id, number, supplierNumber, state, currency, rate, base, issueDate, charges, tax, gross, taxes, lines } =
    invoice
  return { id, number, supplierNumber, state, currency, rate, base, issueDate, charges, tax, gross, taxes, lines, credited: standing.filter(one => one.row.id !== less) } // prettier-ignore
}

/** A credit note with everything that the core needs of it. */
export async function knownCredit(call: Read, id: string, held?: KnownInvoice): Promise<KnownCredit> {
  const row = found(await call.trx('creditNotes').where({ id }).first(), 'creditNote')
  const lines = await call.trx('creditLines').where({ creditId: id }).orderBy('position')
  const invoice = held ?? (await knownInvoice(call, row.invoiceId))
  const { id: _id, number, issuer, state, supplierNumber, supplierId, issueDate, reason, receivedAt } = row
  return {
    ...figuresOf(row, lines),
    id,
    number,
    issuer,
    state,
    supplierNumber: supplierNumber || number,
    supplierId,
    supplier: invoice.supplier,
    issueDate,
    reason,
    receivedAt,
    invoice: await creditedInvoice(call, invoice, id),
    orders: invoice.orders,
    setOff: minor(row.setOff),
    setOffPaid: await setOffPaid(call, id),
    posted: await postedBy(call, id),
    row,
  }
}

/** Holds a credit note after its invoice and that one's orders, as everybody does who posts on them. */
export async function heldCredit(
  call: Write,
  id: string,
  version?: number,
): Promise<KnownCredit & { readonly held: KnownInvoice }> {
  // prettier-ignore
  const { invoiceId } = found(await call.trx('creditNotes').where({ id }).first('invoiceId'), 'creditNote')
  const held = await heldInvoice(call, invoiceId)
  await hold(call, 'creditNote', id, version)
  return { ...(await knownCredit(call, id, held)), held }
}

/** What of it is set off against invoices that a payment has or had. */
async function setOffPaid(call: Read, id: string): Promise<Minor> {
  const { rows } = await call.trx.raw<{ rows: [{ amount: bigint }] }>(
    'select coalesce(sum(s.amount), 0)::bigint as amount from set_offs s join invoices i on i.id = s.invoice_id where s.credit_id = ? and s.ended_at is null and i.state <> all(?)',
    [id, [...INVOICE_GROUPS.unpaid]],
  )
  return minor(rows[0].amount)
}

/** Entries that it made and nobody took back. */
async function postedBy(call: Read, id: string): Promise<CreditFacts['posted']> {
  const { rows: quantities } = await call.trx.raw<{ rows: { id: string; lineId: string; quantity: string }[] }>(
    `select e.id::text as id, e.line_id, e.quantity from quantity_entries e where e.document_id = ? and e.kind = 'credited' and e.reverses_id is null
       and not exists (select 1 from quantity_entries r where r.reverses_id = e.id) order by e.id`,
    [id],
  )
  const { rows: spent } = await call.trx.raw<{ rows: (BudgetEntry & { amount: bigint })[] }>(
    `select account_id, kind, line_id, sum(amount)::bigint as amount from budget_entries where document_id = ? and kind = 'spent' group by 1, 2, 3 having sum(amount) <> 0 order by 3, 1`,
    [id],
  )
  return { quantities, spent: spent.map(one => ({ ...one, amount: minor(one.amount) })) }
}
