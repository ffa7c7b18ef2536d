import { PERSONAL_FEE, plainWords } from '#core/request/personalFee.ts'
import { lineAmount, minor, sumMinor } from '#core/money/amount.ts'
import { Decimal, isDecimalText } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import { type ChargeItem, chargesTotal, reckoned, whyNotCharges } from '#core/order/charges.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { neededNext } from '#core/order/measures.ts'
import type { LineChange, OrderNext } from '#core/order/next.ts'
import { orderTotal } from '#core/order/revision.ts'
import { type Delivery, fitted, inOrder, shifted, whyNotSchedule } from '#core/order/schedule.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** How somebody wants an order to read. */
export interface WantedOrder {
  readonly title: string
  readonly message: string
  /** The place of the supplier that it goes to; without a word where it went before. */
  readonly locationId?: string | null
  readonly location?: string
  /** In the order's currency; those of a per cent are reckoned anew. */
  readonly charges: readonly ChargeItem[]
  /** What is cancelled on lines is still needed: it goes back to be bought. Without a word it is. */
  readonly needRemains?: boolean
  readonly lines: readonly {
    readonly id: string
    readonly description: string
    readonly quantity: string
    readonly price: string
    readonly needBy: string | null
    /** Where it goes; without a word where it went before. */
    readonly addressId?: string | null
    readonly place?: string
    /** Its deliveries: none is all at once, and without a word they follow quantity and day. */
    readonly schedule?: readonly Delivery[]
  }[]
}

export interface ChangedOrder {
  readonly order: OrderFacts
  readonly changes: LineChange[]
  readonly removed: string[]
  readonly reasons: Reason[]
}

/**
 * The order as it would read, with its amounts. A line that is not of this order, that stands twice, or whose figures are not above zero
 * is refused with its place. A line of an issued order is cancelled by a quantity of zero.
 */
export function changeLines(order: OrderFacts, wanted: WantedOrder): ChangedOrder {
  const old = new Map(order.lines.map(line => [line.id, line]))
  const reasons: Reason[] = []
  const seen = new Set<string>()
  const lines = wanted.lines.flatMap((line, index): OrderLine[] => {
    const before = old.get(line.id)
    if (!before) reasons.push(stop('order.foreignLine', {}, { place: `lines.${index}` }))
    else if (seen.has(line.id))
      reasons.push(stop('order.lineTwice', { line: plainWords(before) }, { place: `lines.${index}` }))
    else {
      seen.add(line.id)
      const figures = checkFigures(line, before.position, order.state === 'draft' ? 1 : 0)
      reasons.push(...figures)
      const description = saidOf(before, line.description)
      if (figures.length > 0) return []
      const changed = { ...before, ...line, description, ...delivering(before, line) }
      reasons.push(...whyNotSchedule(changed, line.schedule ?? []))
      return [priced(order, changed)]
    }
    return []
  })
  // a per cent is of what is bought; a charge that has a line of its own is not
  const sum = sumMinor(lines.flatMap(line => (line.charge ? [] : [line.amount])))
  const chargeItems = reckoned(wanted.charges, sum, order.currency)
  if (reasons.length === 0) reasons.push(...whyNotCharges(chargeItems, sum))
  const { title, message } = wanted
  const to =
    wanted.locationId === undefined || wanted.locationId === order.locationId
      ? {}
      : { locationId: wanted.locationId, location: wanted.location ?? '' }
  const changed = { ...order, ...to, title, message, chargeItems, charges: chargesTotal(chargeItems), lines }
  return {
    order: { ...changed, needBy: neededNext(lines) },
    changes: lines.map(changeOf),
    removed: order.lines.filter(line => !wanted.lines.some(kept => kept.id === line.id)).map(line => line.id),
    reasons,
  }
}

const changeOf = (line: OrderLine): LineChange => ({
  id: line.id,
  description: line.description,
  quantity: line.quantity,
  price: line.price,
  needBy: line.needBy,
  addressId: line.addressId,
  place: line.place,
  schedule: line.schedule,
  amount: line.amount,
  baseAmount: line.baseAmount,
})

/**
 * Where and when a line is delivered after a change. Deliveries that nobody speaks of follow: the first to the wanted day, the last taking what is more or
 * less; a single one is no schedule but the line's day and place.
 */
function delivering(
  before: OrderLine,
  wanted: WantedOrder['lines'][number],
): Pick<OrderLine, 'schedule' | 'needBy' | 'addressId' | 'place'> {
  const follows = wanted.needBy === null ? before.schedule : shifted(before.schedule, wanted.needBy)
  const schedule = inOrder(wanted.schedule ?? fitted(follows, wanted.quantity))
  const [first] = schedule
  const to =
    wanted.addressId === undefined
      ? { addressId: before.addressId, place: before.place }
      : { addressId: wanted.addressId, place: wanted.place ?? '' }
  if (first === undefined) return { ...to, schedule: [], needBy: wanted.needBy }
  if (schedule.length > 1) return { ...to, schedule, needBy: first.date }
  const own = first.addressId === null ? to : { addressId: first.addressId, place: first.place }
  return { ...own, schedule: [], needBy: first.date }
}

/** The words of a line as they are wanted; who may not read whom a fee is for sends back what stood in their place, and changes nothing by it. */
const saidOf = (before: OrderLine, wanted: string): string =>
  before.kind === 'personalFee' && wanted === PERSONAL_FEE ? before.description : wanted

/** `least`: 1 where a quantity is above zero; 0 where a line of an issued order may be cancelled. */
function checkFigures(line: WantedOrder['lines'][number], position: number, least: 0 | 1): Reason[] {
  const at = (field: string): { place: string } => ({ place: `lines.${position}.${field}` })
  const above = (text: string, least: number): boolean =>
    isDecimalText(text) && new Decimal(text).comparedTo(0) >= least
  return [
    ...(above(line.quantity, least) ? [] : [stop('line.quantity', { quantity: line.quantity }, at('quantity'))]),
    ...(above(line.price, 0) ? [] : [stop('order.priceBelowZero', {}, at('price'))]),
  ]
}

/** A line with its amounts, rounded once at the line. */
function priced(order: Pick<OrderFacts, 'currency' | 'rate' | 'base'>, line: OrderLine): OrderLine {
  const amount = lineAmount({ ...line, currency: order.currency })
  return { ...line, amount, baseAmount: toBase(amount, order.currency, order.rate, order.base) }
}

/** The head of an order as it is written after a change. */
export const headOf = (order: OrderFacts): NonNullable<OrderNext['head']> => ({
  title: order.title,
  message: order.message,
  charges: order.charges,
  chargeItems: order.chargeItems,
  locationId: order.locationId,
  needBy: order.needBy,
  total: orderTotal(order),
  baseTotal: minor(toBase(sumMinor([orderTotal(order)]), order.currency, order.rate, order.base)),
})
