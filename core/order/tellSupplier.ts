import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Message, refused } from '#core/acts/decision.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import type { OrderNext } from '#core/order/next.ts'
import { revisionMail } from '#core/order/revision.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { type BehalfConsent, whyNotBehalf } from '#core/source/invitedActs.ts'
import { isIn } from '#core/states.ts'

/** Whether the supplier does not know of the revision in force: it does not go by mail, and nobody has said yet that it was handed on. */
export const isUntold = (order: Pick<OrderFacts, 'state' | 'channel' | 'toldRevision' | 'revision'>): boolean =>
  isIn(ORDER_GROUPS.live, order.state) && order.channel !== 'mail' && order.toldRevision !== order.revision

/** What stands against saying that the supplier was told. */
export const whyNotTell = (order: OrderFacts, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...(isUntold(order) ? [] : [stop('order.toldAlready', { number: order.number })]),
]

/** Keeps who was told of the revision in force, when and how. */
export function tellSupplier(
  order: OrderFacts,
  actor: ActorFacts,
  told: BehalfConsent,
  today: string,
): Decision<OrderNext> {
  const against = [...whyNotTell(order, actor), ...whyNotBehalf(told, today)]
  if (against.length > 0) return refused(against)
  const { who, on, how } = told
  return done<OrderNext>(
    { state: order.state, revision: order.revision, toldRevision: order.revision },
    { action: 'supplierTold', changes: { revision: order.revision, who, on, how }, reason: told.note },
  )
}

/** How a revision leaves: to the supplier, with all that belongs to it to the buyer who hands it on, or not at all. */
export function revisionLeaves(order: OrderFacts, reason: string, by: string): Message[] {
  const mail = revisionMail(order, reason, by)
  if (order.channel === 'mail') return [mail]
  return order.channel === 'spoken' ? [] : [{ ...mail, ...toBuyer(order), template: 'order.handOn' }]
}

/** A supplier that hears of orders through the buyer hears of a cancelled one so, too, if it heard of the order at all. */
export function cancellationLeaves(order: OrderFacts, mail: Message): Message[] {
  if (order.channel === 'mail') return [mail]
  return order.toldRevision === null ? [] : [{ ...mail, ...toBuyer(order), template: 'order.handOnCancelled' }]
}

const toBuyer = (order: OrderFacts): Pick<Message, 'to'> => ({ to: { kind: 'person', id: order.buyerId } })
