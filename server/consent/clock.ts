import { addBusinessHours, businessHoursBetween, type WorkHours } from '#core/calendar/hours.ts'
import { DECIDE_SETTINGS, type DecideSettings } from '#core/consent/settings.ts'
import type { Read } from '#server/call.ts'
import { teamCalendar } from '#server/house/calendar.ts'
import { readSetting } from '#server/house/house.ts'

declare module '#server/house/house.ts' {
  interface SettingValues {
    decide: DecideSettings
  }
}

export const decideSettings = async (call: Pick<Read, 'trx'>): Promise<DecideSettings> => ({
  ...DECIDE_SETTINGS,
  ...(await readSetting(call, 'decide')),
})

/** Counts in the working hours of people: the team's calendar, the hours of Setup, on each one's own clocks. */
export interface Clock {
  /** When so many working hours of somebody have gone since a moment. */
  readonly after: (personId: string | undefined, at: string, hours: number) => string
  readonly between: (personId: string | undefined, from: string, to: string) => number
}

export async function clockFor(call: Read, personIds: readonly string[]): Promise<Clock> {
  const { hoursFrom, hoursTo } = await decideSettings(call)
  const calendar = await teamCalendar(call)
  const rows = await call
    .trx('people')
    .whereIn('id', [...new Set(personIds)])
    .select('id', 'timeZone')
  const zones = new Map(rows.map(row => [row.id, row.timeZone]))
  const work = (id: string | undefined): WorkHours => ({
    calendar,
    zone: zones.get(id ?? '') ?? call.house.zone,
    from: hoursFrom,
    to: hoursTo,
  })
  return {
    after: (id, at, hours) => addBusinessHours(at, hours, work(id)),
    between: (id, from, to) => businessHoursBetween(from, to, work(id)),
  }
}
