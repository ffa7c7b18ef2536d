import { addDays, daysBetween, weekday } from '#core/calendar/days.ts'

/** The Monday of the week that a day is in (ISO 8601-1, 4.3.2.2). mondayOf('2026-11-29') //=> '2026-11-23' */
export const mondayOf = (day: string): string => addDays(day, -((weekday(day) + 6) % 7))

/** The number of the week that a day is in, 1 to 53: week 1 has the year's first Thursday (ISO 8601-1, 4.3.2.2). isoWeek('2027-01-01') //=> 53 */
export function isoWeek(day: string): number {
  const thursday = addDays(mondayOf(day), 3)
  return Math.floor(daysBetween(`${thursday.slice(0, 4)}-01-01`, thursday) / 7) + 1
}
