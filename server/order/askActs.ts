import { randomUUID } from 'node:crypto'
import { askRequester as decideAsking, whyNotAsk } from '#core/order/askRequester.ts'
import { found, type Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { obey, refuse } from '#server/documents/obey.ts'
import { say } from '#server/mail/mail.ts'
import { heldToBuy } from '#server/order/poolStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Asks a requester about lines that are to be bought: they pause, which everybody sees, until the answer is there. */
export async function askRequester(
  call: Write,
  lineIds: readonly string[],
  question: string,
): Promise<{ asked: number }> {
  const lines = await heldToBuy(call, lineIds)
  refuse(whyNotAsk(lines, call.actor))
  await call.trx('requestQuestions').insert(
    lines.map(line => ({
      id: randomUUID(),
      requisitionId: line.requisitionId,
      lineId: line.id,
      question,
      askedBy: call.actor.id,
      askedAt: call.now,
    })),
  )
  for (const [id, own] of groupBy(lines, line => line.requisitionId)) {
    const request = found(
      await call.trx('requisitions').where({ id }).first('id', 'number', 'title', 'requesterId'),
      'requisition',
    )
    const decided = obey(decideAsking(request, own, call.actor, question, call.now))
    await call
      .trx('requisitionLines')
      .whereIn('id', [...decided.next.pauses])
      .update({ asked: true })
    await record(call, { kind: 'requisition', id, ...decided.did })
    await say(call, decided.says, { kind: 'requisition', id })
  }
  await refreshThread(call, { requisitionIds: [...new Set(lines.map(line => line.requisitionId))] })
  return { asked: lines.length }
}
