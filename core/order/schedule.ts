import { addDays, daysBetween, isDay } from '#core/calendar/days.ts'
import { Decimal, isHeldDecimal, sumDecimals, tidy } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** A quantity of a line, in its unit, and the day on which it is to be there. */
export interface DatedQuantity {
  readonly quantity: string
  readonly date: string
}
/** A delivery of a line that comes in several: how much, when, and where to where that differs from the line's place. */
export interface Delivery extends DatedQuantity {
  readonly addressId: string | null
  /** The name of that place; empty where it is the line's. */
  readonly place: string
}
/** One delivery as somebody follows it. */
export interface FollowedDelivery extends DatedQuantity {
  readonly place: string
  /** The day by which all up to and with this one is promised; null where it is not. */
  readonly promised: string | null
  /** How much of it has not come; what comes is counted for the earliest first. */
  readonly open: string
}

/** The most deliveries that a line is cut into. */
export const MOST_DELIVERIES = 60

const byDay = (a: DatedQuantity, b: DatedQuantity): number => (a.date < b.date ? -1 : a.date > b.date ? 1 : 0)

/** Deliveries in the order of their days. */
export const inOrder = <D extends DatedQuantity>(deliveries: readonly D[]): D[] => [...deliveries].sort(byDay)

/** What all deliveries together bring. */
export const delivered = (deliveries: readonly DatedQuantity[]): string =>
  tidy(sumDecimals(deliveries.map(one => one.quantity)))

/**
 * What stands against cutting a line of a quantity into deliveries: each has a day and more than nothing, none stands twice for one place, and together
 * they are the line. `at`: where the line stands in a form.
 */
export function whyNotSchedule(
  line: { readonly kind: string; readonly position: number; readonly quantity: string },
  deliveries: readonly Delivery[],
): Reason[] {
  if (deliveries.length === 0) return []
  const at = { place: `lines.${line.position}.schedule` }
  if (line.kind !== 'goods') return [stop('order.schedule.goodsOnly', {}, at)]
  const against = [
    ...(deliveries.length > MOST_DELIVERIES ? [stop('order.schedule.tooMany', { most: MOST_DELIVERIES }, at)] : []),
    ...whyNotDated(deliveries, at),
  ]
  if (against.length > 0) return against
  const places = deliveries.map(one => `${one.date} ${one.addressId ?? ''}`)
  const sum = delivered(deliveries)
  return [
    ...(new Set(places).size < places.length ? [stop('order.schedule.twice', {}, at)] : []),
    ...(new Decimal(sum).equals(line.quantity)
      ? []
      : [stop('order.schedule.sum', { sum, quantity: tidy(line.quantity) }, at)]),
  ]
}

/** Days that are no days, and quantities that are nothing. */
export const whyNotDated = (deliveries: readonly DatedQuantity[], at: { readonly place?: string } = {}): Reason[] => [
  ...deliveries.flatMap(one =>
    isDay(one.date) ? [] : [stop('order.schedule.day', { day: one.date.slice(0, 20) }, at)],
  ),
  ...(deliveries.every(one => isHeldDecimal(one.quantity) && new Decimal(one.quantity).gt(0))
    ? []
    : [stop('order.schedule.quantity', {}, at)]),
]

/**
 * The same deliveries for another quantity: what is more comes with the last, what is less is taken off the last ones.
 *
 * fitted([{ quantity: '4', date: '2026-05-04' }, { quantity: '6', date: '2026-06-01' }], '5') //=> 4 on 4 May, 1 on 1 June
 */
export function fitted<D extends DatedQuantity>(deliveries: readonly D[], quantity: string): D[] {
  let left = new Decimal(quantity)
  const last = deliveries.length - 1
  return inOrder(deliveries)
    .map((one, index) => {
      const own = index === last ? Decimal.max(0, left) : Decimal.min(one.quantity, Decimal.max(0, left))
      left = left.minus(own)
      return { ...one, quantity: tidy(own) }
    })
    .filter(one => one.quantity !== '0')
}

