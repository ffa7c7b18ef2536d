import { randomUUID } from 'node:crypto'
import { secondYes } from '#core/consent/consent.ts'
import { orderTotal } from '#core/order/revision.ts'
import { answerOrder } from '#core/order/answerOrder.ts'
import type { ResponseLine } from '#core/order/revision.ts'
import type { Write } from '#server/call.ts'
import { ask } from '#server/consent/consentStore.ts'
import { json } from '#server/database/json.ts'
import { obey } from '#server/documents/obey.ts'
import { carryOut } from '#server/order/orderActs.ts'
import { heldOwnOrder } from '#server/order/orderStore.ts'

/** Takes a supplier's answer: in full it confirms at once, with departures it waits for the buyer. */
export async function respond(
  call: Write,
  id: string,
  revision: number,
  lines: readonly ResponseLine[],
  note: string,
): Promise<{ state: string }> {
  const order = await heldOwnOrder(call, id)
  const decision = answerOrder(order, revision, lines, call.actor, note)
  const { given } = obey(decision).next
  const answerId = randomUUID()
  await call.trx('orderResponses').insert({
    id: answerId,
    orderId: id,
    revision,
    state: given.state,
    lines: json([...lines]),
    differences: json([...given.differences]),
    note,
    byId: call.actor.id,
    at: call.now,
  })
  if (given.state === 'waiting')
    await ask(
      call,
      secondYes(
        { purpose: 'orderAnswer', documentKind: 'order', documentId: id, reason: note, subject: { answerId } },
        'order.write',
        [],
      ),
      {
        number: order.number,
        title: order.title,
        who: order.supplier,
        extra: String(given.differences.length),
        amount: orderTotal(order),
        currency: order.currency,
        needBy: order.needBy,
        path: `/order/${id}`,
      },
    )
  await carryOut(call, order, decision)
  return { state: given.state }
}
