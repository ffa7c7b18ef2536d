import { randomUUID } from 'node:crypto'
import type { BankMessage } from '#core/formats/bankAnswers.ts'
import { settleItem as decideSettling } from '#core/pay/settleItem.ts'
import { RUN_STATES } from '#core/pay/states.ts'
import { type BankNext, isAnswered, referencesOf, takeBankMessage } from '#core/pay/takeBankMessage.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { compute } from '#server/compute/compute.ts'
import { json } from '#server/database/json.ts'
import { someIds } from '#server/database/rows.ts'
import { hold } from '#server/documents/hold.ts'
import { record } from '#server/documents/history.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { say } from '#server/mail/mail.ts'
import { heldOrders } from '#server/order/orderStore.ts'
import { insertItems, keepBankDesk, sameMessage } from '#server/pay/bankStore.ts'
import { moveInvoices } from '#server/pay/invoiceMoves.ts'
import { markSent } from '#server/pay/runActs.ts'
import { heldRun, type KnownPayment, paymentsNamed } from '#server/pay/runStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** What became of a message: how many payments moved, how many things wait for a person. */
export interface Taken {
  readonly moved: number
  readonly open: number
}

/**
 * Takes in what a bank says, once for each file: what can be assigned moves payments, everything else waits for a person. A file that cannot
 * be read is kept with why, and passed by.
 */
export async function takeFile(call: Write, name: string, content: Buffer): Promise<Taken> {
  if (await heard(call, name)) return { moved: 0, open: 0 }
  const message = await readOrFault(content)
  if (Array.isArray(message)) return await keepUnreadable(call, name, content, message)
  const before = await sameMessage(call, message)
  if (before && !before.content.equals(content))
    return await keepUnreadable(call, name, content, [stop('bank.idReused', { message: message.messageId })])
  const id = randomUUID()
  await call.trx('bankMessages').insert({
    id,
    name,
    kind: message.kind,
    messageId: message.messageId,
    state: before ? 'repeated' : 'read',
    content,
    at: call.now,
    changedAt: call.now,
  })
  if (before) return { moved: 0, open: 0 }
  return await take(call, id, message)
}

async function readOrFault(content: Buffer): Promise<BankMessage | Reason[]> {
  try {
    return await compute('bankMessageOf', { bytes: content })
  } catch (error) {
    if (error instanceof RuleBroken) return [...error.reasons]
    throw error
  }
}

/** Keeps a message that we failed to take in, so that a person sees it and the next ones are taken. */
export async function keepFailed(call: Write, name: string, content: Buffer): Promise<Taken> {
  if (await heard(call, name)) return { moved: 0, open: 0 }
  return await keepUnreadable(call, name, content, [stop('bank.couldNotTake', { message: name })])
}

/** Whether this file was taken before; two who fetch at once wait for each other. */
async function heard(call: Write, name: string): Promise<boolean> {
  await call.trx.raw(`select pg_advisory_xact_lock(hashtext('bankMessages'))`)
  return (await call.trx('bankMessages').where({ name }).first('id')) !== undefined
}

async function keepUnreadable(call: Write, name: string, content: Buffer, fault: Reason[]): Promise<Taken> {
  const id = randomUUID()
  await call.trx('bankMessages').insert({
    id,
    name,
    kind: '',
    messageId: name,
    state: 'unreadable',
    fault: json(fault),
    content,
    at: call.now,
    changedAt: call.now,
  })
  await insertItems(call, [
    {
      id: randomUUID(),
      bankMessageId: id,
      position: 1,
      level: 'file',
      reference: name,
      outcome: 'unknown',
      status: '',
      reasonCode: '',
      amounts: [],
      date: '',
      effect: 'open',
      why: 'bank.open.unreadable',
      paymentIds: [],
    },
  ])
  await record(call, { kind: 'bankMessage', id, action: 'notRead', changes: { fault: fault.map(one => one.code) } })
  await keepBankDesk(call, id)
  return { moved: 0, open: 1 }
}

