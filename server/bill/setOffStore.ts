import { randomUUID } from 'node:crypto'
import { CREDIT_GROUPS } from '#core/bill/creditStates.ts'
import { setOff } from '#core/bill/setOff.ts'
import { INVOICE_GROUPS, INVOICE_STATES } from '#core/bill/states.ts'
import { formatAmount, minor, portion } from '#core/money/amount.ts'
import { isIn, transition } from '#core/states.ts'
import type { Write } from '#server/call.ts'
import { holdAll } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/**
 * Sets the open credits of suppliers off against these invoices, which the caller holds. One of which nothing is left to pay is set off as a whole.
 * Says which documents changed.
 */
export async function setOffAgainst(call: Write, invoiceIds: readonly string[]): Promise<string[]> {
  const { rows: pairs } = await call.trx.raw<{ rows: { supplierId: string; currency: string }[] }>(
    `select distinct i.supplier_id, i.currency from invoices i join credit_notes c on c.supplier_id = i.supplier_id and c.currency = i.currency and c.state = any(:posted) and c.set_off < c.gross where i.id = any(:ids) and i.state = any(:payable)`,
    { ids: [...invoiceIds], posted: [...CREDIT_GROUPS.posted], payable: [...INVOICE_GROUPS.payable] },
  )
  const touched: string[] = []
  for (const { supplierId, currency } of pairs) {
    const open = await call.trx('creditNotes').where({ supplierId, currency }).whereIn('state', [...CREDIT_GROUPS.posted]).whereRaw('set_off < gross').orderBy('id').select('id') // prettier-ignore
    const credits = await holdAll(call, 'creditNote', open.map(one => one.id)) // prettier-ignore
    const invoices = await call.trx('invoices').whereIn('id', [...invoiceIds]).where({ supplierId, currency }).whereIn('state', [...INVOICE_GROUPS.payable]) // prettier-ignore
    const made = setOff(
      credits.map(({ id, issueDate, invoiceId, gross, setOff: taken }) => ({ id, issueDate, invoiceId, open: minor(gross - taken) })), // prettier-ignore
      invoices.map(({ id, dueOn, payable, setOff: taken }) => ({ id, dueOn: dueOn ?? '', open: minor(payable - taken) })), // prettier-ignore
    )
    for (const { creditId, invoiceId, amount } of made) {
      await call.trx('setOffs').insert({ id: randomUUID(), creditId, invoiceId, amount, at: call.now, byId: call.actor.id, endedAt: null }) // prettier-ignore
      await reckonSetOff(call, creditId)
      touched.push(invoiceId)
    }
  }
  for (const id of new Set(touched)) await reckonInvoice(call, id)
  await refreshThread(call, { invoiceIds: [...new Set(touched)] })
  return [...new Set(touched)]
}

/** What of a credit note is set off, by what is kept of it. */
async function reckonSetOff(call: Write, creditId: string): Promise<void> {
  await call.trx.raw(
    'update credit_notes set set_off = (select coalesce(sum(amount), 0) from set_offs where credit_id = :id and ended_at is null) where id = :id',
    { id: creditId },
  )
}

/** What of an invoice is set off; once nothing is left to pay it is set off as a whole, and open again when a credit is taken back. */
async function reckonInvoice(call: Write, invoiceId: string): Promise<void> {
  const { rows } = await call.trx.raw<{ rows: [{ amount: bigint }] }>(
    'select coalesce(sum(amount), 0)::bigint as amount from set_offs where invoice_id = ? and ended_at is null',
    [invoiceId],
  )
  const { amount } = rows[0]
  const invoice = (await call.trx('invoices').where({ id: invoiceId }).first())!
  const whole = amount === invoice.payable && isIn(INVOICE_GROUPS.payable, invoice.state)
  const again = amount < invoice.payable && invoice.state === 'setOff'
  const next = whole || again ? transition(INVOICE_STATES, 'invoice', invoice.state, whole ? 'setOff' : 'reopen') : null
  await move(
    call,
    'invoice',
    invoice,
    {
      setOff: amount,
      baseSetOff: portion(minor(invoice.basePayable), amount.toString(), invoice.payable.toString()),
      ...(next?.ok ? { state: next.state } : {}),
    },
    { action: 'setOff', changes: { amount: formatAmount(amount, invoice.currency) }, reason: null },
  )
}

/** Takes set-offs back that are on these invoices or of this credit note and that no payment has counted on. Says which invoices changed. */
export async function endSetOffs(call: Write, where: { invoiceId: string } | { creditId: string }): Promise<string[]> {
  const ended = await call.trx('setOffs').where(where).whereNull('endedAt').update({ endedAt: call.now }, ['creditId', 'invoiceId']) // prettier-ignore
  for (const creditId of new Set(ended.map(one => one.creditId))) await reckonSetOff(call, creditId)
  const invoices = [...new Set(ended.map(one => one.invoiceId))]
  for (const id of invoices) await reckonInvoice(call, id)
  return invoices
}
