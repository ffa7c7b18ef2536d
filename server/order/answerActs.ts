import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadAnswerFile, RecordAnswer } from '#contract/order/endpoints.ts'
import type { Decision } from '#core/acts/decision.ts'
import { secondYes } from '#core/consent/consent.ts'
import { orderTotal } from '#core/order/revision.ts'
import { readUblOrderResponse } from '#core/formats/ublOrderResponse.ts'
import { readOrderAnswer } from '#core/formats/orderAnswer.ts'
import { type Answered, answerOrder, recordAnswer } from '#core/order/answerOrder.ts'
import type { ResponseLine } from '#core/order/revision.ts'
import type { Read, Write } from '#server/call.ts'
import { ask } from '#server/consent/consentStore.ts'
import { json } from '#server/database/json.ts'
import { obey } from '#server/documents/obey.ts'
import { carryOut } from '#server/order/orderActs.ts'
import { heldOrder, heldOwnOrder, knownOrder, type KnownOrder, type ResponseRow } from '#server/order/orderStore.ts'

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
  return await take(call, order, decision, { id: randomUUID(), lines, note, told: null })
}

/** Takes what a supplier answered by telephone or mail and one of us typed in. */
export async function record(
  call: Write,
  id: string,
  { version, revision, lines, note, told }: BodyOf<typeof RecordAnswer>,
): Promise<{ state: string }> {
  const order = await heldOrder(call, id, version)
  const answerId = randomUUID()
  const decision = recordAnswer(order, revision, lines, call.actor, {
    note,
    told: { ...told, note: '' },
    today: call.today,
    answerId,
  })
  return await take(call, order, decision, { id: answerId, lines, note, told })
}

async function take(
  call: Write,
  order: KnownOrder,
  decision: Decision<Answered>,
  { id, lines, note, told }: Pick<ResponseRow, 'id' | 'note' | 'told'> & { readonly lines: readonly ResponseLine[] },
): Promise<{ state: string }> {
  const { given, revision } = obey(decision).next
  await call.trx('orderResponses').insert({
    id,
    orderId: order.id,
    revision,
    state: given.state,
    lines: json([...lines]),
    differences: json([...given.differences]),
    note,
    told: json(told),
    byId: call.actor.id,
    at: call.now,
  })
  if (given.state === 'waiting')
    await ask(
      call,
      secondYes(
        {
          purpose: 'orderAnswer',
          documentKind: 'order',
          documentId: order.id,
          reason: note,
          subject: { answerId: id },
        },
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
        path: `/order/${order.id}`,
      },
    )
  await carryOut(call, order, decision)
  return { state: given.state }
}

/** What the UBL file of a supplier's answer says, against the order as it stands; nothing is kept. */
export async function readAnswerFile(call: Read, id: string, text: string): Promise<ResponseOf<typeof ReadAnswerFile>> {
  const order = await knownOrder(call, id)
  const { left, ...read } = readOrderAnswer(order, readUblOrderResponse(text), call.today)
  return {
    ...read,
    lines: [...read.lines],
    unsaid: [...read.unsaid],
    left: left.map(({ row, reason: { code, details } }) => ({ row, code, details })),
  }
}
