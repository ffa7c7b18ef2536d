import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { isDay } from '#core/calendar/days.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { isCancelledLine } from '#core/order/measures.ts'
import type { LinePromise, OrderNext } from '#core/order/next.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** A day that was promised for a line. */
export type Promised = Omit<LinePromise, 'parts'>

/** What stands against keeping days that the supplier promised: nothing is owed any more. */
export const whyNotPromise = (order: Pick<OrderFacts, 'state' | 'number'>, actor: ActorFacts): Reason[] => [
  ...needsRight(actor, 'order.write'),
  ...(isIn(ORDER_GROUPS.live, order.state) ? [] : [stop('order.isClosed', { number: order.number })]),
]

/** Days that are no days, or of lines that the order has not or has no more. */
export function checkPromises(order: Pick<OrderFacts, 'lines'>, promises: readonly Promised[]): Reason[] {
  const lines = new Map(order.lines.map(line => [line.id, line]))
  return promises.flatMap(({ lineId, date }) => {
    const line = lines.get(lineId)
    if (!line || isCancelledLine(line)) return [stop('order.foreignLine')]
    return isDay(date) ? [] : [stop('order.promiseDay', { day: date }, { place: `lines.${line.position}.promised` })]
  })
}

/** Keeps days that the supplier said on the telephone or in a mail; the order itself stays as it is. */
export function promiseDays(
  order: OrderFacts,
  promises: readonly Promised[],
  actor: ActorFacts,
  note: string,
): Decision<OrderNext> {
  const against = [...whyNotPromise(order, actor), ...checkPromises(order, promises)]
  if (against.length > 0) return refused(against)
  return done<OrderNext>(
    { state: order.state, revision: order.revision, promises },
    { action: 'promised', changes: { days: promises.map(one => one.date) }, reason: note },
  )
}
