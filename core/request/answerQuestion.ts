import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, NOT_YOURS, refused } from '#core/acts/decision.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** A request about which something is asked. */
export interface AskedRequest {
  readonly id: string
  readonly number: string
  readonly title: string
  readonly requesterId: string
}

/** A question as it stands. */
export interface OpenQuestion {
  readonly id: string
  readonly question: string
  readonly askedBy: string
  readonly answeredAt: string | null
}

/** What stands in the way of answering: it is somebody else's request, or it is answered. */
export const whyNotAnswer = (request: AskedRequest, question: OpenQuestion, actor: ActorFacts): Reason[] => [
  ...(request.requesterId === actor.id ? [] : [NOT_YOURS]),
  ...(question.answeredAt === null ? [] : [stop('pool.answeredAlready')]),
]

/** The requester answers, and whoever asked is told; lines without another open question go on. */
export function answerQuestion(
  request: AskedRequest,
  question: OpenQuestion,
  actor: ActorFacts,
  answer: string,
): Decision<{ readonly answers: string }> {
  const against = whyNotAnswer(request, question, actor)
  if (against.length > 0) return refused(against)
  return done(
    { answers: question.id },
    { action: 'answered', reason: answer },
    {
      says: [
        {
          template: 'requisition.answer',
          to: { kind: 'person', id: question.askedBy },
          key: `answered:${question.id}`,
          details: {
            number: request.number,
            title: request.title,
            by: actor.name,
            question: question.question,
            answer,
            path: `/request/${request.id}`,
          },
        },
      ],
    },
  )
}
