import { addDays } from '#core/calendar/days.ts'
import type { Minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { isCancelledLine, isLate, nextPromised, receiveExtent, toReceive } from '#core/order/measures.ts'
import { promisedOf, wantedDeliveries } from '#core/order/revision.ts'
import { fallsBehind } from '#core/order/schedule.ts'
import { isUntold } from '#core/order/tellSupplier.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { note, type Reason } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'

/** What is known beside an order that is followed. */
export interface FollowedFacts {
  readonly order: OrderFacts
  /** In the base currency. */
  readonly value: Minor
  /** What its agreement asks today for the quantity of a line, for as many units as the line's price is. */
  readonly agreed: ReadonlyMap<string, string>
  /** What stands in the way of ordering from its supplier. */
  readonly supplierReasons: readonly Reason[]
}

/** Days after which an order that was never answered wants a word. */
export const UNANSWERED_DAYS = 3

/**
 * Why an order wants a word, the gravest first: late by what was wished or promised, promised later than it is needed, answered otherwise or not at all, in only
 * in part, dearer than its agreement, or its supplier is paused or barred. Nothing where all is as it should be.
 */
export function wantsAWord({ order, agreed, supplierReasons }: Omit<FollowedFacts, 'value'>, today: string): Reason[] {
  if (!isIn(ORDER_GROUPS.live, order.state)) return []
  const extent = receiveExtent(order.lines)
  const waits = order.lines.filter(line => !isCancelledLine(line) && toReceive(line) !== '0')
  const later = waits.filter(line => isPromisedLate(line) && line.promisedDate! >= today)
  const dearer = order.lines.filter(line => new Decimal(line.price).gt(agreed.get(line.id) ?? line.price))
  const isOver = isLate({ ...order, receiveExtent: extent }, today)
  // what was promised for when it was needed says nothing more
  const broken = waits.flatMap(line => nextPromised(line) ?? []).filter(day => day < today && (!isOver || day > order.needBy!)).sort() // prettier-ignore
  const answered = order.answer !== null || order.state === 'acknowledged'
  const issuedOn = order.issuedAt?.slice(0, 10) ?? today
  return [
    ...(isOver ? [note('follow.late', { needBy: order.needBy! })] : []),
    ...(broken.length > 0 ? [note('follow.pastPromise', { promised: broken[0]! })] : []),
    ...supplierReasons.slice(0, 1),
    ...(isUntold(order) ? [note('follow.untold', { revision: order.revision })] : []),
    ...(order.answer === null ? [] : [note('follow.answeredDifferently', { lines: order.answer.lines.length })]),
    ...(later.length === 0 ? [] : [note('follow.laterThanNeeded', { lines: later.length, promised: later.map(line => line.promisedDate!).sort().at(-1)! })]), // prettier-ignore
    ...(!answered && !isUntold(order) && addDays(issuedOn, UNANSWERED_DAYS) <= today ? [note('follow.unanswered', { since: order.issuedAt ?? today })] : []), // prettier-ignore
    ...(extent === 'part' ? [note('follow.part', { lines: waits.length })] : []),
    ...(dearer.length === 0 ? [] : [note('follow.aboveAgreement', { lines: dearer.length })]),
  ]
}

/** Whether a line is promised later than it is wanted. */
function isPromisedLate(line: OrderLine): boolean {
  return line.promisedDate !== null && fallsBehind(wantedDeliveries(line), promisedOf(line)) !== null
}

/** In what order they are looked at: what is needed soonest first, then what is worth most. */
export const byWaiting = (a: FollowedFacts, b: FollowedFacts): number => {
  const [x, y] = [a.order.needBy ?? '9999-12-31', b.order.needBy ?? '9999-12-31']
  return x === y ? (a.value === b.value ? 0 : a.value > b.value ? -1 : 1) : x < y ? -1 : 1
}