/** The same deliveries with the first on another day: the days between them stay. */
export function shifted<D extends DatedQuantity>(deliveries: readonly D[], first: string): D[] {
  const from = inOrder(deliveries)[0]?.date
  if (from === undefined || from === first) return [...deliveries]
  const days = daysBetween(from, first)
  return deliveries.map(one => ({ ...one, date: addDays(one.date, days) }))
}

/** The day of the first delivery that `done` does not cover; null where all is covered. */
export function firstOpenDay(deliveries: readonly DatedQuantity[], done: string): string | null {
  let sum = new Decimal(0)
  for (const one of inOrder(deliveries)) {
    sum = sum.plus(one.quantity)
    if (sum.gt(done)) return one.date
  }
  return null
}

/** How much all up to and with each delivery bring: what is to be there on its day. */
export function runningTotals(deliveries: readonly DatedQuantity[]): DatedQuantity[] {
  let sum = new Decimal(0)
  return inOrder(deliveries).map(({ quantity, date }) => {
    sum = sum.plus(quantity)
    return { date, quantity: tidy(sum) }
  })
}

/** How much is to be there by the end of a day. */
export const dueBy = (deliveries: readonly DatedQuantity[], day: string): Decimal =>
  sumDecimals(deliveries.filter(one => one.date <= day).map(one => one.quantity))

/**
 * The first wanted day on which less is promised than wanted; null where every day is kept. Quantities that are not promised at all say nothing here: what is
 * compared is when comes what comes.
 */
export function fallsBehind(wanted: readonly DatedQuantity[], promised: readonly DatedQuantity[]): string | null {
  const all = new Decimal(delivered(promised))
  const late = inOrder(wanted).find(one => dueBy(promised, one.date).lt(Decimal.min(all, dueBy(wanted, one.date))))
  return late?.date ?? null
}

/** Deliveries as somebody follows them: what of each has come, and by when it is promised. */
export function followed(
  wanted: readonly Delivery[],
  promised: readonly DatedQuantity[],
  done: string,
): FollowedDelivery[] {
  let before = new Decimal(0)
  return inOrder(wanted).map(({ quantity, date, place }) => {
    const upTo = before.plus(quantity)
    const open = Decimal.min(quantity, Decimal.max(0, upTo.minus(done)))
    before = upTo
    return { quantity, date, place, open: tidy(open), promised: coveredOn(promised, upTo) }
  })
}

/** The day on which what is promised first reaches a quantity. */
function coveredOn(promised: readonly DatedQuantity[], quantity: Decimal): string | null {
  const days = inOrder(promised)
  let sum = new Decimal(0)
  for (const one of days) {
    sum = sum.plus(one.quantity)
    if (sum.gte(quantity)) return one.date
  }
  return null
}

/** Deliveries as one text, for comparing and for what is kept of a difference: one on each line, `quantity day place`. */
export const scheduleText = (deliveries: readonly (DatedQuantity & { readonly place?: string })[]): string =>
  inOrder(deliveries)
    .map(one => [tidy(one.quantity), one.date, one.place ?? ''].join(' ').trim())
    .join('\n')

/** Cuts a quantity into equal whole deliveries, what does not divide coming with the first ones. evenly('10', 3) //=> ['4', '3', '3'] */
export function evenly(quantity: string, count: number): string[] {
  const whole = new Decimal(quantity)
  if (!whole.isInteger() || whole.lt(count)) {
    const part = whole.dividedBy(count).toDecimalPlaces(6, Decimal.ROUND_DOWN)
    return Array.from({ length: count }, (_, at) => tidy(at === count - 1 ? whole.minus(part.times(count - 1)) : part))
  }
  const part = whole.dividedToIntegerBy(count)
  const rest = whole.minus(part.times(count)).toNumber()
  return Array.from({ length: count }, (_, at) => tidy(at < rest ? part.plus(1) : part))
}
