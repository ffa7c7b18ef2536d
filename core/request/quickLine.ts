import { currencies } from '#core/money/currency.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { readDay } from '#core/request/quickDates.ts'
import {
  NUMBER_PATTERN,
  NUMBER_WORD_PATTERN,
  numberReadings,
  UNIT_PATTERN,
  unitOf,
} from '#core/request/quickNumbers.ts'
import { table } from '#core/text/table.ts'

export const QUICK_PARTS = ['quantity', 'item', 'place', 'date', 'account', 'project', 'supplier', 'price'] as const
export type QuickPartKind = (typeof QUICK_PARTS)[number]

/** One meaning of a part. `unit` and `currency` where they were said; `item` where this meaning leaves other words to the item. */
export interface QuickReading {
  readonly value: string
  readonly unit?: string
  readonly currency?: string
  readonly item?: string
}
export interface QuickPart {
  readonly kind: QuickPartKind
  /** What was typed. */
  readonly text: string
  /** One: understood. Several: the person chooses. None: it is no such thing, and a reason says why. */
  readonly readings: readonly QuickReading[]
  /** Not said; taken because something has to stand there, and shown as such. */
  readonly assumed?: boolean
}
export interface QuickLine {
  readonly text: string
  readonly parts: readonly QuickPart[]
  readonly reasons: readonly Reason[]
}

interface Span {
  readonly from: number
  readonly to: number
  readonly part: QuickPart
}

