import { addBusinessDays, type BusinessCalendar, daysBetween } from '#core/calendar/days.ts'
import { Decimal, isDecimalText, tidy } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Whether a line that is ordered today can be there in time: too late, within two working days of it, in good time, or not known. */
export type TimeRisk = 'late' | 'tight' | 'fine' | 'unknown'

/** The lead time counts business days from today; two of them are the margin that buyers want. */
export function timeRisk(
  today: string,
  needBy: string | null,
  leadTimeDays: number | null,
  calendar: BusinessCalendar,
): { risk: TimeRisk; latest: string | null; spare: number | null } {
  if (needBy === null) return { risk: 'unknown', latest: null, spare: null }
  if (leadTimeDays === null)
    return { risk: needBy < today ? 'late' : 'unknown', latest: null, spare: daysBetween(today, needBy) }
  const there = addBusinessDays(today, leadTimeDays, calendar)
  const tight = addBusinessDays(there, 2, calendar)
  return {
    risk: there > needBy ? 'late' : tight > needBy ? 'tight' : 'fine',
    latest: there,
    spare: daysBetween(there, needBy),
  }
}

/**
 * Cuts a quantity off a line that is to be bought elsewhere. Both parts have to stay above zero.
 *
 * cutOff('10', '4', 1) //=> { kept: '6', cut: '4', reasons: [] }
 */
export function cutOff(
  open: string,
  wanted: string,
  position: number,
): { kept: string; cut: string; reasons: Reason[] } {
  const place = { place: `lines.${position}.quantity` }
  if (!isDecimalText(wanted) || new Decimal(wanted).lte(0) || new Decimal(wanted).gte(open))
    return { kept: open, cut: '0', reasons: [stop('pool.cut', { open: tidy(open), wanted }, place)] }
  return { kept: tidy(new Decimal(open).minus(wanted)), cut: tidy(wanted), reasons: [] }
}

/** How long such decisions took before, in hours: the middle one of at least three, else unknown. usualHours([2, 30, 6]) //=> 6 */
export function usualHours(hours: readonly number[]): number | null {
  if (hours.length < 3) return null
  const ordered = [...hours].sort((a, b) => a - b)
  return Math.max(1, Math.round(ordered[Math.floor((ordered.length - 1) / 2)]!))
}
