import type { ActorFacts } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { addDays } from '#core/calendar/days.ts'
import { whyNotCurrent } from '#core/order/answerOrder.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { isCancelledLine, toReceive } from '#core/order/measures.ts'
import type { OrderNext } from '#core/order/next.ts'
import { checkPromises, type Promised } from '#core/order/promiseDays.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** A link by which a supplier says a new day without signing in: for one revision, for a time, once. */
export interface DayLink {
  readonly revision: number
  readonly endsAt: string
  readonly usedAt: string | null
}

/** Days for which such a link can be used. */
export const DAY_LINK_DAYS = 21

/** Why a link leads nowhere any more. */
export const whyNotDayLink = (
  link: DayLink,
  order: Pick<OrderFacts, 'number' | 'state' | 'revision'>,
  now: string,
): Reason[] => [
  ...(link.usedAt !== null ? [stop('link.used')] : []),
  ...(link.endsAt < now ? [stop('link.expired')] : []),
  ...whyNotCurrent(order, link.revision),
]

/** The lines that a day is asked for: what has not come in whole. */
export const askedLines = (order: Pick<OrderFacts, 'lines'>): OrderLine[] =>
  order.lines.filter(line => !isCancelledLine(line) && toReceive(line) !== '0')

/** Furthest day that can be promised. */
const FURTHEST = 730

/** Takes the days that a supplier says through a link, at least one, none that is past. The buyer is told. */
export function sayDays(
  order: OrderFacts,
  link: DayLink,
  days: readonly Promised[],
  note: string,
  actor: Pick<ActorFacts, 'name'>,
  clock: { readonly now: string; readonly today: string },
): Decision<OrderNext> {
  const asked = new Set(askedLines(order).map(line => line.id))
  const against = [
    ...whyNotDayLink(link, order, clock.now),
    ...(days.length === 0 ? [stop('order.noDay')] : []),
    ...checkPromises(order, days),
    ...(days.some(one => !asked.has(one.lineId)) ? [stop('order.foreignLine')] : []),
    ...(days.some(one => one.date < clock.today || one.date > addDays(clock.today, FURTHEST))
      ? [stop('order.promisePast')]
      : []),
  ]
  if (against.length > 0) return refused(against)
  return done<OrderNext>(
    { state: order.state, revision: order.revision, promises: days },
    { action: 'promisedByLink', changes: { days: days.map(one => one.date), by: actor.name }, reason: note },
    {
      says: [
        {
          template: 'order.daySaid',
          to: { kind: 'person', id: order.buyerId },
          key: `day-said:${order.id}:${clock.now}`,
          details: {
            number: order.number,
            title: order.title,
            who: order.supplier,
            days: [...new Set(days.map(one => one.date))].sort().join(', '),
            note,
            path: `/order/${order.id}`,
          },
        },
      ],
    },
  )
}
