import { addDays, daysBetween } from '#core/calendar/days.ts'
import { Decimal } from '#core/money/decimal.ts'

/** How much had been called off by the end of a day. */
export interface UsePoint {
  readonly day: string
  readonly total: string
}

/** Days of the past that a forecast is drawn from. */
export const FORECAST_DAYS = 180
/** Fewer days than this say nothing. */
const LEAST_DAYS = 14

/** What is called off in a day, on the average of the last half year or since the first, and the day on which the ceiling is reached at that pace; nothing where nothing moves or too little is known. */
export function forecastUse(
  points: readonly UsePoint[],
  ceiling: string,
  today: string,
): { readonly perDay: string; readonly usedUpOn: string } | null {
  const sorted = [...points].filter(one => one.day <= today).sort((a, b) => (a.day < b.day ? -1 : 1))
  const [first, last] = [sorted[0], sorted.at(-1)]
  if (!first || !last || ceiling === '' || !new Decimal(ceiling).gt(0)) return null
  const from = addDays(today, -FORECAST_DAYS)
  const begun = first.day > from ? first.day : from
  const before = sorted.filter(one => one.day <= from).at(-1)?.total ?? '0'
  const days = daysBetween(begun, today)
  if (days < LEAST_DAYS) return null
  const perDay = new Decimal(last.total).minus(before).div(days)
  if (!perDay.gt(0)) return null
  const left = Decimal.max(0, new Decimal(ceiling).minus(last.total))
  const more = left.div(perDay).ceil()
  return more.gt(3660)
    ? null
    : { perDay: perDay.toDecimalPlaces(2).toString(), usedUpOn: addDays(today, more.toNumber()) }
}
