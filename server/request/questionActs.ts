import type { z } from 'zod'
import type { QuestionOfLine } from '#contract/request/lines.ts'
import { answerQuestion as decideAnswer } from '#core/request/answerQuestion.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { resumeSteps } from '#server/consent/pause.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { obey } from '#server/documents/obey.ts'
import { say } from '#server/mail/mail.ts'
import { refreshThread } from '#server/thread/refresh.ts'

type Question = z.output<typeof QuestionOfLine>

export const questionsOf = (call: Read, requisitionId: string): Promise<Question[]> =>
  call
    .trx('requestQuestions as question')
    .join('people', 'people.id', 'question.askedBy')
    .leftJoin('people as answerer', 'answerer.id', 'question.answeredBy')
    .where({ requisitionId })
    .orderBy('askedAt')
    .select<Question[]>(
      'question.id',
      'lineId',
      'question',
      'people.name as by',
      'askedAt as at',
      'answer',
      'answerer.name as answeredBy',
      'answeredAt',
    )

/** The requester answers; lines without another open question go on. */
export async function answerQuestion(call: Write, id: string, questionId: string, answer: string): Promise<Done> {
  const requisition = await hold(call, 'requisition', id)
  const question = found(
    await call.trx('requestQuestions').where({ id: questionId, requisitionId: id }).forUpdate().first(),
    'question',
  )
  const decided = obey(decideAnswer(requisition, question, call.actor, answer))
  const same = { requisitionId: id, question: question.question, askedBy: question.askedBy }
  await call
    .trx('requestQuestions')
    .where(same)
    .whereNull('answeredAt')
    .update({ answer, answeredBy: call.actor.id, answeredAt: call.now })
  await call.trx.raw(
    'update requisition_lines l set asked = exists (select 1 from request_questions q where q.line_id = l.id and q.answered_at is null) where l.requisition_id = ?',
    [id],
  )
  if (question.stepId !== null) await resumeSteps(call, [question.stepId])
  const done = await move(call, 'requisition', requisition, {}, decided.did)
  await say(call, decided.says, { kind: 'requisition', id })
  await refreshThread(call, { requisitionIds: [id] })
  return done
}
