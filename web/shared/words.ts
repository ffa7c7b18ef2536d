import { say } from '#contract/messages/say.ts'
import { unitLabel } from '#core/units/units.ts'
import { LABELS } from '#web/shared/labels.ts'
import { t, translation } from '#web/shared/language.ts'

/** Who reads: how their dates and figures are written, and in which time zone. Nobody has signed in yet at first. */
const reader = { locale: 'en-GB', zone: undefined as string | undefined }
const made = new Map<string, Intl.DateTimeFormat>()
/** A format of the reader's, made once. Calendar days have no time zone of their own; instants are in the reader's. */
function format(name: string, parts: Intl.DateTimeFormatOptions, zone = reader.zone): Intl.DateTimeFormat {
  const key = `${name} ${reader.locale} ${zone}`
  const known =
    made.get(key) ?? new Intl.DateTimeFormat(reader.locale, { ...parts, ...(zone ? { timeZone: zone } : {}) })
  made.set(key, known)
  return known
}
let decimalMark = '.'
/** Says who reads from now on. */
export function readFor(locale: string, zone: string): void {
  Object.assign(reader, { locale, zone })
  decimalMark = new Intl.NumberFormat(locale).formatToParts(1.5).find(part => part.type === 'decimal')?.value ?? '.'
}
const DAY_MONTH = { day: 'numeric', month: 'short' } as const
const TIME = { hour: '2-digit', minute: '2-digit' } as const
const dayFormat = (): Intl.DateTimeFormat => format('day', DAY_MONTH, 'UTC')
const dayYearFormat = (): Intl.DateTimeFormat => format('dayYear', { ...DAY_MONTH, year: 'numeric' }, 'UTC')
const weekdayFormat = (): Intl.DateTimeFormat => format('weekday', { ...DAY_MONTH, weekday: 'short' }, 'UTC')
const monthFormat = (): Intl.DateTimeFormat => format('month', { month: 'long', year: 'numeric' }, 'UTC')
const timeFormat = (): Intl.DateTimeFormat => format('time', TIME)
const stampFormat = (): Intl.DateTimeFormat => format('stamp', { ...DAY_MONTH, ...TIME })

/** "4 Dec", with the year when it is another one. */
export function day(text: string | null | undefined): string {
  if (!text) return ''
  const date = new Date(`${text.slice(0, 10)}T00:00:00Z`)
  return date.getUTCFullYear() === new Date().getFullYear() ? dayFormat().format(date) : dayYearFormat().format(date)
}

/** "Fri 4 Dec" */
export const weekdayDay = (text: string): string => weekdayFormat().format(new Date(`${text}T00:00:00Z`))

/** "November 2026", of a month as YYYY-MM. */
export const monthText = (text: string): string => monthFormat().format(new Date(`${text}-01T00:00:00Z`))
/** "14:02" */
export const timeText = (text: string): string => timeFormat().format(new Date(text))
export const stamp = (text: string): string => stampFormat().format(new Date(text))

/** A time of hours as people say it: "40 minutes", "3 h", "2 days". */
export const hoursText = (hours: number): string =>
  hours < 1
    ? `${Math.round(hours * 60)} minutes`
    : hours < 36
      ? `${Math.round(hours)} h`
      : `${Math.round(hours / 24)} days`

/** "yesterday", "3 days ago" and, further back, the day. */
export function since(text: string): string {
  const minutes = Math.round((Date.now() - Date.parse(text)) / 60_000)
  if (minutes < 2) return t('just now')
  if (minutes < 60) return t('{minutes} minutes ago', { minutes })
  if (minutes < 60 * 20) return t('{hours} h ago', { hours: Math.round(minutes / 60) })
  const days = Math.round(minutes / 1440)
  if (days <= 1) return t('yesterday')
  return days < 15 ? t('{days} days ago', { days }) : day(text)
}

/** Groups thousands with a space that does not break; the decimal point stays. amountText('18420.00') → 18 420.00 */
export const amountText = (text: string): string => {
  const [whole = '0', part] = text.split('.')
  return whole.replace(/\B(?=(\d{3})+(?!\d))/g, '\u00a0') + (part === undefined ? '' : `${decimalMark}${part}`)
}

/** A unit price: at least two digits after the point, as many as it has. */
export const priceText = (text: string): string => {
  const [whole = '0', part = ''] = text.split('.')
  return amountText(`${whole}.${part.padEnd(2, '0')}`)
}

export const quantityText = (text: string): string => amountText(text)
export const unit = (code: string): string => translation()?.units[code] ?? unitLabel(code)
/** The name of a list's view: its own, or the one that all lists share. */
export const viewLabel = (list: string, view: string): string =>
  LABELS.view[`${list}.${view}`] ?? LABELS.view[view] ?? view
export const label = (group: keyof typeof LABELS, code: string): string =>
  translation()?.labels[`${group}.${code}`] ?? LABELS[group][code] ?? code

/** A moment in a sentence: its time on the day itself, the day of one long ago, both for one that is still to come. */
function momentText(value: string): string {
  const ahead = Date.parse(value) - Date.now()
  return ahead > NEAR ? stamp(value) : ahead < -NEAR ? day(value) : timeFormat().format(new Date(value))
}
/** Milliseconds within which the time of day says enough. */
const NEAR = 72_000_000

const DATES = new Set([
  'needBy',
  'dueOn',
  'promised',
  'earliest',
  'validTo',
  'validFrom',
  'today',
  'executeOn',
  'endsOn',
  'startsOn',
])
const STAMPS = new Set(['since', 'at', 'issuedAt'])

/** The words of a code with dates and amounts as this person reads them. */
export function words(
  sentence: { code: string; details: Readonly<Record<string, string | number>> } | null | undefined,
): string {
  if (!sentence) return ''
  const details = Object.fromEntries(
    Object.entries(sentence.details).map(([name, value]) => {
      if (typeof value !== 'string' || value === '') return [name, value]
      if (DATES.has(name)) return [name, day(value)]
      if (STAMPS.has(name)) return [name, momentText(value)]
      if (name === 'amount') return [name, amountText(value)]
      if (name === 'state' || name === 'billed') return [name, label('state', value)]
      if (name === 'extra') return [name, label('hold', value)]
      if (name === 'role') return [name, label('role', value)]
      return [name, value]
    }),
  )
  return say(sentence.code, details, translation()?.codes)
}
