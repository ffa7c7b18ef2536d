import { addDays, daysBetween } from '#core/calendar/days.ts'
import { lineAmount, type Minor } from '#core/money/amount.ts'
import { Decimal, sumDecimals, tidy } from '#core/money/decimal.ts'
import type { OrderLine } from '#core/order/facts.ts'
import { billed } from '#core/order/measures.ts'
import { inOrder } from '#core/order/schedule.ts'

type Planned = Pick<OrderLine, 'proof' | 'schedule' | 'quantity' | 'price' | 'priceBase' | 'sums'>

/** Whether a line is billed again and again by a plan, as rent and energy are: it is not proven, and has its days. */
export const comesAgain = (line: Pick<OrderLine, 'proof' | 'schedule'>): boolean =>
  line.proof === 'none' && line.schedule.length > 1

/** Days after its day from which a bill that has not come is missed. */
export const MISSED_AFTER = 10

/** How far a bill without a reference may be off the price of a plan and still be for it, in per cent. */
const ALIKE_PERCENT = 25

/**
 * Whether a bill that names no order can be for a plan: the same unit, at about its price. likeThePlan({ unit: 'MON', price: '1550', priceBase: '1' }, { unit:
 * 'MON', price: '1500', priceBase: '1' }) //=> true
 */
export function likeThePlan(
  billed: Pick<OrderLine, 'unit' | 'price' | 'priceBase'>,
  planned: Pick<OrderLine, 'unit' | 'price' | 'priceBase'>,
): boolean {
  const [asked, agreed] = [billed, planned].map(one => new Decimal(one.price).dividedBy(one.priceBase)) as [Decimal, Decimal] // prettier-ignore
  return billed.unit === planned.unit && asked.minus(agreed).abs().times(100).lte(agreed.times(ALIKE_PERCENT))
}

/** A bill that is expected by the plan of a line. */
export interface ExpectedBill {
  readonly date: string
  readonly quantity: string
  /** At the ordered price, in the order's currency. */
  readonly amount: Minor
  readonly state: 'billed' | 'part' | 'missing' | 'toCome'
}

/** The bills that a plan expects, with what of them has come: what is billed, or on bills that are here and wait, counts for the earliest first. */
export function expectedBills(line: Planned, currency: string, today: string, waiting = '0'): ExpectedBill[] {
  let left = new Decimal(billed(line)).plus(waiting)
  return inOrder(line.schedule).map(({ date, quantity }) => {
    const came = Decimal.max(0, Decimal.min(left, quantity))
    left = left.minus(came)
    const { price, priceBase } = line
    const state = came.gte(quantity) ? 'billed' : addDays(date, MISSED_AFTER) < today ? 'missing' : came.gt(0) ? 'part' : 'toCome' // prettier-ignore
    return { date, quantity, amount: lineAmount({ quantity, price, priceBase, currency }), state }
  })
}

/** The day from which the first bill that has not come is missed; null where all have come. */
export const missedFrom = (line: Planned, currency: string): string | null => {
  const next = expectedBills(line, currency, '').find(one => one.state !== 'billed')
  return next ? addDays(next.date, MISSED_AFTER + 1) : null
}

/**
 * How much may be billed by a bill of a day: what is planned until then, and what is nearer to that day than to the one before it, since bills come ahead.
 *
 * plannedUntil({ schedule: [{ date: '2026-11-01', quantity: '1' }, { date: '2026-12-01', quantity: '1' }] }, '2026-11-20') //=> '2'
 */
export function plannedUntil(line: Pick<OrderLine, 'schedule'>, day: string): string {
  const planned = inOrder(line.schedule)
  const due = planned.filter(({ date }, at) => {
    const before = planned[at - 1]?.date
    return date <= day || before === undefined || daysBetween(day, date) * 2 <= daysBetween(before, date)
  })
  return tidy(sumDecimals(due.map(one => one.quantity)))
}
