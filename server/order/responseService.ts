import { randomUUID } from 'node:crypto'
import { Decimal } from '#core/money/decimal.ts'
import { formatAmount } from '#core/money/amount.ts'
import { type ResponseLine, responseDepartures } from '#core/order/revision.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { transition } from '#core/states.ts'
import { type Call, found, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { postQuantities, quantitySums } from '#server/ledger/quantityStore.ts'
import { mailSupplier } from '#server/source/messages.ts'
import { changeOrder } from '#server/order/changeOrder.ts'
import { lockOrder, type OrderLineRow, orderLines, type OrderRow, revisionContent } from '#server/order/orderStore.ts'

/** The supplier's order, or nothing: another company's order is as if it were not there. */
export async function lockOwnOrder(call: Call, id: string): Promise<OrderRow> {
  const order = await lockOrder(call, id)
  if (order.supplierId !== call.actor.supplierId || order.state === 'draft') throw new RuleBroken(stop('document.notFound', { kind: 'order' }))
  return order
}

/** Refuses anything that is not the current revision of an open order. */
export function refuseSuperseded(order: OrderRow, revision: number): void {
  if (order.state === 'cancelled') throw new RuleBroken(stop('order.isCancelled', { number: order.number }))
  if (revision !== order.revision) throw new RuleBroken(stop('order.superseded', { revision, current: order.revision }))
  if (order.state !== 'issued' && order.state !== 'acknowledged') throw new RuleBroken(stop('order.isClosed', { number: order.number }))
}

/** Takes a supplier's answer: in full it confirms at once, with departures it waits for the buyer. */
export async function respond(call: Call, id: string, revision: number, answer: readonly ResponseLine[], note: string): Promise<{ state: string }> {
  const order = await lockOwnOrder(call, id)
  refuseSuperseded(order, revision)
  const lines = await orderLines(call, id)
  if (answer.length !== lines.length || answer.some(promise => !lines.some(line => line.id === promise.lineId))) throw new RuleBroken(stop('order.answerEveryLine'))
  if (answer.some(promise => new Decimal(promise.quantity).lt(0) || new Decimal(promise.price).lt(0))) throw new RuleBroken(stop('order.answerNegative'))
  const differences = responseDepartures(revisionContent(order, lines).lines, answer)
  const state = differences.length === 0 ? 'confirmed' : 'waiting'
  await call
    .trx('orderResponses')
    .insert({ id: randomUUID(), orderId: id, revision, state, lines: JSON.stringify(answer), differences: JSON.stringify(differences), note, byId: call.actor.id, at: call.now })
  if (state === 'confirmed') await confirm(call, order, lines, answer)
  await call
    .trx('orders')
    .where({ id })
    .update({ version: order.version + 1, changedAt: call.now, ...(state === 'confirmed' ? { state: 'acknowledged' } : {}) })
  await record(call, { kind: 'order', id, action: state === 'confirmed' ? 'confirmed' : 'answeredDifferently', changes: { differences }, reason: note || null })
  return { state }
}

async function confirm(call: Call, order: OrderRow, lines: readonly OrderLineRow[], answer: readonly ResponseLine[]): Promise<void> {
  const next = transition(ORDER_STATES, 'order', order.state, 'acknowledge')
  if (!next.ok) throw new RuleBroken(next.reasons)
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  await postQuantities(
    call,
    { kind: 'order', id: order.id },
    answer.map(promise => ({ lineId: promise.lineId, kind: 'confirmed' as const, quantity: new Decimal(promise.quantity).minus(sums(promise.lineId).confirmed).toString() })),
  )
  await call.trx.raw(
    `update order_lines set promised_date = answer.date from jsonb_to_recordset(?::jsonb) as answer ("lineId" uuid, date date) where order_lines.id = answer."lineId"`,
    [JSON.stringify(answer)],
  )
}

/**
 * The buyer accepts or refuses what the supplier proposed. Accepting another price or a larger quantity makes the next revision first;
 * a smaller quantity or a later date is kept as the promise.
 */
export async function answerResponse(
  call: Call,
  id: string,
  responseId: string,
  version: number,
  answer: 'accept' | 'refuse',
  reason: string,
): Promise<{ id: string; version: number }> {
  const order = await lockOrder(call, id)
  await guardVersion(call, order, version)
  const response = found(
    (await call.trx('orderResponses').where({ id: responseId, orderId: id }).first()) as { state: string; revision: number; lines: ResponseLine[] } | undefined,
    'orderResponse',
  )
  if (response.state !== 'waiting' || response.revision !== order.revision) throw new RuleBroken(stop('order.responseAnswered'))
  if (answer === 'refuse' && reason.trim().length < 3) throw new RuleBroken(stop('decide.noReason', {}, { place: 'reason' }))
  await call
    .trx('orderResponses')
    .where({ id: responseId })
    .update({ state: answer === 'accept' ? 'accepted' : 'refused', answeredBy: call.actor.id, answeredAt: call.now, answerReason: reason })
  const latest = answer === 'accept' ? await accept(call, order, response.lines, version) : version
  await call
    .trx('orders')
    .where({ id })
    .update({ version: latest + 1, changedAt: call.now, ...(answer === 'accept' ? { state: 'acknowledged' } : {}) })
  await record(call, { kind: 'order', id, action: answer === 'accept' ? 'answerAccepted' : 'answerRefused', reason: reason || null })
  await mailSupplier(
    call,
    order.supplierId,
    'orders',
    `order-answer:${responseId}`,
    { kind: 'order', id },
    {
      subject: `Order ${order.number}: your proposal was ${answer === 'accept' ? 'accepted' : 'refused'}`,
      text: name =>
        `Dear ${name},\n\nyour proposal for order ${order.number} was ${answer === 'accept' ? 'accepted' : 'refused. The order stands as it is; please answer it again'}.${reason ? `\n\n"${reason}"` : ''}\n\n/supplier/orders/${id}\n`,
    },
  )
  return { id, version: latest + 1 }
}

async function accept(call: Call, order: OrderRow, promised: readonly ResponseLine[], version: number): Promise<number> {
  const lines = await orderLines(call, order.id)
  const promises = new Map(promised.map(line => [line.lineId, line]))
  const wanted = lines.map(line => {
    const promise = promises.get(line.id)
    return {
      id: line.id,
      description: line.description,
      needBy: line.needBy,
      price: promise?.price ?? line.price,
      quantity: promise && new Decimal(promise.quantity).gt(line.quantity) ? promise.quantity : line.quantity,
    }
  })
  const revises = wanted.some((line, index) => !new Decimal(line.price).equals(lines[index]!.price) || !new Decimal(line.quantity).equals(lines[index]!.quantity))
  const latest = revises
    ? (
        await changeOrder(
          call,
          order.id,
          { title: order.title, message: order.message, charges: formatAmount(order.charges, order.currency), lines: wanted, reason: 'As the supplier proposed.' },
          version,
        )
      ).version
    : version
  await confirm(call, await lockOrder(call, order.id), await orderLines(call, order.id), promised)
  return latest
}
