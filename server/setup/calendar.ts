import { type BusinessCalendar, PLAIN_CALENDAR } from '#core/calendar/days.ts'
import type { Call } from '#server/call.ts'

/** The team's calendar of working days, from Setup. */
export async function teamCalendar(call: Call): Promise<BusinessCalendar> {
  const row = (await call.trx('settings').where({ key: 'calendar' }).first('value')) as { value: BusinessCalendar } | undefined
  return row?.value ?? PLAIN_CALENDAR
}
