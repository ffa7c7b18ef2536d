import { checkIban, normalIdentifier } from '#core/source/identifiers.ts'
import { isVatNumber } from '#core/source/nationalNumbers.ts'
import { isDay } from '#core/calendar/days.ts'
import { readTypedNumber } from '#core/money/entry.ts'

/** A run of text on a page, in its units from the upper left corner. */
export interface PaperRun {
  readonly page: number
  readonly text: string
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export const PAPER_KINDS_READ = ['invoiceNumber', 'order', 'iban', 'vat', 'day', 'amount'] as const
export type PaperKind = (typeof PAPER_KINDS_READ)[number]

/** Something on the paper that an invoice likely needs, and where it stands. A text that may mean two things comes with both values. */
export interface PaperValue {
  readonly page: number
  readonly kind: PaperKind
  readonly text: string
  readonly values: readonly string[]
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** Texts beside which the number of an invoice stands, in the languages of suppliers. */
const NUMBER_WORDS =
  /(?:invoice|bill|rechnungs?|facture|factuur|fattura|factura)[\s-]*(?:no\.?|nr\.?|n°|nº|number|nummer|num[eé]ro|numero|número|#)\s*[.:]?\s*([A-Z0-9][A-Z0-9/_.-]{0,28}[A-Z0-9]|[A-Z0-9])/giu
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
/** Months that are written otherwise in German, French, Dutch, Spanish and Italian, by their first letters. */
const OTHER_MONTHS: readonly (readonly [string, number])[] = [
  ['jän', 1], ['ene', 1], ['gen', 1], ['fév', 2], ['mär', 3], ['maa', 3], ['mrt', 3], ['avr', 4], ['abr', 4], ['mai', 5], ['mei', 5], ['mag', 5],
  ['juin', 6], ['giu', 6], ['juil', 7], ['lug', 7], ['aoû', 8], ['ago', 8], ['set', 9], ['okt', 10], ['ott', 10], ['déc', 12], ['dez', 12], ['dic', 12],
] // prettier-ignore

const two = (digits: string | number): string => String(digits).padStart(2, '0')
const dayOf = (year: string, month: string | number, day: string): string[] => {
  const text = `${year.length === 2 ? `20${year}` : year}-${two(month)}-${two(day)}`
  return isDay(text) ? [text] : []
}
function monthOf(word: string): number | null {
  const low = word.toLowerCase()
  const other = OTHER_MONTHS.find(([start]) => low.startsWith(start))
  if (other) return other[1]
  const at = MONTHS.findIndex(name => low.startsWith(name))
  return at < 0 ? null : at + 1
}

type Reader = readonly [PaperKind, RegExp, (parts: RegExpExecArray) => readonly string[]]

/** A day of a month by its name. */
const named = (year: string, word: string, day: string): string[] => {
  const month = monthOf(word)
  return month === null ? [] : dayOf(year, month, day)
}

/** Both days that digits apart by strokes may mean, the day first. */
const bothWays = (first: string, second: string, year: string): string[] => [...new Set([...dayOf(year, second, first), ...dayOf(year, first, second)])] // prettier-ignore

const READERS: readonly Reader[] = [
  ['iban', /\b[A-Z]{2}\d{2}(?: ?[A-Z0-9]{1,4}){3,8}\b/g, ([text]) => ibanIn(text)],
  ['vat', /\b[A-Z]{2}[ .]?[A-Z0-9]{2,4}(?:[ .]?[A-Z0-9]{2,4}){1,4}\b/g, ([text]) => (/\d/.test(text) && isVatNumber(normalIdentifier(text)) ? [normalIdentifier(text)] : [])], // prettier-ignore
  ['order', /\b[OC]-\d{3,}\b/g, ([text]) => [text]],
  ['invoiceNumber', NUMBER_WORDS, ([, number]) => (/\d/.test(number!) ? [number!] : [])],
  ['day', /\b(\d{4})-(\d{2})-(\d{2})\b/g, ([, year, month, day]) => dayOf(year!, month!, day!)],
  ['day', /\b(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4}|\d{2})\b/g, ([, day, month, year]) => dayOf(year!, month!, day!)],
  [
    'day',
    /\b(\d{1,2})[/-](\d{1,2})[/-](\d{4}|\d{2})\b/g,
    ([, first, second, year]) => bothWays(first!, second!, year!),
  ],
  ['day', /\b(\d{1,2})(?:\.|st|nd|rd|th)?\s(?:de\s)?(\p{L}{3,10})\.?,?\s(?:de\s)?(\d{4})\b/gu, ([, day, word, year]) => named(year!, word!, day!)], // prettier-ignore
  ['day', /\b(\p{L}{3,10})\.?\s(\d{1,2})(?:st|nd|rd|th)?,?\s(\d{4})\b/gu, ([, word, day, year]) => named(year!, word!, day!)], // prettier-ignore
  ['amount', /(?<![\d.,'’-])-?(?:\d{1,3}(?:[.,'’ \u00a0\u202f]\d{3})+|\d+)[.,]\d{2}(?![\d%]|[.,]\d)(?!\s?%)/g, ([text]) => amountIn(text)], // prettier-ignore
]

/** An IBAN may run into what follows it: the longest beginning whose check digits agree. */
function ibanIn(text: string): string[] {
  const words = text.split(' ')
  for (let take = words.length; take > 0; take--) {
    const iban = normalIdentifier(words.slice(0, take).join(''))
    if (checkIban(iban).length === 0) return [iban]
  }
  return []
}

/** As much of a text as says the account. */
function beginning(text: string, iban: string | undefined): string {
  const at = Array.from(text).findIndex((_letter, index) => normalIdentifier(text.slice(0, index + 1)) === iban)
  return text.slice(0, at + 1)
}

function amountIn(text: string): string[] {
  const read = readTypedNumber(text.replace(/[’]/g, "'"))
  return read.ok ? [read.value] : [...(read.ambiguous ?? [])]
}

/**
 * What on a paper is likely a number, an order, an account, a VAT number, a day or an amount. Nothing is decided: a person takes it or does not. What
 * stands in several runs of one line is read as one; IBANs and VAT numbers count only where their check digits agree, numbers of invoices only beside the word.
 */
export function paperValues(runs: readonly PaperRun[]): PaperValue[] {
  return linesOf(runs).flatMap(line => {
    const taken: { from: number; to: number }[] = []
    return READERS.flatMap(([kind, form, read]) =>
      [...line.text.matchAll(form)].flatMap((parts): PaperValue[] => {
        const values = read(parts as RegExpExecArray)
        const text = kind === 'iban' ? beginning(parts[0], values[0]) : kind === 'invoiceNumber' ? parts[1]! : parts[0]
        const from = parts.index + parts[0].lastIndexOf(text)
        const to = from + text.length
        if (values.length === 0 || taken.some(one => one.from < to && from < one.to)) return []
        taken.push({ from, to })
        return [{ page: line.page, kind, text, values, ...boxOf(line, from, to) }]
      }),
    )
  })
}

interface PaperLine {
  readonly page: number
  readonly text: string
  /** Runs with where they begin in the text. */
  readonly runs: readonly { readonly run: PaperRun; readonly at: number }[]
}

/** Runs of one page that stand beside each other, from left to right; a gap wider than the letters is a blank. */
function linesOf(runs: readonly PaperRun[]): PaperLine[] {
  const rows: PaperRun[][] = []
  for (const run of runs.filter(one => one.text.trim() !== '')) {
    const row = rows.find(([first]) => first!.page === run.page && Math.abs(first!.y + first!.height - run.y - run.height) < Math.max(2, run.height / 2)) // prettier-ignore
    if (row) row.push(run)
    else rows.push([run])
  }
  return rows.map(row => {
    let text = ''
    let end = 0
    const placed = [...row]
      .sort((a, b) => a.x - b.x)
      .map(run => {
        if (text !== '' && run.x - end > run.height * 0.15) text += run.x - end > run.height * 2 ? '   ' : ' '
        const at = text.length
        text += run.text
        end = run.x + run.width
        return { run, at }
      })
    return { page: row[0]!.page, text, runs: placed }
  })
}

/** The place of a part of a line, by the share of its letters in each run. */
function boxOf(line: PaperLine, from: number, to: number): Pick<PaperValue, 'x' | 'y' | 'width' | 'height'> {
  const covered = line.runs.filter(({ run, at }) => at < to && from < at + run.text.length)
  const edges = covered.map(({ run, at }) => {
    const letter = run.width / run.text.length
    const left = run.x + letter * Math.max(0, from - at)
    return { left, right: run.x + letter * Math.min(run.text.length, to - at), top: run.y, bottom: run.y + run.height }
  })
  const x = Math.min(...edges.map(one => one.left))
  const y = Math.min(...edges.map(one => one.top))
  return { x, y, width: Math.max(...edges.map(one => one.right)) - x, height: Math.max(...edges.map(one => one.bottom)) - y } // prettier-ignore
}
