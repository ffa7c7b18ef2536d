import { type ActorFacts, mayDo } from '#core/acts/actor.ts'
import { type Consent, whyNotDecide } from '#core/consent/consent.ts'
import type { EditPolicy } from '#core/consent/settings.ts'
import { whyNotAdd } from '#core/decide/addStep.ts'
import type { Reason } from '#core/reasons.ts'
import { type Action, action } from '#core/acts/decision.ts'
import { whyNotDecideRequisition } from '#core/decide/decideRequisition.ts'
import { whyNotEditWhileDeciding } from '#core/decide/editWhileDeciding.ts'
import { whyNotRemind } from '#core/decide/remindHolders.ts'
import { whyNotAct } from '#core/request/actOnRequisition.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { whyNotSubmit } from '#core/request/submitRequisition.ts'

/** What stands around a request that waits. */
export interface Around {
  /** Something of it cannot move by itself. */
  readonly stalled: boolean
  /** Whoever asks or decides may add somebody who decides, too. */
  readonly byHand: boolean
  /** What a change while deciding leads to, and whether there is one at all. */
  readonly editing: EditPolicy
  /** Whether a step is to be skipped, which a second person has to agree to. */
  readonly skip: Consent | null
}

const offered = (name: string, reasons: readonly Reason[]): Action[] =>
  reasons.some(reason => reason.code === 'right.notYours') ? [] : [action(name, reasons)]

const answersSkip = (skip: Consent | null, actor: ActorFacts): Action[] =>
  skip !== null && whyNotDecide(skip, actor).length === 0
    ? [action('agreeSkip', [], true), action('refuseSkip', [])]
    : []

/**
 * What can be done with a request now, by whoever looks at it, and for the rest why not. Where a step stands
 * still, it is passed on first.
 */
export function requisitionActions(
  request: RequisitionFacts,
  actor: ActorFacts,
  now: string,
  around: Around,
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
        ...(whyNotEditWhileDeciding(request, actor, around.editing).length === 0 ? [action('editLines', [])] : []),
        action('return', decide),
        action('reject', decide),
        ...answersSkip(around.skip, actor),
        ...(mayDo(actor, 'requisition.passOn')
          ? [action('passOn', [], around.stalled)]
          : offered('addDecider', whyNotAdd(request, actor, around.byHand))),
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
