import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { formatAmount } from '#core/money/amount.ts'
import { changeLines, headOf, type WantedOrder } from '#core/order/changeLines.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import type { OrderNext } from '#core/order/next.ts'
import { compareOrders, plainDifferences, orderTotal } from '#core/order/revision.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** What stands in the way of editing: only a draft is edited, an issued order gets a revision. */
export const whyNotEdit = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...(order.state === 'draft' ? [] : [stop('order.notADraft', { number: order.number })]),
]

/** Writes a draft anew. Nobody outside knows of it, so nothing follows in the ledgers; lines may be left out, but not all. */
export function editDraft(order: OrderFacts, wanted: WantedOrder, actor: ActorFacts): Decision<OrderNext> {
  const changed = changeLines(order, wanted)
  const reasons = [
    ...whyNotEdit(order, actor),
    ...changed.reasons,
    ...(wanted.lines.length === 0 ? [stop('order.noLines')] : []),
  ]
  if (reasons.length > 0) return refused(reasons)
  const differences = compareOrders(order, changed.order)
  return done<OrderNext>(
    {
      state: order.state,
      revision: order.revision,
      head: headOf(changed.order),
      lines: changed.changes,
      removed: changed.removed,
    },
    {
      action: 'edited',
      changes: {
        revision: order.revision,
        differences: plainDifferences(differences, order.lines),
        total: formatAmount(orderTotal(changed.order), order.currency),
      },
    },
  )
}
