import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { whyNotWaiting } from '#core/order/poolLines.ts'
import type { Reason } from '#core/reasons.ts'
import type { AskedRequest } from '#core/request/answerQuestion.ts'
import type { LineKind } from '#core/request/kinds.ts'
import type { LineState } from '#core/request/states.ts'

export interface AskedLine {
  readonly id: string
  readonly position: number
  readonly kind: LineKind
  readonly description: string
  readonly state: LineState
}

/** What stands in the way of asking about lines: they do not wait to be bought. */
export const whyNotAsk = (lines: readonly AskedLine[], actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...whyNotWaiting(...lines),
]

/** Asks a requester about lines of one request: they pause, which everybody sees, until the answer is there. */
export function askRequester(
  request: AskedRequest,
  lines: readonly AskedLine[],
  actor: ActorFacts,
  question: string,
  now: string,
): Decision<{ readonly pauses: readonly string[] }> {
  const against = whyNotAsk(lines, actor)
  if (against.length > 0) return refused(against)
  return done(
    { pauses: lines.map(line => line.id) },
    { action: 'asked', changes: { lines: lines.map(line => line.position) }, reason: question },
    {
      says: [
        {
          template: 'requisition.question',
          to: { kind: 'person', id: request.requesterId },
          key: `asked:${request.id}:${now}`,
          details: {
            number: request.number,
            title: request.title,
            by: actor.name,
            question,
            path: `/request/${request.id}`,
          },
        },
      ],
    },
  )
}
