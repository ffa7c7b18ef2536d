import { addBusinessHours, businessHoursBetween, type WorkHours } from '#core/calendar/hours.ts'
import { DECIDE_SETTINGS, type DecideSettings } from '#core/consent/settings.ts'
import { workPlace } from '#core/setup/calendarOf.ts'
import type { Read } from '#server/call.ts'
import { entriesOf } from '#server/house/registerStore.ts'
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

/** Counts in the working hours of people: the hours of Setup, on the days and clocks of where each works. */
export interface Clock {
  /** When so many working hours of somebody have gone since a moment. */
  readonly after: (personId: string | undefined, at: string, hours: number) => string
  readonly between: (personId: string | undefined, from: string, to: string) => number
}

export async function clockFor(call: Read, personIds: readonly string[]): Promise<Clock> {
  const { hoursFrom, hoursTo } = await decideSettings(call)
  const [sites, calendars, holidays] = [await entriesOf(call, 'sites'), await entriesOf(call, 'calendars'), await entriesOf(call, 'holidays')] // prettier-ignore
  const rows = await call
    .trx('people')
    .whereIn('id', [...new Set(personIds)])
    .select<{ id: string; site: string | null; zone: string }[]>('id', 'site', 'timeZone as zone')
  const people = new Map(rows.map(row => [row.id, row]))
  const work = (id: string | undefined): WorkHours => ({
    ...workPlace(people.get(id ?? '') ?? { site: null, zone: call.house.zone }, sites, calendars, holidays),
    from: hoursFrom,
    to: hoursTo,
  })
  return {
    after: (id, at, hours) => addBusinessHours(at, hours, work(id)),
    between: (id, from, to) => businessHoursBetween(from, to, work(id)),
  }
}
