import { invoiceDesk } from '#core/bill/desk.ts'
import { writtenLinks } from '#core/bill/coding.ts'
import { matchInvoice } from '#core/bill/matchInvoice.ts'
import { proofGone, unprovenLines } from '#core/bill/proofGone.ts'
import { INVOICE_GROUPS } from '#core/bill/states.ts'
import { isIn } from '#core/states.ts'
import { inForceFor } from '#server/bill/codeStore.ts'
import { keepCreditDesks, unpostCreditsOf } from '#server/bill/creditActs.ts'
import type { Write } from '#server/call.ts'
import { type KnownInvoice, knownInvoices, writeHolds } from '#server/bill/invoiceStore.ts'
import { someIds } from '#server/database/rows.ts'
import { keepDesks } from '#server/desk/deskStore.ts'
import { hold, holdAll } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { knownOrders } from '#server/order/orderStore.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { EVERYBODY, type Touched } from '#server/thread/refresh.ts'

/**
 * After anything happened to orders, the invoices that wait on their lines are matched anew, in id order: a hold ends when its cause does and
 * comes back when it does. What waits because of an invoice is kept on the Desks.
 */
export async function refreshInvoices(
  call: Write,
  { orderIds, invoiceIds, unprovenIds, judgedOf }: Touched,
): Promise<undefined> {
  if (unprovenIds.length > 0) await unproven(call, unprovenIds)
  await linkWritten(call, orderIds)
  const matched = orderIds.length > 0 ? await rematch(call, await waitingOn(call, orderIds)) : []
  const judged = judgedOf.length > 0 ? await rematch(call, await waitingOf(call, judgedOf)) : []
  const ids = [...new Set([...invoiceIds, ...matched, ...judged])]
  if (ids.length === 0) return
  await keepInvoiceDesks(call, ids)
  await keepCreditDesks(call, ids)
}

/** Once an order that was written for an invoice is in force, its lines are that invoice's. */
async function linkWritten(call: Write, orderIds: readonly string[]): Promise<void> {
  if (orderIds.length === 0) return
  for (const [invoiceId, orderId] of await inForceFor(call, orderIds)) {
    const order = (await knownOrders(call, [orderId])).get(orderId)!
    await hold(call, 'invoice', invoiceId)
    const invoice = (await knownInvoices(call, [invoiceId])).get(invoiceId)!
    if (!isIn(INVOICE_GROUPS.waiting, invoice.state)) continue
    for (const { lineId, orderLineId } of writtenLinks(invoice, order.lines))
      await call.trx('invoiceLines').where({ id: lineId }).update({ orderLineId })
  }
}

/** Invoices that wait and are of some suppliers. */
async function waitingOf(call: Write, supplierIds: readonly string[]): Promise<string[]> {
  const query = call.trx('invoices').whereIn('state', [...INVOICE_GROUPS.waiting]).orderBy('id') // prettier-ignore
  if (!supplierIds.includes(EVERYBODY)) void query.whereIn('supplierId', [...supplierIds])
  return await query.pluck<string[]>('id')
}

/** Invoices that wait on lines of some orders. */
async function waitingOn(call: Write, orderIds: readonly string[]): Promise<string[]> {
  const { rows } = await call.trx
    .raw<{ rows: { id: string }[] }>(
      `select distinct i.id from invoices i join invoice_lines il on il.invoice_id = i.id join order_lines ol on ol.id = il.order_line_id where ol.order_id = any(?) and i.state = any(?) order by 1`,
      [[...orderIds], [...INVOICE_GROUPS.waiting]],
    )
    .options({ name: 'waiting-invoices' })
  return someIds(rows.map(row => row.id))
}

async function rematch(call: Write, ids: string[]): Promise<string[]> {
  if (ids.length === 0) return []
  await holdAll(call, 'invoice', ids)
  for (const invoice of (await knownInvoices(call, ids)).values()) await matchAnew(call, invoice)
  return ids
}

/**
 * Bills that were posted on the strength of a receipt that is gone: those that no payment has wait again, the latest first, until what is billed is
 * proven; those that are on their way or paid say so.
 */
async function unproven(call: Write, lineIds: readonly string[]): Promise<void> {
  const { rows } = await call.trx.raw<{ rows: { id: string }[] }>(
    `select i.id from invoices i where i.state = any(?) and exists (select 1 from invoice_lines il where il.invoice_id = i.id and il.order_line_id = any(?))
     order by array_position(?, i.state), i.posted_at desc, i.id`,
    [[...INVOICE_GROUPS.posted], [...lineIds], [...INVOICE_GROUPS.posted]],
  )
  if (rows.length === 0) return
  const ids = rows.map(row => row.id)
  await holdAll(call, 'invoice', ids)
  for (const id of ids) {
    const found = (await knownInvoices(call, [id])).get(id)!
    if (unprovenLines(found).length === 0) continue
    // what was credited on it waits with it again
    if (isIn(INVOICE_GROUPS.unpaid, found.state)) await unpostCreditsOf(call, id)
    const invoice = (await knownInvoices(call, [id])).get(id)!
    const decided = proofGone(invoice)
    await postLedgers(call, { kind: 'invoice', id }, decided)
    await move(call, 'invoice', invoice.row, { state: decided.next.state }, decided.did)
  }
}

async function matchAnew(call: Write, invoice: KnownInvoice): Promise<void> {
  const matched = matchInvoice(invoice)
  await writeHolds(call, invoice.id, matched.holds, 'causeGone')
  const changed = matched.holds.open.length > 0 || matched.holds.end.length > 0
  if (matched.state === invoice.state && !changed) return
  await move(
    call,
    'invoice',
    invoice.row,
    { state: matched.state },
    {
      action: matched.standing.length > 0 ? 'heldUp' : 'matched',
      changes: { holds: matched.standing.map(({ kind, position, quantity }) => ({ kind, position, quantity })) },
      reason: null,
    },
  )
}

/** Keeps on the Desks what waits because of invoices. */
export async function keepInvoiceDesks(call: Write, ids: readonly string[]): Promise<void> {
  const invoices = await knownInvoices(call, ids)
  await keepDesks(
    call,
    [...invoices.values()].map(invoice => ({
      document: { kind: 'invoice' as const, id: invoice.id },
      entries: invoiceDesk(invoice),
    })),
  )
}
