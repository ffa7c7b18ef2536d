import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused, saysWhy } from '#core/acts/decision.ts'
import type { AccountFacts } from '#core/ledger/budget.ts'
import { leadTo } from '#core/ledger/quantity.ts'
import { formatAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { againstRequest } from '#core/order/againstRequest.ts'
import { endedRequests } from '#core/order/cancelOrder.ts'
import { follow, orderedEntries, type Outcome, outcomeOverdrafts } from '#core/order/after.ts'
import { type ChangedOrder, changeLines, headOf, type WantedOrder } from '#core/order/changeLines.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { doneSoFar, isCancelledLine } from '#core/order/measures.ts'
import type { OrderNext } from '#core/order/next.ts'
import { compareOrders, plainDifferences, type LineDifference, orderTotal } from '#core/order/revision.ts'
import { ORDER_STATES } from '#core/order/states.ts'
import { revisionLeaves } from '#core/order/tellSupplier.ts'
import { type Reason, stop, stops } from '#core/reasons.ts'
import { notNow } from '#core/states.ts'

/** What stands in the way of a new revision, whatever it says. */
export const whyNotRevise = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...notNow(ORDER_STATES, 'order', order.state, 'change'),
]

/** What stands against writing on a change where the order has moved on meanwhile. */
export const whyNotLatest = (order: Pick<OrderFacts, 'revision'>, revision: number): Reason[] =>
  revision === order.revision ? [] : [stop('order.superseded', { revision, current: order.revision })]

/**
 * Makes the next revision of an issued order and asks the supplier again: what was confirmed has to be confirmed anew, the commitment
 * follows the new value of what may still be billed. Refused below what has come in or is billed, beyond what was requested and approved
 * (freight counts), and where an account that stops would be overdrawn. A line is cancelled by a quantity of zero: what it bought goes back to be
 * bought, or ends with it.
 */
export function reviseOrder(
  order: OrderFacts,
  wanted: WantedOrder,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  reason: string,
): Decision<OrderNext> {
  const revision = planRevision(order, wanted, actor, reason)
  if (!('outcome' in revision)) return refused(revision.reasons)
  const { outcome, changed, differences } = revision
  const overdrawn = outcomeOverdrafts(outcome, accounts, order.base)
  if (overdrawn.length > 0) return refused(overdrawn)
  return done<OrderNext>(
    {
      state: 'issued',
      revision: outcome.after.revision,
      head: headOf(outcome.after),
      lines: changed.changes,
      ...(revision.ended.length > 0 ? { endedRequests: revision.ended } : {}),
      issues: { reason },
      ...(order.answer ? { answer: { state: 'superseded', reason: '' } } : {}),
    },
    {
      action: 'revised',
      changes: {
        revision: outcome.after.revision,
        differences: plainDifferences(differences, order.lines),
        total: formatAmount(orderTotal(outcome.after), order.currency),
      },
      reason,
    },
    { ...outcome, says: revisionLeaves(outcome.after, reason, actor.name) },
  )
}

type Planned = { outcome: Outcome; changed: ChangedOrder; differences: LineDifference[]; ended: string[] }

/** What a revision would come to, or what stands against it; accounts are not looked at. */
export function planRevision(
  order: OrderFacts,
  wanted: WantedOrder,
  actor: ActorFacts,
  reason: string,
): Planned | { reasons: Reason[] } {
  const first = [
    ...whyNotRevise(order, actor),
    ...(saysWhy(reason) ? [] : [stop('order.changeWantsReason', {}, { place: 'reason' })]),
  ]
  if (first.length > 0) return { reasons: first }
  const changed = changeLines(order, wanted)
  if (changed.reasons.length > 0) return { reasons: changed.reasons }
  if (changed.removed.length > 0) return { reasons: [stop('order.lineCannotGo')] }
  if (changed.order.lines.every(isCancelledLine)) return { reasons: [stop('order.cancelInstead')] }
  const differences = compareOrders(order, changed.order)
  if (differences.length === 0) return { reasons: [stop('order.nothingChanged')] }
  const against = [...belowProgress(changed.order), ...againstRequest(changed.order), ...stops(order.agreementReasons)]
  if (against.length > 0) return { reasons: against }
  const before = new Map(order.lines.map(line => [line.id, line]))
  const moved = changed.order.lines.flatMap(line =>
    orderedEntries(line, new Decimal(line.quantity).minus(before.get(line.id)!.quantity).toString()),
  )
  const cancelled = changed.order.lines.filter(line => isCancelledLine(line) && !isCancelledLine(before.get(line.id)!))
  const ended = wanted.needRemains === false ? endedRequests(order, cancelled, moved) : []
  const outcome = follow({ ...changed.order, state: 'issued', revision: order.revision + 1 }, [
    ...moved,
    ...ended.flatMap(request => leadTo(request, 'requested', '0')),
    ...order.lines.flatMap(line => leadTo(line, 'confirmed', '0')),
  ])
  return { outcome, changed, differences, ended: ended.map(request => request.id) }
}

const belowProgress = (order: OrderFacts): Reason[] =>
  order.lines
    .filter(line => new Decimal(doneSoFar(line)).gt(line.quantity))
    .map(line =>
      stop(
        'order.belowProgress',
        { done: doneSoFar(line), wanted: line.quantity },
        { place: `lines.${line.position}.quantity` },
      ),
    )
