import { randomUUID } from 'node:crypto'
import { askFirst } from '#core/decide/askFirst.ts'
import type { Done, Write } from '#server/call.ts'
import { pauseStep } from '#server/consent/pause.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { say } from '#server/mail/mail.ts'
import { heldRequisition } from '#server/request/requisitionStore.ts'
import { refreshThread } from '#server/thread/refresh.ts'

/** Asks the requester something; the answer comes back to whoever asked. */
export async function askRequester(
  call: Write,
  id: string,
  version: number | undefined,
  question: string,
): Promise<Done> {
  const request = await heldRequisition(call, id, version)
  const questionId = randomUUID()
  const decided = obey(askFirst(request, call.actor, question, questionId))
  const { stepId } = decided.next
  await call.trx('requestQuestions').insert({
    id: questionId,
    requisitionId: id,
    lineId: null,
    stepId,
    question,
    askedBy: call.actor.id,
    askedAt: call.now,
  })
  await pauseStep(call, request.consent!.id, stepId)
  const done = await move(call, 'requisition', request.row, {}, decided.did)
  await say(call, decided.says, { kind: 'requisition', id })
  await refreshThread(call, { requisitionIds: [id] })
  return done
}
