import { type BusinessCalendar, PLAIN_CALENDAR } from '#core/calendar/days.ts'
import type { Read } from '#server/call.ts'
import { readSetting } from '#server/house/house.ts'

/** The team's calendar of working days, from Setup. */
export const teamCalendar = async (call: Read): Promise<BusinessCalendar> =>
  (await readSetting(call, 'calendar')) ?? PLAIN_CALENDAR
