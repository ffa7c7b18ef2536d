import type { Message } from '#core/acts/decision.ts'
import type { EditEffect, EditPolicy } from '#core/consent/settings.ts'
import type { Change } from '#core/decide/changes.ts'
import type { SeenStep } from '#core/decide/stillStands.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'

const RANK: Readonly<Record<EditEffect, number>> = { nothing: 0, tell: 1, again: 2 }

/** Those whose decision stands though something changed that the policy does not keep quiet about. */
function approversToTell(standing: readonly SeenStep[], changes: readonly Change[], policy: EditPolicy): string[] {
  const told = changes.some(change => RANK[policy.fields[change.field]] > 0)
  return told ? standing.flatMap(step => [step.decidedBy, step.onBehalfOf].filter(id => id !== null)) : []
}

/**
 * What is written because a request was changed after it was asked about: to its requester, and to those who approved unless the policy keeps
 * quiet; never to whoever changed it. `version`: the one that it has then, by which this change is told apart from others.
 */
export const changeMails = (
  request: RequisitionFacts,
  version: number,
  { standing, changes }: { readonly standing: readonly SeenStep[]; readonly changes: readonly Change[] },
  policy: EditPolicy,
  by: { readonly id: string; readonly name: string },
  reason: string,
): Message[] =>
  [...new Set([request.requesterId, ...approversToTell(standing, changes, policy)])]
    .filter(id => id !== by.id)
    .map(id => ({
      template: 'requisition.edited',
      to: { kind: 'person', id },
      key: `edited:${request.id}:${version}:${id}`,
      details: { number: request.number, title: request.title, by: by.name, reason, path: `/request/${request.id}` },
    }))