async function take(call: Write, id: string, message: BankMessage): Promise<Taken> {
  const payments = await heldPayments(call, message)
  const decided = obey(takeBankMessage(message, payments))
  const { items, moves } = decided.next
  await insertItems(
    call,
    items.map(({ item, effect, why, paymentIds }, index) => ({
      id: randomUUID(),
      bankMessageId: id,
      position: index + 1,
      ...item,
      amounts: [...item.amounts],
      effect,
      why,
      paymentIds: [...paymentIds],
    })),
  )
  await writeMoves(call, moves, payments)
  await postLedgers(call, { kind: 'bankMessage', id }, decided)
  await say(call, decided.says, { kind: 'bankMessage', id })
  await record(call, { kind: 'bankMessage', id, ...decided.did })
  for (const runId of [...new Set(moves.map(one => one.runId))].sort()) await bringRunAlong(call, runId, message)
  await refreshThread(call, {
    orderIds: await ordersPaid(
      call,
      decided.quantity.map(entry => entry.lineId),
    ),
  })
  await keepBankDesk(call, id)
  return { moved: moves.length, open: items.filter(one => one.effect === 'open').length }
}

/** The payments that a message may be about, with everything that they move held; what the bank answers, it has. */
async function heldPayments(call: Write, message: BankMessage): Promise<KnownPayment[]> {
  const references = referencesOf(message)
  const named = await paymentsNamed(call, references)
  const lines = named.flatMap(payment => payment.lines.map(line => line.orderLineId))
  await heldOrders(call, await ordersPaid(call, lines))
  const runs = []
  for (const runId of someIds(named.map(payment => payment.runId)).sort()) runs.push(await heldRun(call, runId))
  for (const run of runs) if (run.state === 'sending') await markSent(call, run.id)
  return await paymentsNamed(call, references)
}

async function ordersPaid(call: Write, lineIds: readonly string[]): Promise<string[]> {
  const ids = someIds(lineIds)
  if (ids.length === 0) return []
  const rows = await call.trx('orderLines').whereIn('id', ids).distinct<{ orderId: string }[]>('orderId')
  return rows.map(row => row.orderId).sort()
}

async function writeMoves(call: Write, moves: BankNext['moves'], payments: readonly KnownPayment[]): Promise<void> {
  for (const { paymentId, state, bankReason, paidOn } of moves)
    await call.trx('payments').where({ id: paymentId }).update({ state, bankReason, paidOn })
  const named = new Map(payments.map(payment => [payment.id, payment.endToEndId]))
  for (const one of moves)
    if (one.invoice !== null)
      await moveInvoices(call, [
        {
          invoiceId: one.invoiceId,
          action: one.invoice,
          changes: {
            payment: named.get(one.paymentId) ?? '',
            ...(one.invoice === 'pay' ? { on: one.paidOn } : { bank: one.bankReason }),
          },
        },
      ])
}

/** Records on a run what the bank said of it, and that it is answered where nothing of it is on its way any more. */
async function bringRunAlong(call: Write, runId: string, message: BankMessage): Promise<void> {
  const run = await heldRun(call, runId)
  const answered = isAnswered(run.payments.map(payment => payment.state))
  const next = answered ? transition(RUN_STATES, 'paymentRun', run.state, 'answer') : undefined
  await move(call, 'paymentRun', run.row, next?.ok ? { state: next.state } : {}, {
    action: next?.ok ? 'answered' : 'bankAnswered',
    changes: { message: message.messageId },
    reason: null,
  })
}

/** A person has looked at what could not be assigned. */
export async function settleItem(
  call: Write,
  messageId: string,
  itemId: string,
  version: number,
  note: string,
): Promise<Done> {
  const message = await hold(call, 'bankMessage', messageId, version)
  const item = found(await call.trx('bankItems').where({ id: itemId, bankMessageId: messageId }).first(), 'bankItem')
  const decided = obey(decideSettling({ ...item, settled: item.settledAt !== null }, call.actor, note))
  await call
    .trx('bankItems')
    .where({ id: decided.next.itemId })
    .update({ settledBy: call.actor.id, settledAt: call.now, note })
  const done = await move(call, 'bankMessage', message, {}, decided.did)
  await keepBankDesk(call, messageId)
  return done
}
