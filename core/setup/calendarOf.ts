import { type BusinessCalendar, PLAIN_CALENDAR } from '#core/calendar/days.ts'
import { type Entry, HOUSE_CALENDAR, type Values, WEEKDAYS } from '#core/setup/registers.ts'

/** The working days of a calendar, from its entry and the holidays that are entered for it; closed ones do not count. */
export function calendarOf(
  code: string,
  calendars: readonly Entry[],
  holidays: readonly Entry[],
): BusinessCalendar | undefined {
  const own = calendars.find(entry => entry.open && entry.values.code === code)
  if (!own) return undefined
  return {
    restDays: (own.values.restDays ?? '')
      .split(' ')
      .filter(Boolean)
      .map(day => WEEKDAYS.indexOf(day as 'SU')),
    holidays: holidays
      .filter(entry => entry.open && entry.values.calendar === code)
      .map(entry => entry.values.day!)
      .sort(),
  }
}

/**
 * The days and clocks by which somebody works: those of the site where they do; where that is not said or closed, the house's days on their
 * own clocks.
 */
export function workPlace(
  person: { readonly site: string | null; readonly zone: string },
  sites: readonly Entry[],
  calendars: readonly Entry[],
  holidays: readonly Entry[],
): { readonly calendar: BusinessCalendar; readonly zone: string } {
  const site = sites.find(entry => entry.open && entry.values.code === person.site)?.values
  const ofSite = site && calendarOf(site.calendar ?? '', calendars, holidays)
  return {
    calendar: ofSite ?? calendarOf(HOUSE_CALENDAR, calendars, holidays) ?? PLAIN_CALENDAR,
    zone: site?.zone ?? person.zone,
  }
}

/** The entries of the house's own calendar. */
export function houseEntries(calendar: BusinessCalendar): { calendars: Values[]; holidays: Values[] } {
  const restDays = calendar.restDays.map(day => WEEKDAYS[day]!).join(' ')
  return {
    calendars: [{ code: HOUSE_CALENDAR, name: 'The house', restDays }],
    holidays: calendar.holidays.map(day => ({ calendar: HOUSE_CALENDAR, day, name: 'Holiday' })),
  }
}
