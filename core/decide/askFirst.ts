import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import { stepOf } from '#core/consent/consent.ts'
import { whyNotDecideRequisition } from '#core/decide/decideRequisition.ts'
import { stop } from '#core/reasons.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'

export interface AskedNext {
  /** The decision whose clock stands until the answer is there. */
  readonly stepId: string
}

/**
 * Asks the requester something before deciding. Whoever could decide can ask; the time for that decision stands still until the answer, which
 * comes back to whoever asked.
 */
export function askFirst(
  request: RequisitionFacts,
  actor: ActorFacts,
  question: string,
  questionId: string,
): Decision<AskedNext> {
  const against = whyNotDecideRequisition(request, actor)
  if (against.length > 0) return refused(against)
  if (!saysWhy(question)) return refused([stop('decide.noQuestion', {}, { place: 'question' })])
  const { step } = stepOf(request.consent!, actor)!
  return done<AskedNext>(
    { stepId: step.id },
    { action: 'asked', reason: question },
    {
      says: [
        {
          template: 'requisition.askedFirst',
          to: { kind: 'person', id: request.requesterId },
          key: `asked:${questionId}`,
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
