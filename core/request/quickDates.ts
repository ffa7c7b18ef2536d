import { addDays, endOfMonth, isDay, weekday } from '#core/calendar/days.ts'

/** A day that was read at the beginning of a text: what it may mean, and how much of the text says it. */
export interface ReadDay {
  /** One when it is clear, several when it may mean several days, none when there is no such day. */
  readonly days: readonly string[]
  readonly length: number
}

const MONTHS = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
]
const WEEKDAYS = ['sunday', 'monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday']
const MONTH =
  '(jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?|nov(?:ember)?|dec(?:ember)?)\\.?'
const DATE = '(\\d{1,2})(?:st|nd|rd|th)?'
const YEAR = '(?:,?\\s+(\\d{4}))?'
const END = '(?![\\p{L}\\d])'

const two = (number: number): string => String(number).padStart(2, '0')

/** The day in a year, or the next such day from today on when no year was said; none when there is no such day (31 Nov, 29 Feb 2027). */
function dayIn(year: string | undefined, month: number, date: number, today: string): string[] {
  const text = (one: number): string => `${one}-${two(month)}-${two(date)}`
  if (year !== undefined) return isDay(text(Number(year))) ? [text(Number(year))] : []
  const from = Number(today.slice(0, 4))
  for (let one = from; one <= from + 8; one++) if (isDay(text(one)) && text(one) >= today) return [text(one)]
  return []
}

type Reader = readonly [pattern: RegExp, read: (parts: RegExpExecArray, today: string) => readonly string[]]
const pattern = (text: string): RegExp => new RegExp(`^${text}${END}`, 'iu')
const monthOf = (text: string): number => MONTHS.findIndex(name => name.startsWith(text.slice(0, 3).toLowerCase())) + 1

const READERS: readonly Reader[] = [
  [pattern('(\\d{4})-(\\d{2})-(\\d{2})'), ([text]) => (isDay(text) ? [text] : [])],
  [
    pattern(`${DATE}\\s+(?:of\\s+)?${MONTH}${YEAR}`),
    ([, date, month, year], today) => dayIn(year, monthOf(month!), Number(date), today),
  ],
  [
    pattern(`${MONTH}\\s+${DATE}${YEAR}`),
    ([, month, date, year], today) => dayIn(year, monthOf(month!), Number(date), today),
  ],
  [
    pattern('(\\d{1,2})\\.(\\d{1,2})\\.(\\d{4})?'),
    ([, date, month, year], today) => dayIn(year, Number(month), Number(date), today),
  ],
  [
    pattern('(\\d{1,2})/(\\d{1,2})(?:/(\\d{4}))?'),
    ([, first, second, year], today) => [
      ...new Set([
        ...dayIn(year, Number(second), Number(first), today),
        ...dayIn(year, Number(first), Number(second), today),
      ]),
    ],
  ],
  [pattern('today'), (_parts, today) => [today]],
  [pattern('tomorrow'), (_parts, today) => [addDays(today, 1)]],
  [pattern('the day after tomorrow'), (_parts, today) => [addDays(today, 2)]],
  [pattern('in (\\d{1,3}) days?'), ([, count], today) => [addDays(today, Number(count))]],
  [pattern('in (\\d{1,2}) weeks?'), ([, count], today) => [addDays(today, Number(count) * 7)]],
  [pattern('in a week'), (_parts, today) => [addDays(today, 7)]],
  [pattern('(?:the )?end of (?:the |this )?month'), (_parts, today) => [endOfMonth(today)]],
  [pattern('(?:the )?end of next month'), (_parts, today) => [endOfMonth(addDays(endOfMonth(today), 1))]],
  [pattern(`next (${WEEKDAYS.join('|')})`), ([, name], today) => nextWeekday(name!, today)],
  [
    pattern(`(?:this )?(${WEEKDAYS.map(name => `${name.slice(0, 3)}(?:${name.slice(3)})?`).join('|')})`),
    ([, name], today) => [comingWeekday(name!, today)],
  ],
]

function comingWeekday(name: string, today: string): string {
  const wanted = WEEKDAYS.findIndex(one => one.startsWith(name.toLowerCase().slice(0, 3)))
  return addDays(today, ((wanted - weekday(today) + 6) % 7) + 1)
}

/** "Next Friday" said on a Monday may mean this week's or the one after: both are offered when they differ. */
function nextWeekday(name: string, today: string): string[] {
  const coming = comingWeekday(name, today)
  const sameWeek = weekday(coming) > weekday(today) && weekday(today) !== 0
  return sameWeek ? [addDays(coming, 7), coming] : [coming]
}

/**
 * Reads a day at the beginning of a text, or nothing. A day without a year is the next one from today on.
 *
 * readDay('4 Dec on LS-210', '2026-11-23') //=> { days: ['2026-12-04'], length: 5 }
 */
export function readDay(text: string, today: string): ReadDay | undefined {
  for (const [form, read] of READERS) {
    const parts = form.exec(text)
    if (parts) return { days: read(parts, today), length: parts[0].length }
  }
  return undefined
}
