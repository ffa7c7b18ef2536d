import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, type Message, refused } from '#core/acts/decision.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { isLate, nextPromised, receiveExtent } from '#core/order/measures.ts'
import type { OrderNext } from '#core/order/next.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { isUntold } from '#core/order/tellSupplier.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** When it is: an instant, and the day that it is where the house is. */
export interface Clock {
  readonly now: string
  readonly today: string
}

/** Days that a supplier has to react before the order is on its buyer's Desk again. */
export const CHASE_REST = 3
/** Milliseconds within which a supplier is not chased twice about the same order. */
const AGAIN = 20 * 3_600_000

/** Whether a day that was promised for something has passed and it has not come in whole. */
export const isPastPromise = (order: Pick<OrderFacts, 'state' | 'lines'>, today: string): boolean =>
  isIn(ORDER_GROUPS.live, order.state) && order.lines.some(line => (nextPromised(line) ?? today) < today)

/** What we wait for from the supplier: goods or work that are late, else an answer to the order; nothing where neither is missing. */
export function missing(order: OrderFacts, today: string): 'delivery' | 'answer' | null {
  // who has not heard of it has nothing to answer for
  if (isUntold(order)) return null
  if (isLate({ ...order, receiveExtent: receiveExtent(order.lines) }, today) || isPastPromise(order, today))
    return 'delivery'
  return order.state === 'issued' && order.answer === null ? 'answer' : null
}

export const whyNotChase = (order: OrderFacts, actor: ActorFacts, { now, today }: Clock): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...(missing(order, today) === null ? [stop('order.nothingToChase', { number: order.number })] : []),
  ...(order.chasedAt !== null && Date.parse(now) - Date.parse(order.chasedAt) < AGAIN
    ? [stop('order.chasedAlready', { number: order.number, at: order.chasedAt })]
    : []),
]

/** Asks the supplier for what is missing; the order rests on its buyer's Desk for `CHASE_REST` days. `link`: by which it says a new day without signing in. */
export function chaseOrder(
  order: OrderFacts,
  actor: ActorFacts,
  clock: Clock,
  note: string,
  link = '',
): Decision<OrderNext> {
  const against = whyNotChase(order, actor, clock)
  if (against.length > 0) return refused(against)
  const what = missing(order, clock.today)!
  return done<OrderNext>(
    { state: order.state, revision: order.revision, chasedAt: clock.now },
    { action: 'chased', changes: { missing: what }, reason: note },
    { says: [chaseMail(order, what, actor.name, clock.now, note, what === 'delivery' ? link : '')] },
  )
}

const chaseMail = (
  order: OrderFacts,
  what: 'delivery' | 'answer',
  by: string,
  now: string,
  note: string,
  link: string,
): Message => ({
  template: `order.chased.${what}`,
  to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
  key: `chase:${order.id}:${now}`,
  details: {
    number: order.number,
    title: order.title,
    needBy: order.needBy ?? '',
    note,
    link,
    by,
    path: `/supplier/orders/${order.id}`,
  },
})
