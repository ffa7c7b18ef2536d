import type { ActorFacts } from '#core/acts/actor.ts'
import { type Action, action } from '#core/acts/decision.ts'
import { whyNotApprove } from '#core/pay/approveRun.ts'
import type { RunFacts } from '#core/pay/facts.ts'
import { whyNotAskRecall, whyNotRecall } from '#core/pay/recallRun.ts'
import { RUN_GROUPS } from '#core/pay/states.ts'
import { whyNotWithdrawRun } from '#core/pay/withdrawRun.ts'
import { isIn } from '#core/states.ts'

/** What can be done with a payment run now, and for the rest why not. */
export function runActions(run: RunFacts, actor: ActorFacts, ownAccount: boolean): Action[] {
  if (run.state === 'proposed')
    return [
      action('approve', whyNotApprove(run, actor, ownAccount), true),
      action('withdraw', whyNotWithdrawRun(run, actor)),
    ]
  if (run.state === 'approved') return [action('withdraw', whyNotWithdrawRun(run, actor))]
  if (!isIn(RUN_GROUPS.out, run.state)) return []
  const recall =
    run.recall?.state === 'open'
      ? [action('confirmRecall', whyNotRecall(run, actor), true), action('refuseRecall', whyNotRecall(run, actor))]
      : [action('recall', whyNotAskRecall(run, actor))]
  return [...recall, action('withdraw', whyNotWithdrawRun(run, actor))]
}
