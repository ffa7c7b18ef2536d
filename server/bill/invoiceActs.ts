import type { AnswerClearing } from '#contract/bill/endpoints.ts'
import type { BodyOf } from '#contract/endpoint.ts'
import { clearingQuestion, decidedDifference, type DifferenceAround, differenceAmount } from '#core/bill/askClearing.ts'
import { clearHold as clearAtOnce } from '#core/bill/clearHold.ts'
import { decideClearing, withdrawClearing } from '#core/bill/decideClearing.ts'
import { linkLine as decideLink } from '#core/bill/linkLine.ts'
import type { InvoiceNext } from '#core/bill/next.ts'
import { postInvoice } from '#core/bill/postInvoice.ts'
import { rejectInvoice } from '#core/bill/rejectInvoice.ts'
import { voidInvoice } from '#core/bill/voidInvoice.ts'
import type { Decision } from '#core/acts/decision.ts'
import { accountsOf } from '#core/order/after.ts'
import { type Done, found, type Read, RefusedAndKept, type Write } from '#server/call.ts'
import { dropWritten } from '#server/bill/codeStore.ts'
import { dueDay } from '#server/bill/dueDay.ts'
import { postCreditsOf, rejectCreditsOf } from '#server/bill/creditActs.ts'
import { heldInvoice, knownInvoice, type KnownInvoice, writeHolds } from '#server/bill/invoiceStore.ts'
import { ask, type KeptConsent, settleConsent } from '#server/consent/consentStore.ts'
import { byId } from '#server/database/rows.ts'
import { move } from '#server/documents/move.ts'
import { pathOf } from '#server/documents/sheetParts.ts'
import { ruled } from '#server/rules/ruledStore.ts'
import { obey } from '#server/documents/obey.ts'
import { holdAccounts } from '#server/ledger/budgetStore.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { heldOrder } from '#server/order/orderStore.ts'
import { withdrawReportsOf } from '#server/receive/reportStore.ts'
import { say } from '#server/mail/mail.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Carries out what was decided about an invoice: rows, holds, ledgers, history, and everything that shows it. */
export async function carryOut(call: Write, invoice: KnownInvoice, decision: Decision<InvoiceNext>): Promise<Done> {
  const decided = obey(decision)
  const { next } = decided
  await postLedgers(call, { kind: 'invoice', id: invoice.id }, decided)
  if (next.clears)
    await call.trx('invoiceHolds').where({ id: next.clears.holdId }).update({
      endedAt: call.now,
      endedBy: call.actor.id,
      endReason: next.clears.reason,
      cleared: true,
    })
  if (next.asked) {
    const { holdId, consent } = next.asked
    await settleConsent(call, heldAsked(invoice, holdId), consent)
  }
  if (next.links) {
    const { lineId, ...columns } = next.links
    await call.trx('invoiceLines').where({ id: lineId }).update(columns)
  }
  if (next.holds) await writeHolds(call, invoice.id, next.holds, next.state === 'rejected' ? 'rejected' : 'causeGone')
  if (next.state === 'rejected') {
    await withdrawReportsOf(call, invoice.id)
    await rejectCreditsOf(call, invoice.id, decided.did.reason ?? '')
    const dropped = await dropWritten(call, invoice.id, decided.did.reason ?? '')
    if (dropped.length > 0) await refreshThread(call, { orderIds: dropped })
  }
  const done = await move(
    call,
    'invoice',
    invoice.row,
    { state: next.state, ...(next.posts ? { postedAt: call.now, dueOn: next.posts.dueOn } : {}) },
    decided.did,
  )
  await say(call, decided.says, { kind: 'invoice', id: invoice.id })
  const orderIds = decided.quantity.length > 0 ? invoice.orders.map(order => order.id) : []
  await refreshThread(call, { orderIds, invoiceIds: [invoice.id] })
  return done
}

/** Links a line that found no order line by itself, and matches again. */
export async function linkLine(
  call: Write,
  id: string,
  lineId: string,
  orderLineId: string,
  version: number,
): Promise<Done> {
  const target = found(await call.trx('orderLines').where({ id: orderLineId }).first('orderId', 'itemId'), 'orderLine')
  const order = await heldOrder(call, target.orderId)
  const invoice = await heldInvoice(call, id, version)
  const item = target.itemId ? await call.trx('items').where({ id: target.itemId }).first('unit', 'packs') : undefined
  return await carryOut(call, invoice, decideLink(invoice, lineId, order, orderLineId, item ?? null, call.actor))
}

/** Links several lines, one after the other; where one cannot be linked none is. */
export async function linkLines(
  call: Write,
  id: string,
  links: readonly { readonly lineId: string; readonly orderLineId: string }[],
  version: number,
): Promise<Done> {
  let done: Done = { id, version }
  for (const { lineId, orderLineId } of links) done = await linkLine(call, id, lineId, orderLineId, done.version)
  return done
}

