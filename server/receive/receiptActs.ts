import { randomUUID } from 'node:crypto'
import type { BodyOf } from '#contract/endpoint.ts'
import type { Receive } from '#contract/receive/endpoints.ts'
import { receiveDelivery } from '#core/receive/receiveDelivery.ts'
import { reverseReceipt as decideReversal } from '#core/receive/reverseReceipt.ts'
import { type Done, found, type Write } from '#server/call.ts'
import { hold } from '#server/documents/hold.ts'
import { record } from '#server/documents/history.ts'
import { move } from '#server/documents/move.ts'
import { nextNumber } from '#server/documents/number.ts'
import { obey } from '#server/documents/obey.ts'
import { postLedgers } from '#server/ledger/post.ts'
import { heldOrder } from '#server/order/orderStore.ts'
import { receiptFacts } from '#server/receive/receiptStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Takes goods in, or accepts work. Counts add up: two people receiving the same line wait for each other. */
export async function receive(
  call: Write,
  orderId: string,
  body: BodyOf<typeof Receive>,
): Promise<Done & { number: string }> {
  const order = await heldOrder(call, orderId)
  found(await call.trx('addresses').where({ id: body.placeId }).first('id'), 'address')
  const counted = { receivedOn: body.receivedOn, lines: body.lines, checkReason: body.checkReason ?? '' }
  const decided = obey(receiveDelivery(order, counted, call.actor, call.today))
  const id = randomUUID()
  const number = await nextNumber(call, 'receipt')
  await call.trx('receipts').insert({
    id,
    number,
    orderId,
    state: 'posted',
    receivedOn: body.receivedOn,
    placeId: body.placeId,
    note: body.note,
    byId: call.actor.id,
    at: call.now,
    changedAt: call.now,
  })
  await call.trx('receiptLines').insert(
    decided.next.lines.map(({ lineId, quantity }) => ({
      id: randomUUID(),
      receiptId: id,
      orderLineId: lineId,
      quantity,
    })),
  )
  await postLedgers(call, { kind: 'receipt', id }, decided)
  const changes = { receipt: number, ...decided.did.changes }
  await record(call, { kind: 'receipt', id, ...decided.did, changes })
  await move(call, 'order', order.row, {}, { ...decided.did, changes })
  await refreshThread(call, { orderIds: [orderId] })
  return { id, version: 1, number }
}

/** Takes a receipt back with counter-entries, as far as it is not billed. */
export async function reverseReceipt(call: Write, receiptId: string, reason: string): Promise<Done> {
  const { orderId } = found(await call.trx('receipts').where({ id: receiptId }).first('orderId'), 'receipt')
  const order = await heldOrder(call, orderId)
  const row = await hold(call, 'receipt', receiptId)
  const receipt = (await receiptFacts(call, [receiptId])).get(receiptId)!
  const decided = obey(decideReversal(receipt, order, call.actor, reason))
  await postLedgers(call, { kind: 'receipt', id: receiptId }, decided)
  const done = await move(call, 'receipt', row, decided.next, decided.did)
  await move(call, 'order', order.row, {}, decided.did)
  await refreshThread(call, { orderIds: [orderId] })
  return done
}
