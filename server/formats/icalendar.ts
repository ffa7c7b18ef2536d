import ICAL from 'ical.js'
import { addDays } from '#core/calendar/days.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

/** A day that an iCalendar file names. */
export interface NamedDay {
  readonly day: string
  readonly name: string
}

const MOST_EVENTS = 2_000
const MOST_DAYS = 5_000
/** Days that one event may last, and times that it may come again: holidays last and return less. */
const LONGEST = 31
const MOST_TIMES = 30
const LETTERS = 120

/**
 * The days of the events of an iCalendar file (RFC 5545), those that return for the years between `from` and `to`. An event that ends on another
 * day lasts until the day before its DTEND (3.6.1).
 *
 * @throws RuleBroken calendar.unreadable, calendar.tooMany
 */
export function readHolidays(text: string, from: string, to: string): NamedDay[] {
  const events = eventsOf(text)
  if (events.length > MOST_EVENTS) throw new RuleBroken(stop('calendar.tooMany', { most: MOST_EVENTS }))
  const days = new Map<string, NamedDay>()
  for (const event of events) {
    const name = (event.summary ?? '').replace(/\s+/g, ' ').trim().slice(0, LETTERS) || 'Holiday'
    const lasts = Math.min(LONGEST, Math.max(1, daysOf(event)))
    for (const start of startsOf(event, to))
      for (let day = 0; day < lasts; day++) {
        const at = addDays(start, day)
        if (at >= from && at <= to && !days.has(at)) days.set(at, { day: at, name })
      }
    if (days.size > MOST_DAYS) throw new RuleBroken(stop('calendar.tooMany', { most: MOST_DAYS }))
  }
  if (days.size === 0) throw new RuleBroken(stop('calendar.nothing', { from, to }))
  return [...days.values()].sort((a, b) => (a.day < b.day ? -1 : 1))
}

function eventsOf(text: string): ICAL.Event[] {
  try {
    const calendar = new ICAL.Component(ICAL.parse(text) as string[])
    const events = calendar.getAllSubcomponents('vevent').map(event => new ICAL.Event(event))
    return events.filter(event => event.startDate !== null)
  } catch (error) {
    throw new RuleBroken(stop('calendar.unreadable'), { cause: error })
  }
}

const dayOf = (time: ICAL.Time): string => time.toString().slice(0, 10)

const daysOf = (event: ICAL.Event): number => {
  const end = event.endDate as ICAL.Time | null
  return end?.isDate ? Math.round((end.toUnixTime() - event.startDate.toUnixTime()) / 86_400) : 1
}

function startsOf(event: ICAL.Event, to: string): string[] {
  if (!event.isRecurring()) return [dayOf(event.startDate)]
  const starts: string[] = []
  const times = event.iterator()
  // a rule of seconds would go on for a long time before it leaves the first day
  for (let count = 0; count < MOST_TIMES; count++) {
    const next = times.next() as ICAL.Time | undefined
    if (!next || dayOf(next) > to) break
    starts.push(dayOf(next))
  }
  return starts
}
