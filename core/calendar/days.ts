import { RuleBroken, stop } from '#core/reasons.ts'

/** A calendar of working days: which weekdays rest (0 Sunday … 6 Saturday) and single holidays (ISO dates). */
export interface BusinessCalendar {
  readonly restDays: readonly number[]
  readonly holidays: readonly string[]
}

export const PLAIN_CALENDAR: BusinessCalendar = { restDays: [0, 6], holidays: [] }

const DAY = 86_400_000

/** Whether `text` is a real calendar day. isDay('2026-02-29') //=> false */
export function isDay(text: string): boolean {
  const parts = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text)
  if (!parts) return false
  return (
    new Date(Date.UTC(Number(parts[1]), Number(parts[2]) - 1, Number(parts[3]))).toISOString().slice(0, 10) === text
  )
}

/**
 * The fiscal year that a day lies in, named by the year in which it begins; `from` is its first month, 1 for January.
 *
 * fiscalYearOf('2027-02-01', 4) //=> 2026 · fiscalYearOf('2027-02-01') //=> 2027
 */
export function fiscalYearOf(day: string, from = 1): number {
  const [year, month] = day.split('-').map(Number) as [number, number]
  return month < from ? year - 1 : year
}

/** addDays('2026-12-30', 3) //=> '2027-01-02' */
export const addDays = (day: string, count: number): string =>
  new Date(stamp(day) + count * DAY).toISOString().slice(0, 10)

/** Calendar days from `from` to `to`, negative when `to` is earlier. */
export const daysBetween = (from: string, to: string): number => Math.round((stamp(to) - stamp(from)) / DAY)

export const weekday = (day: string): number => new Date(stamp(day)).getUTCDay()

export const isBusinessDay = (day: string, calendar: BusinessCalendar): boolean =>
  !calendar.restDays.includes(weekday(day)) && !calendar.holidays.includes(day)

/** The day `count` business days after `day`; the start day does not count. addBusinessDays('2026-11-20', 1, PLAIN_CALENDAR) //=> '2026-11-23' */
export function addBusinessDays(day: string, count: number, calendar: BusinessCalendar): string {
  let current = day
  for (let left = count; left > 0;) {
    current = addDays(current, 1)
    if (isBusinessDay(current, calendar)) left--
  }
  return current
}

/** The day itself where people work on it, else the next on which they do. nextBusinessDay('2026-12-12', PLAIN_CALENDAR) //=> '2026-12-14' */
export const nextBusinessDay = (day: string, calendar: BusinessCalendar): string =>
  addBusinessDays(addDays(day, -1), 1, calendar)

/** The last day of the month of `day`. endOfMonth('2028-02-03') //=> '2028-02-29' */
export function endOfMonth(day: string): string {
  const date = new Date(stamp(day))
  return new Date(Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + 1, 0)).toISOString().slice(0, 10)
}

function stamp(day: string): number {
  if (!isDay(day)) throw new RuleBroken(stop('calendar.notADay', { day: day.slice(0, 20) }))
  return Date.parse(`${day}T00:00:00Z`)
}

/** First and last day of a fiscal year. fiscalYearDays(2026, 4) //=> ['2026-04-01', '2027-03-31'] */
export function fiscalYearDays(year: number, from = 1): [string, string] {
  const begins = (of: number): string => `${of}-${String(from).padStart(2, '0')}-01`
  return [begins(year), addDays(begins(year + 1), -1)]
}

/** Per cent of the fiscal year that has gone at the end of a day, rounded down. yearGone('2026-07-02') //=> 50 */
export function yearGone(day: string, from = 1): number {
  const [first, last] = fiscalYearDays(fiscalYearOf(day, from), from)
  return Math.floor(((daysBetween(first, day) + 1) * 100) / (daysBetween(first, last) + 1))
}
