import { endOfMonth } from '#core/calendar/days.ts'

/** The day so many months later; the last of the month where that has no such day. fittingDay('2026-01-31', 1) //=> '2026-02-28' */
export function fittingDay(day: string, months: number): string {
  const [year, month] = day.split('-').map(Number) as [number, number]
  const first = new Date(Date.UTC(year, month - 1 + months, 1)).toISOString().slice(0, 8)
  const last = endOfMonth(`${first}01`)
  const wanted = `${first}${day.slice(8)}`
  return wanted > last ? last : wanted
}