const ACCOUNT = /(?:\bon\s+|\baccount\s+)?\b([A-Z]{2}-\d{3})\s*\/\s*(\d{4})\b/iu
const PROJECT = /(?:(?:\bfor\s+)?\bproject\s+|#)([A-Z][A-Z0-9]*-[A-Z0-9]+)\b/iu
const CURRENCY = `(?:${currencies.join('|')}|€|£|\\$)`
const PRICE = new RegExp(
  `(?:\\bat|@|\\bfor)\\s*(?:(${CURRENCY})\\s*(${NUMBER_PATTERN})|(${NUMBER_PATTERN})\\s*(${CURRENCY})?)(?:\\s*(?:each|a piece|per \\p{L}+))?(?![\\p{L}\\d])`,
  'iu',
)
const DATE_MARK = /\b(?:needed by|by|before|until|no later than)\s+/giu
const SIGNS: Readonly<Record<string, string>> = table({ '€': 'EUR', '£': 'GBP', $: 'USD' })
/** Words that begin a part whose end is the next part: a place or a supplier. */
const WORDS = { place: /\b(?:delivered to|deliver to|to)\s+(?!\d)/iu, supplier: /\bfrom\s+(?!\d)/iu } as const

/** Letters of one line. What is longer is no line that a person wrote, and reading it takes time that grows with its square. */
const MOST_LETTERS = 1000

const tooLong = (text: string): QuickLine => ({
  text: text.slice(0, MOST_LETTERS),
  parts: [{ kind: 'quantity', text: '', readings: [{ value: '1' }], assumed: true }],
  reasons: [stop('quick.tooLong', { limit: MOST_LETTERS })],
})

/**
 * Reads one line as people write what they need: `12 x sea salt 25 kg to Fennick by 4 Dec on LS-210/6020`. Parts may stand in any
 * order; what begins no part is the item. What may mean several things comes back with all its meanings, never with a silent guess;
 * a part that was not said but is needed (the quantity) is marked as assumed. Items, places and suppliers are words here: whoever
 * knows the catalogue resolves them.
 *
 * Grammar: `QUANTITY ITEM`, with `to PLACE`, `by DAY`, `on ACCOUNT`, `#PROJECT` or `project PROJECT`, `from SUPPLIER`, `at PRICE`.
 */
export function readQuickLine(text: string, today: string): QuickLine {
  if (text.length > MOST_LETTERS) return tooLong(text)
  const reasons: Reason[] = []
  const spans: Span[] = [
    ...accountSpan(text),
    ...projectSpan(text),
    ...dateSpan(text, today, reasons),
    ...priceSpan(text, reasons),
  ]
  spans.push(...wordSpans(text, spans))
  const rest = without(text, spans)
  const { quantity, item } = splitQuantity(rest, reasons)
  if (item === '') reasons.push(stop('quick.noItem'))
  const parts = [
    quantity,
    ...(item === '' ? [] : [{ kind: 'item' as const, text: item, readings: [{ value: item }] }]),
    ...[...spans].sort((a, b) => a.from - b.from).map(span => span.part),
  ]
  return { text, parts, reasons }
}

const found = (kind: QuickPartKind, match: RegExpExecArray, readings: readonly QuickReading[]): Span => ({
  from: match.index,
  to: match.index + match[0].length,
  part: { kind, text: match[0].trim(), readings },
})

function accountSpan(text: string): Span[] {
  const match = ACCOUNT.exec(text)
  return match ? [found('account', match, [{ value: `${match[1]!.toUpperCase()}/${match[2]}` }])] : []
}

function projectSpan(text: string): Span[] {
  const match = PROJECT.exec(text)
  return match ? [found('project', match, [{ value: match[1]!.toUpperCase() }])] : []
}

/** The last "by …" that is followed by a day. */
function dateSpan(text: string, today: string, reasons: Reason[]): Span[] {
  for (const mark of [...text.matchAll(DATE_MARK)].reverse()) {
    const start = mark.index + mark[0].length
    const read = readDay(text.slice(start), today)
    if (!read) continue
    const said = text.slice(mark.index, start + read.length)
    if (read.days.length === 0)
      reasons.push(stop('quick.noSuchDay', { text: text.slice(start, start + read.length) }, { place: 'date' }))
    return [
      {
        from: mark.index,
        to: start + read.length,
        part: { kind: 'date', text: said, readings: read.days.map(value => ({ value })) },
      },
    ]
  }
  return []
}

function priceSpan(text: string, reasons: Reason[]): Span[] {
  const match = PRICE.exec(text)
  if (!match) return []
  const sign = match[1] ?? match[4]
  if (!sign && /^for/i.test(match[0])) return []
  const currency = sign === undefined ? undefined : (SIGNS[sign] ?? sign.toUpperCase())
  const readings = numberReadings(match[2] ?? match[3] ?? '').map(value => ({
    value,
    ...(currency ? { currency } : {}),
  }))
  if (readings.length === 0) reasons.push(stop('quick.notANumber', { text: match[0].trim() }, { place: 'price' }))
  return [found('price', match, readings)]
}

/** A place after the last "to", a supplier after the last "from": each as far as the next part. */
function wordSpans(text: string, taken: readonly Span[]): Span[] {
  const spans: Span[] = []
  for (const kind of ['place', 'supplier'] as const) {
    const marks = [...text.matchAll(new RegExp(WORDS[kind], 'giu'))].filter(
      mark => !taken.some(span => mark.index >= span.from && mark.index < span.to),
    )
    const mark = marks.at(-1)
    if (!mark) continue
    const start = mark.index + mark[0].length
    const others = [
      ...taken.map(span => span.from),
      ...(['place', 'supplier'] as const)
        .filter(one => one !== kind)
        .flatMap(one => [...text.matchAll(new RegExp(WORDS[one], 'giu'))].map(other => other.index)),
    ]
    const end = Math.min(text.length, ...others.filter(from => from > start))
    const value = text.slice(start, end).replace(/[\s,;]+$/, '')
    if (value !== '')
      spans.push({
        from: mark.index,
        to: end,
        part: { kind, text: text.slice(mark.index, end).trim(), readings: [{ value }] },
      })
  }
  return spans
}

function without(text: string, spans: readonly Span[]): string {
  let rest = ''
  for (let at = 0; at < text.length; at++) rest += spans.some(span => at >= span.from && at < span.to) ? ' ' : text[at]
  return rest
    .replace(/\s+/g, ' ')
    .replace(/\s+([,;])/g, '$1')
    .replace(/^[\s,;]+|[\s,;]+$/g, '')
}

const TIMES = new RegExp(`^(-?(?:${NUMBER_PATTERN})|${NUMBER_WORD_PATTERN})\\s*(?:x|×|\\*)\\s*(?=\\S)`, 'iu')
const MEASURED = new RegExp(`^(-?(?:${NUMBER_PATTERN})|${NUMBER_WORD_PATTERN})\\s*(${UNIT_PATTERN})\\s*(of\\s+)?`, 'iu')
const COUNTED = new RegExp(`^(-?(?:${NUMBER_PATTERN})|(?:${NUMBER_WORD_PATTERN})(?=\\s))\\s+(?:of\\s+)?(?=\\S)`, 'iu')
const AFTER = new RegExp(
  `[\\s,]+(?:(?:x|×|\\*)\\s*(${NUMBER_PATTERN})|(${NUMBER_PATTERN})\\s*(?:x|×|pcs|pieces))$`,
  'iu',
)
const ENDING = new RegExp(`[\\s,]+(${NUMBER_PATTERN})\\s*(${UNIT_PATTERN})$`, 'iu')

/** The quantity in what is left, and the item without it. */
function splitQuantity(rest: string, reasons: Reason[]): { quantity: QuickPart; item: string } {
  const times = TIMES.exec(rest)
  if (times)
    return { quantity: quantityPart(times[0], times[1]!, undefined, reasons), item: rest.slice(times[0].length).trim() }
  const measured = MEASURED.exec(rest)
  if (measured) return measuredPart(rest, measured, reasons)
  const after = AFTER.exec(rest)
  if (after)
    return {
      quantity: quantityPart(after[0], after[1] ?? after[2]!, undefined, reasons),
      item: rest.slice(0, after.index).trim(),
    }
  const counted = COUNTED.exec(rest)
  if (counted)
    return {
      quantity: quantityPart(counted[0], counted[1]!, undefined, reasons),
      item: rest.slice(counted[0].length).trim(),
    }
  const ending = ENDING.exec(rest)
  if (ending) return endingPart(rest, ending, reasons)
  return { quantity: { kind: 'quantity', text: '', readings: [{ value: '1' }], assumed: true }, item: rest }
}

function quantityPart(text: string, number: string, unit: string | undefined, reasons: Reason[]): QuickPart {
  const readings = (number.startsWith('-') ? [] : numberReadings(number))
    .filter(value => Number(value) > 0)
    .map(value => ({ value, ...(unit ? { unit } : {}) }))
  if (readings.length === 0) reasons.push(stop('quick.quantity', { text: text.trim() }, { place: 'quantity' }))
  return { kind: 'quantity', text: text.trim(), readings }
}

/** "25 kg of krill" is a quantity; "32 mm ball valve" may also be one valve: unless "of" was said, both are offered. */
function measuredPart(rest: string, match: RegExpExecArray, reasons: Reason[]): { quantity: QuickPart; item: string } {
  const item = rest.slice(match[0].length).trim()
  const part = quantityPart(match[0], match[1]!, unitOf(match[2]!), reasons)
  const size = ['MMT', 'MTR', 'MLT', 'GRM'].includes(unitOf(match[2]!) ?? '') && !match[3] && item !== ''
  return { quantity: size ? { ...part, readings: [...part.readings, { value: '1', item: rest }] } : part, item }
}

/** "sea salt 25 kg" may be twenty-five kilograms, or one bag of that size. */
function endingPart(rest: string, match: RegExpExecArray, reasons: Reason[]): { quantity: QuickPart; item: string } {
  const item = rest.slice(0, match.index).trim()
  const part = quantityPart(match[0], match[1]!, unitOf(match[2]!), reasons)
  return { quantity: { ...part, readings: [...part.readings, { value: '1', item: rest }] }, item }
}

/** Lines of a pasted block that say something; numbered marks and bullets at their beginning are left out. */
export const quickLines = (block: string): string[] =>
  block
    .split(/\r?\n/)
    .map(line =>
      line
        .replace(/\t+/g, ' ')
        .replace(/^\s*(?:[-•*–]|\d{1,3}[.)])\s+/, '')
        .trim(),
    )
    .filter(line => line !== '')
