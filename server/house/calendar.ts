import { type BusinessCalendar, PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { calendarOf } from '#core/setup/calendarOf.ts'
import { HOUSE_CALENDAR } from '#core/setup/registers.ts'
import type { Read } from '#server/call.ts'
import { entriesOf } from '#server/house/registerStore.ts'

/** The team's calendar of working days, from Setup. */
export const teamCalendar = async (call: Pick<Read, 'trx'>): Promise<BusinessCalendar> =>
  calendarOf(HOUSE_CALENDAR, await entriesOf(call, 'calendars'), await entriesOf(call, 'holidays')) ?? PLAIN_CALENDAR
