import { addDays, type BusinessCalendar, isBusinessDay } from '#core/calendar/days.ts'

/** When somebody works: on which days, between which times of which clocks. */
export interface WorkHours {
  readonly calendar: BusinessCalendar
  readonly zone: string
  /** HH:MM; `to` is after `from`. */
  readonly from: string
  readonly to: string
}

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR
/** Days that are looked through for one on which somebody works, before giving up: a calendar in which every day rests has none. */
const MOST_DAYS = 800

const formats = new Map<string, Intl.DateTimeFormat>()
function formatOf(zone: string): Intl.DateTimeFormat {
  const known =
    formats.get(zone) ??
    new Intl.DateTimeFormat('sv-SE', { timeZone: zone, dateStyle: 'short', timeStyle: 'medium', hourCycle: 'h23' })
  formats.set(zone, known)
  return known
}
/** Milliseconds by which the clocks of a zone are ahead of UTC at an instant. */
const ahead = (at: number, zone: string): number =>
  Date.parse(`${formatOf(zone).format(at).replace(' ', 'T')}Z`) - Math.floor(at / 1000) * 1000

/**
 * The instant at which the clocks of a zone show a time on a day. A time that they leave out when they go forward is as far after the change
 * as it would have been; of one that they show twice it is the first.
 *
 * instantAt('2026-07-01', '09:00', 'Europe/Amsterdam') //=> 2026-07-01T07:00:00.000Z in milliseconds
 */
export function instantAt(day: string, time: string, zone: string): number {
  const plain = Date.parse(`${day}T${time}:00Z`)
  const before = ahead(plain - DAY, zone)
  const after = ahead(plain + DAY, zone)
  const first = plain - Math.max(before, after)
  return first + ahead(first, zone) === plain ? first : plain - Math.min(before, after)
}

const dayAt = (at: number, zone: string): string => formatOf(zone).format(at).slice(0, 10)

/** The working time of days from an instant on, as pairs of instants. */
function* spans(from: number, work: WorkHours): Generator<readonly [number, number]> {
  for (let day = dayAt(from, work.zone), left = MOST_DAYS; left > 0; day = addDays(day, 1), left--) {
    if (!isBusinessDay(day, work.calendar)) continue
    const end = instantAt(day, work.to, work.zone)
    if (end > from) yield [Math.max(from, instantAt(day, work.from, work.zone)), end]
  }
}

/**
 * The instant when so many working hours have gone since another. Where nobody ever works, the hours count as they are.
 *
 * addBusinessHours('2026-11-27T16:00:00Z', 2, nineToFiveInUtc) //=> '2026-11-30T10:00:00.000Z' (Friday to Monday)
 */
export function addBusinessHours(at: string, hours: number, work: WorkHours): string {
  let left = hours * HOUR
  for (const [from, to] of spans(Date.parse(at), work)) {
    if (to - from >= left) return new Date(from + left).toISOString()
    left -= to - from
  }
  return new Date(Date.parse(at) + hours * HOUR).toISOString()
}

/** Working hours between two instants, exact to the minute; 0 where the second is not later. */
export function businessHoursBetween(from: string, to: string, work: WorkHours): number {
  const end = Date.parse(to)
  let sum = 0
  for (const [begins, ends] of spans(Date.parse(from), work)) {
    if (begins >= end) break
    sum += Math.min(ends, end) - begins
  }
  return Math.round(sum / MINUTE) / 60
}
