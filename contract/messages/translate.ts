import '#contract/messages/billing.ts'
import '#contract/messages/later.ts'
import '#contract/messages/receiving.ts'
import { de } from '#contract/messages/de/index.ts'
import { type Details, fill } from '#contract/messages/fill.ts'
import type { Language, Translation } from '#contract/messages/languages.ts'
import { fillMail, mailsEn, type MailWords } from '#contract/messages/mails.ts'
import { say } from '#contract/messages/say.ts'
import { unitLabel } from '#core/units/units.ts'

/** All languages at once, as the server has them; pages load theirs by itself. */
const TRANSLATIONS: Readonly<Partial<Record<Language, Translation>>> = { de }

/** Words of a page or a document in a language: what is not translated stays English. */
export const write =
  (language: Language) =>
  (text: string, details: Details = {}): string =>
    fill(TRANSLATIONS[language]?.texts[text] ?? text, details)
export type Write = ReturnType<typeof write>

export const writeUnit = (language: Language, code: string): string =>
  TRANSLATIONS[language]?.units[code] ?? unitLabel(code)

/** A code's words in a language, with days and moments as its reader writes them. */
export function writeCode(code: string, language: Language, details: Details): string {
  const moments = Object.fromEntries(
    Object.entries(details).filter(([name, value]) => name === 'at' && typeof value === 'string').map(([name, value]) => [name, writtenDay(String(value).slice(0, 10), language)]), // prettier-ignore
  )
  return say(code, { ...details, ...moments }, TRANSLATIONS[language]?.codes)
}

/**
 * A mail from its template, in a language; in a house's own words, where it has them.
 *
 * writeMail('order.cancelled', 'de', { number: 'O-1', … }).subject //=> 'Bestellung O-1 ist storniert'
 */
export function writeMail(template: string, language: Language, details: Details, own?: MailWords): MailWords {
  const words =
    own ?? TRANSLATIONS[language]?.mails[template] ?? (mailsEn as Readonly<Record<string, MailWords>>)[template]
  if (!words) throw new Error(`There are no words for the mail ${template}.`)
  return fillMail(words, { ...details, ...written(details, language) })
}

const DAYS = new Set(['needBy', 'issueDate', 'day', 'until', 'lapsed'])
const AMOUNTS = new Set(['total', 'amount'])
/** Days and amounts of a mail as its reader writes them. */
const written = (details: Details, language: Language): Details =>
  Object.fromEntries(
    Object.entries(details).flatMap(([name, value]) =>
      typeof value !== 'string' || value === ''
        ? []
        : DAYS.has(name)
          ? [[name, writtenDay(value, language)]]
          : AMOUNTS.has(name)
            ? [[name, writtenFigure(value, language)]]
            : [],
    ),
  )

/** writtenDay('2026-12-28', 'de-AT') //=> '28.12.2026', writtenDay('2026-12-28', 'en') //=> '28 Dec 2026' */
export function writtenDay(day: string, locale: string): string {
  const parts = locale.startsWith('en')
    ? ({ day: 'numeric', month: 'short', year: 'numeric' } as const)
    : ({ dateStyle: 'medium' } as const)
  return new Intl.DateTimeFormat(ours(locale), { ...parts, timeZone: 'UTC' }).format(new Date(`${day}T00:00:00Z`))
}

/** An exact decimal with all its digits. writtenFigure('1250.50', 'de') //=> '1.250,50' */
export function writtenFigure(figure: string, locale: string): string {
  const digits = figure.split('.')[1]?.length ?? 0
  return new Intl.NumberFormat(ours(locale), { minimumFractionDigits: digits, maximumFractionDigits: digits }).format(
    figure as Intl.StringNumericLiteral,
  )
}
/** English is written as in Europe: the day before the month. */
const ours = (locale: string): string => (locale === 'en' ? 'en-GB' : locale)
