import { addDays } from '#core/calendar/days.ts'
import { CHASE_REST } from '#core/order/chaseOrder.ts'
import { type DeskEntry, forPerson, forRight } from '#core/desk/entry.ts'
import { isIn } from '#core/states.ts'
import { isWork } from '#core/request/kinds.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { INCOMPLETE, receiveExtent, toReceive } from '#core/order/measures.ts'
import { comesAgain, missedFrom } from '#core/order/recurring.ts'
import { orderTotal } from '#core/order/revision.ts'
import { isUntold } from '#core/order/tellSupplier.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'

/** Days before the need on which a delivery is expected, and work is asked about. */
export const EXPECTED_DAYS = 2
export const ACCEPT_DAYS = 3

/** What waits for somebody because of an order: to be issued, chased, received, accepted. Its answers are asked as a consent. */
export function orderDesk(order: OrderFacts & { readonly createdAt: string; readonly place: string }): DeskEntry[] {
  const common = {
    amount: orderTotal(order),
    currency: order.currency,
    needBy: order.needBy,
    notFor: [],
    details: { number: order.number, title: order.title, who: order.supplier },
  }
  // what waits for somebody else's decision does not wait for the buyer
  if (order.excess?.consent.state === 'open' && order.state === 'draft') return []
  if (order.state === 'draft')
    return [
      {
        ...common,
        key: 'issue',
        stage: 'order',
        act: 'issue',
        tone: 'plain',
        audiences: [forPerson(order.buyerId)],
        from: null,
        since: order.createdAt,
        path: `/order/${order.id}`,
      },
    ]
  if (!isIn(ORDER_GROUPS.live, order.state)) return []
  const since = order.issuedAt ?? order.createdAt
  const open = order.lines.filter(line => toReceive(line) !== '0')
  const incomplete = isIn(INCOMPLETE, receiveExtent(order.lines))
  return [
    ...(isUntold(order) ? [tellEntry(order, since, common)] : []),
    ...(incomplete && order.needBy !== null ? [lateEntry(order, order.needBy, common)] : []),
    ...(open.some(line => !isWork(line.kind)) ? [expectedEntry(order, order.place, since, common)] : []),
    ...acceptEntries(order, open, since, common),
    ...missingBills(order, since, common),
  ]
}

/** A bill of a plan that has not come waits for the buyer from the day on which it is missed. */
const missingBills = (order: OrderFacts, since: string, common: Common): DeskEntry[] => {
  const from = order.lines.filter(comesAgain).flatMap(line => missedFrom(line, order.currency) ?? []).sort()[0] // prettier-ignore
  return from === undefined
    ? []
    : [{ ...common, key: 'billMissing', stage: 'bill', act: 'see', tone: 'attention', audiences: [forPerson(order.buyerId)], from, since, path: '/bill/recurring' }] // prettier-ignore
}

type Common = Pick<DeskEntry, 'amount' | 'currency' | 'needBy' | 'notFor' | 'details'>

/** The day after it was needed; who was asked for it has some days to react. */
function lateFrom(needBy: string, chasedAt: string | null): string {
  const late = addDays(needBy, 1)
  const rested = chasedAt === null ? late : addDays(chasedAt.slice(0, 10), CHASE_REST)
  return rested > late ? rested : late
}

const lateEntry = (order: OrderFacts, needBy: string, common: Common): DeskEntry => ({
  ...common,
  key: 'late',
  stage: 'order',
  act: 'chase',
  tone: 'stop',
  audiences: [forPerson(order.buyerId)],
  from: lateFrom(needBy, order.chasedAt),
  since: needBy,
  path: `/order/${order.id}`,
  details: { ...common.details, needBy },
})

const tellEntry = (order: OrderFacts, since: string, common: Common): DeskEntry => ({
  ...common,
  key: 'tell',
  stage: 'order',
  act: 'tellSupplier',
  tone: 'attention',
  audiences: [forPerson(order.buyerId)],
  from: null,
  since,
  path: `/order/${order.id}`,
})

const expectedEntry = (order: OrderFacts, place: string, since: string, common: Common): DeskEntry => ({
  ...common,
  key: 'expected',
  stage: 'receive',
  act: 'receive',
  tone: 'plain',
  amount: null,
  currency: null,
  audiences: [forRight('delivery.receive')],
  from: order.needBy === null ? null : addDays(order.needBy, -EXPECTED_DAYS),
  since,
  path: `/receive/${order.id}`,
  details: { ...common.details, extra: place },
})

/** Work of every kind is accepted by whoever asked for it; one entry for each of them, by their earliest line. */
function acceptEntries(order: OrderFacts, open: readonly OrderLine[], since: string, common: Common): DeskEntry[] {
  const work = open.filter(line => isWork(line.kind) && line.requesterId !== null)
  return [...new Set(work.map(line => line.requesterId!))].map((requester): DeskEntry => {
    const own = work
      .filter(line => line.requesterId === requester)
      .sort((a, b) => ((a.needBy ?? '9') < (b.needBy ?? '9') ? -1 : 1))
    const first = own[0]!
    return {
      ...common,
      key: 'acceptWork',
      stage: 'receive',
      act: 'accept',
      tone: 'plain',
      audiences: [forPerson(requester)],
      from: first.needBy === null ? null : addDays(first.needBy, -ACCEPT_DAYS),
      since,
      needBy: first.needBy,
      path: `/receive/${order.id}`,
      details: { ...common.details, title: first.description },
    }
  })
}
