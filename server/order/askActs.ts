import { randomUUID } from 'node:crypto'
import { stop } from '#core/reasons.ts'
import type { Write } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { refuse } from '#server/documents/obey.ts'
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
  refuse(
    lines
      .filter(line => line.state !== 'toBuy')
      .map(line => stop('order.lineNotToBuy', { line: line.description, state: line.state })),
  )
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
  await call
    .trx('requisitionLines')
    .whereIn('id', [...lineIds])
    .update({ asked: true })
  for (const [requisitionId, own] of groupBy(lines, line => line.requisitionId)) {
    const head = await call.trx('requisitions').where({ id: requisitionId }).first('requesterId')
    const { requisition, requestTitle } = own[0]!
    const about = { kind: 'requisition', id: requisitionId } as const
    await record(call, {
      ...about,
      action: 'asked',
      changes: { lines: own.map(line => line.position) },
      reason: question,
    })
    await say(
      call,
      [
        {
          template: 'requisition.question',
          to: { kind: 'person', id: head!.requesterId },
          key: `asked:${requisitionId}:${call.now}`,
          details: {
            number: requisition,
            title: requestTitle,
            by: call.actor.name,
            question,
            path: `/request/${requisitionId}`,
          },
        },
      ],
      about,
    )
  }
  await refreshThread(call, { requisitionIds: [...new Set(lines.map(line => line.requisitionId))] })
  return { asked: lines.length }
}
