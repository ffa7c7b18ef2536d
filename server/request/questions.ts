import { randomUUID } from 'node:crypto'
import type { z } from 'zod'
import type { QuestionOfLine } from '#contract/request/lines.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Call, type Done, found } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'
import { mail } from '#server/outbox/post.ts'
import { lockToBuy } from '#server/order/toBuy.ts'
import { lockRequisition } from '#server/request/requisitionStore.ts'

type Question = z.output<typeof QuestionOfLine>

export const questionsOf = async (call: Call, requisitionId: string): Promise<Question[]> =>
  (await call
    .trx('requestQuestions as question')
    .join('people', 'people.id', 'question.askedBy')
    .leftJoin('people as answerer', 'answerer.id', 'question.answeredBy')
    .where({ requisitionId })
    .orderBy('askedAt')
    .select('question.id', 'lineId', 'question', 'people.name as by', 'askedAt as at', 'answer', 'answerer.name as answeredBy', 'answeredAt')) as Question[]

/** Asks a requester about lines that are to be bought: they pause, which everybody sees, until the answer is there. */
export async function askRequester(call: Call, lineIds: readonly string[], question: string): Promise<{ asked: number }> {
  const lines = await lockToBuy(call, lineIds)
  for (const requisitionId of new Set(lines.map(line => line.requisitionId))) {
    const own = lines.filter(line => line.requisitionId === requisitionId)
    await call.trx('requestQuestions').insert(own.map(line => ({ id: randomUUID(), requisitionId, lineId: line.id, question, askedBy: call.actor.id, askedAt: call.now })))
    const head = (await call
      .trx('requisitions')
      .join('people', 'people.id', 'requisitions.requesterId')
      .where('requisitions.id', requisitionId)
      .first('number', 'title', 'email', 'name')) as {
      number: string
      title: string
      email: string
      name: string
    }
    await record(call, { kind: 'requisition', id: requisitionId, action: 'asked', changes: { lines: own.map(line => line.position) }, reason: question })
    await mail(
      call,
      `asked:${requisitionId}:${call.now}`,
      { kind: 'requisition', id: requisitionId },
      {
        to: head.email,
        subject: `A question about ${head.number}: ${head.title}`,
        text: `Dear ${head.name},\n\n${call.actor.name} asks before buying for ${head.number}:\n\n"${question}"\n\nPurchasing waits for your answer: /request/${requisitionId}\n`,
      },
    )
  }
  await call
    .trx('requisitionLines')
    .whereIn('id', [...lineIds])
    .update({ asked: true })
  return { asked: lines.length }
}

/** Questions that nobody has to answer any more: the request came back, or its lines will not be bought. */
export async function closeQuestions(call: Call, requisitionId: string, lineIds?: readonly string[]): Promise<void> {
  const open = call.trx('requestQuestions').where({ requisitionId }).whereNull('answeredAt')
  if (lineIds) void open.whereIn('lineId', [...lineIds])
  await open.update({ answer: '', answeredBy: call.actor.id, answeredAt: call.now })
  const lines = call.trx('requisitionLines').where({ requisitionId })
  if (lineIds) void lines.whereIn('id', [...lineIds])
  await lines.update({ asked: false })
}

/** The requester answers; lines without another open question go on. */
export async function answerQuestion(call: Call, id: string, questionId: string, answer: string): Promise<Done> {
  const requisition = await lockRequisition(call, id)
  if (requisition.requesterId !== call.actor.id) throw new RuleBroken(stop('right.notYours'))
  const question = found(
    (await call.trx('requestQuestions').where({ id: questionId, requisitionId: id }).forUpdate().first()) as
      { question: string; askedBy: string; answeredAt: string | null } | undefined,
    'question',
  )
  if (question.answeredAt) throw new RuleBroken(stop('pool.answeredAlready'))
  const same = { requisitionId: id, question: question.question, askedBy: question.askedBy }
  await call.trx('requestQuestions').where(same).whereNull('answeredAt').update({ answer, answeredBy: call.actor.id, answeredAt: call.now })
  await call.trx.raw(
    'update requisition_lines l set asked = exists (select 1 from request_questions q where q.line_id = l.id and q.answered_at is null) where l.requisition_id = ?',
    [id],
  )
  await call
    .trx('requisitions')
    .where({ id })
    .update({ version: requisition.version + 1, changedAt: call.now })
  await record(call, { kind: 'requisition', id, action: 'answered', reason: answer })
  const buyer = (await call.trx('people').where({ id: question.askedBy }).first('name', 'email')) as { name: string; email: string }
  await mail(
    call,
    `answered:${questionId}`,
    { kind: 'requisition', id },
    {
      to: buyer.email,
      subject: `Answer for ${requisition.number}: ${requisition.title}`,
      text: `Dear ${buyer.name},\n\nyou asked: "${question.question}"\n${call.actor.name} answers: "${answer}"\n\n/request/${id}\n`,
    },
  )
  return { id, version: requisition.version + 1 }
}
