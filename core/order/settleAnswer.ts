import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Done, type Message, refused, saysWhy } from '#core/acts/decision.ts'
import type { AccountFacts } from '#core/ledger/budget.ts'
import { Decimal } from '#core/money/decimal.ts'
import { afterBudget, afterQuantities } from '#core/order/after.ts'
import { confirmAs, promisesOf } from '#core/order/answerOrder.ts'
import type { WantedOrder } from '#core/order/changeLines.ts'
import type { OrderFacts, WaitingAnswer } from '#core/order/facts.ts'
import type { OrderNext } from '#core/order/next.ts'
import { reviseOrder } from '#core/order/reviseOrder.ts'
import { responseDepartures, revisionLines } from '#core/order/revision.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** What stands against settling a supplier's answer: it is no longer the one that waits. */
export const whyNotSettle = (order: OrderFacts, answerId: string, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...(order.answer?.id === answerId && order.answer.revision === order.revision && isIn(ORDER_GROUPS.live, order.state)
    ? []
    : [stop('order.responseAnswered')]),
]

/** The revision to which an accepted answer leads: another price, or more than was ordered. Less, or later, is kept as the promise. */
export function wantedBy(order: OrderFacts, answer: WaitingAnswer): { wanted: WantedOrder; revises: boolean } {
  const promises = new Map(answer.lines.map(line => [line.lineId, line]))
  const lines = order.lines.map(line => {
    const promise = promises.get(line.id)
    const more = promise !== undefined && new Decimal(promise.quantity).gt(line.quantity)
    return {
      id: line.id,
      description: line.description,
      needBy: line.needBy,
      price: promise?.price ?? line.price,
      quantity: more ? promise.quantity : line.quantity,
    }
  })
  const revises = order.lines.some(
    (line, index) =>
      !new Decimal(line.price).equals(lines[index]!.price) ||
      !new Decimal(line.quantity).equals(lines[index]!.quantity),
  )
  return { wanted: { title: order.title, message: order.message, charges: order.chargeItems, lines }, revises }
}

/**
 * Accepts what a supplier proposed, on all lines or only on some of them. Another price or more than was ordered makes the next revision first, under
 * the same rules as if the buyer had written it; what was promised is confirmed. Lines that are not accepted stand as they were ordered, and the
 * supplier, who reads why, is asked about them again.
 *
 * `only`: the lines that are accepted; without it all.
 */
export function acceptAnswer(
  order: OrderFacts,
  answerId: string,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  reason: string,
  only?: readonly string[],
): Decision<OrderNext> {
  const first = whyNotSettle(order, answerId, actor)
  if (first.length > 0) return refused(first)
  const { answer, declined } = accepted(order, order.answer!, only)
  const against = [
    ...(only?.length === 0 ? [stop('order.acceptNone')] : []),
    ...(declined.size > 0 && !saysWhy(reason) ? [stop('order.partWantsReason', {}, { place: 'reason' })] : []),
  ]
  if (against.length > 0) return refused(against)
  const { wanted, revises } = wantedBy(order, answer)
  const revised = revises ? reviseOrder(order, wanted, accounts, actor, AS_PROPOSED) : undefined
  if (revised && !revised.ok) return revised
  const state = declined.size === 0 ? 'acknowledged' : 'issued'
  const before = revised ? afterRevision(order, revised) : order
  const kept = answer.lines.filter(line => !declined.has(line.lineId))
  const confirmed = confirmAs({ ...before, state }, kept)
  const outcome = declined.size === 0 ? 'accepted' : 'part'
  return done<OrderNext>(
    {
      ...(revised?.next ?? { revision: order.revision }),
      state,
      answer: { state: outcome, reason },
      promises: promisesOf(kept),
    },
    {
      action: declined.size === 0 ? 'answerAccepted' : 'answerAcceptedInPart',
      changes: { ...revised?.did.changes, ...(declined.size === 0 ? {} : { declined: declined.size }) },
      reason,
    },
    {
      quantity: [...(revised?.quantity ?? []), ...confirmed.quantity],
      budget: [...(revised?.budget ?? []), ...confirmed.budget],
      says: [...(revised?.says ?? []), answerMail(order, answerId, outcome, reason)],
    },
  )
}

/** An answer of which only some lines count: the others that depart from the order read as they were ordered. */
function accepted(
  order: OrderFacts,
  answer: WaitingAnswer,
  only: readonly string[] | undefined,
): { answer: WaitingAnswer; declined: ReadonlySet<string> } {
  if (only === undefined) return { answer, declined: new Set() }
  const departs = responseDepartures(revisionLines(order), answer.lines).map(one => one.lineId)
  const declined = new Set(departs.filter(id => !only.includes(id)))
  const ordered = new Map(order.lines.map(line => [line.id, line]))
  const lines = answer.lines.map(line => {
    const own = ordered.get(line.lineId)
    return declined.has(line.lineId) && own ? { ...line, quantity: own.quantity, price: own.price } : line
  })
  return { answer: { ...answer, lines }, declined }
}

const AS_PROPOSED = 'As the supplier proposed.'

/** The order as the revision leaves it. */
function afterRevision(order: OrderFacts, revised: Done<OrderNext>): OrderFacts {
  const changes = new Map((revised.next.lines ?? []).map(line => [line.id, line]))
  const lines = order.lines.map(line => ({ ...line, ...changes.get(line.id) }))
  const next = { ...order, ...revised.next.head, lines, revision: revised.next.revision }
  return afterBudget(afterQuantities(next, revised.quantity), revised.budget)
}

/** Refuses what a supplier proposed: the order stands as it is and is answered again. The supplier reads why. */
export function refuseAnswer(
  order: OrderFacts,
  answerId: string,
  actor: ActorFacts,
  reason: string,
): Decision<OrderNext> {
  const against = [
    ...whyNotSettle(order, answerId, actor),
    ...(saysWhy(reason) ? [] : [stop('decide.noReason', {}, { place: 'reason' })]),
  ]
  if (against.length > 0) return refused(against)
  return done<OrderNext>(
    { state: order.state, revision: order.revision, answer: { state: 'refused', reason } },
    { action: 'answerRefused', reason },
    { says: [answerMail(order, answerId, 'refused', reason)] },
  )
}

const answerMail = (
  order: OrderFacts,
  answerId: string,
  outcome: 'accepted' | 'part' | 'refused',
  reason: string,
): Message => ({
  template: `order.answer.${outcome}`,
  to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
  key: `order-answer:${answerId}`,
  details: { number: order.number, title: order.title, reason, path: `/supplier/orders/${order.id}` },
})
