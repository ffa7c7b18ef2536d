import { type ActorFacts, mayDo } from '#core/acts/actor.ts'
import { type Action, action } from '#core/acts/decision.ts'
import { whyNotDecideRequisition } from '#core/decide/decideRequisition.ts'
import { whyNotRemind } from '#core/decide/remindHolders.ts'
import { whyNotAct } from '#core/request/actOnRequisition.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { whyNotSubmit } from '#core/request/submitRequisition.ts'

/**
 * What can be done with a request now, by whoever looks at it, and for the rest why not. Where a step stands
 * still, it is passed on first.
 */
export function requisitionActions(
  request: RequisitionFacts,
  actor: ActorFacts,
  now: string,
  stalled: boolean,
): Action[] {
  const own = (act: 'withdraw' | 'change' | 'reopen' | 'cancel', primary = false): Action =>
    action(act, whyNotAct(request, act, actor), primary)
  const mine = request.requesterId === actor.id
  const copy = mine && request.state !== 'draft' ? [action('copy', [])] : []
  switch (request.state) {
    case 'draft':
    case 'returned':
      return [action('submit', whyNotSubmit(request, actor), true), own('cancel'), ...copy]
    case 'waiting': {
      const decide = whyNotDecideRequisition(request, actor)
      return [
        action('approve', decide, true),
        action('ask', decide),
        action('return', decide),
        action('reject', decide),
        ...(mayDo(actor, 'requisition.passOn') ? [action('passOn', [], stalled)] : []),
        own('change'),
        own('withdraw'),
        ...(mine ? [action('remind', whyNotRemind(request, actor, now))] : []),
        ...copy,
      ]
    }
    case 'approved':
    case 'inPurchasing':
      return [own('change'), own('withdraw'), ...copy]
    case 'rejected':
      return [own('reopen', true), ...copy]
    case 'withdrawn':
      return [own('reopen', true), own('cancel'), ...copy]
    case 'ordered':
    case 'finished':
    case 'cancelled':
      return copy
  }
}