/** The question about a hold that is asked about. */
const heldAsked = (invoice: KnownInvoice, holdId: string): KeptConsent =>
  found(invoice.holds.find(hold => hold.id === holdId)?.asked, 'consent')

/** Accepts a difference, or asks those first whom the rules name for one of that size. */
export async function clearHold(
  call: Write,
  id: string,
  holdId: string,
  version: number,
  reason: string,
): Promise<Done & { asked: boolean }> {
  const invoice = await heldInvoice(call, id, version)
  const decision = clearAtOnce(invoice, holdId, call.actor, reason)
  obey(decision)
  const hold = invoice.holds.find(one => one.id === holdId)!
  const decided = decidedDifference(invoice, hold, call.actor.id, await aroundDifference(call, invoice))
  const { question, origins } = await ruled(call, clearingQuestion(invoice, hold, call.actor.id, reason), decided)
  if (origins.length === 0) return { ...(await carryOut(call, invoice, decision)), asked: false }
  const about = {
    number: invoice.number,
    title: `${invoice.supplier}, ${invoice.supplierNumber}`,
    who: call.actor.name,
    extra: reason,
    amount: differenceAmount(invoice, hold),
    currency: call.base,
    needBy: invoice.dueOn,
    path: pathOf('invoice', id),
  }
  const asked = await ask(call, question, about, { origins })
  await call.trx('invoiceHolds').where({ id: holdId }).update({ askedId: asked.id })
  const changes = { kind: hold.kind, line: hold.position }
  const done = await move(call, 'invoice', invoice.row, {}, { action: 'clearingAsked', changes, reason })
  await refreshThread(call, { invoiceIds: [id] })
  return { ...done, asked: true }
}

/** Decides about a difference that others are asked about, or takes the question back. */
export async function answerClearing(
  call: Write,
  id: string,
  holdId: string,
  { version, answer, reason }: BodyOf<typeof AnswerClearing>,
): Promise<Done> {
  const invoice = await heldInvoice(call, id, version)
  const decision =
    answer === 'withdraw'
      ? withdrawClearing(invoice, holdId, call.actor, reason)
      : decideClearing(invoice, holdId, heldAsked(invoice, holdId).reason, call.actor, answer, reason)
  return await carryOut(call, invoice, decision)
}

async function aroundDifference(call: Read, invoice: KnownInvoice): Promise<DifferenceAround> {
  const supplier = found(
    await call.trx('suppliers').where({ id: invoice.supplierId }).first('number', 'state'),
    'supplier',
  )
  const accounts = await call
    .trx('budgetAccounts')
    .whereIn('id', [...new Set(invoice.orders.flatMap(accountsOf))])
    .select<{ id: string; costCentre: string; account: string; project: string | null }[]>(
      'id',
      'costCentre',
      'naturalAccount as account',
      'project',
    )
  return { supplier, accounts: byId(accounts) }
}

/** Posts. What stops it now although it was matched before is kept as holds, and then it is refused. */
export async function post(call: Write, id: string, version: number): Promise<Done> {
  const invoice = await heldInvoice(call, id, version)
  const accounts = await holdAccounts(call, [...new Set(invoice.orders.flatMap(accountsOf))].sort())
  const decision = postInvoice(invoice, accounts, call.actor, await dueDay(call, invoice.row, invoice.rows))
  if (!decision.ok && decision.keep) {
    await writeHolds(call, id, decision.keep.holds, 'causeGone')
    await move(
      call,
      'invoice',
      invoice.row,
      { state: decision.keep.state },
      {
        action: 'heldUp',
        changes: {
          holds: decision.keep.holds.open.map(({ kind, position, quantity }) => ({ kind, position, quantity })),
        },
        reason: null,
      },
    )
    await refreshThread(call, { invoiceIds: [id] })
    throw new RefusedAndKept(decision.reasons)
  }
  const done = await carryOut(call, invoice, decision as Decision<InvoiceNext>)
  if (invoice.credits.length === 0) return done
  await postCreditsOf(call, id)
  return { id, version: (await knownInvoice(call, id)).row.version }
}

/** Rejects an invoice that is not posted, or voids one that is posted and not in a payment run, by counter-entries. */
export async function end(
  call: Write,
  id: string,
  action: 'reject' | 'void',
  version: number,
  reason: string,
): Promise<Done> {
  const invoice = await heldInvoice(call, id, version)
  const decide = action === 'reject' ? rejectInvoice : voidInvoice
  return await carryOut(call, invoice, decide(invoice, call.actor, reason))
}
