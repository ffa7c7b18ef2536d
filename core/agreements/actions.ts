import type { ActorFacts } from '#core/acts/actor.ts'
import { type Action, action } from '#core/acts/decision.ts'
import type { AgreementFacts } from '#core/agreements/facts.ts'
import { whyNotAsk } from '#core/agreements/decide.ts'
import { whyNotAmend, whyNotCancel, whyNotDrop, whyNotWrite } from '#core/agreements/write.ts'
import { whyNotWindDown } from '#core/agreements/windDown.ts'
import { whyNotDecide, whyNotWithdraw } from '#core/consent/consent.ts'

/** What can be done with an agreement now, and for the rest the reasons. */
export function agreementActions(agreement: AgreementFacts, actor: ActorFacts, today: string): Action[] {
  const asked = agreement.consent?.state === 'open'
  if (asked)
    return [
      action('approve', whyNotDecide(agreement.consent, actor), true),
      action('refuse', whyNotDecide(agreement.consent, actor)),
      ...(whyNotWithdraw(agreement.consent!, actor).length === 0 ? [action('withdraw', [])] : []),
    ]
  if (agreement.state === 'draft')
    return [
      action('putForward', whyNotAsk(agreement, actor, today), true),
      action('write', whyNotWrite(agreement, actor)),
      action('cancel', whyNotCancel(agreement, actor)),
    ]
  if (agreement.amendment === 'writing')
    return [
      action('putForward', whyNotAsk(agreement, actor, today), true),
      action('write', whyNotWrite(agreement, actor)),
      action('dropAmendment', whyNotDrop(agreement, actor)),
    ]
  if (agreement.state === 'windingDown') return [action('goOn', [], true)]
  const spent = agreement.state !== 'active'
  return agreement.state === 'sealed' || agreement.state === 'cancelled'
    ? []
    : [
        action('amend', whyNotAmend(agreement, actor), !spent),
        action('windDown', whyNotWindDown(agreement, actor), spent),
      ]
}
