import { isDay } from '#core/calendar/days.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { gs1CheckDigit } from '#core/text/gs1.ts'
import { table } from '#core/text/table.ts'

/** What was scanned or typed: plain text, and what a GS1 symbol says beside. */
export interface Scan {
  /** As it is looked for: without blanks at its ends and without letter case. */
  readonly text: string
  readonly gtin?: string
  readonly sscc?: string
  readonly batch?: string
  readonly serial?: string
  readonly bestBefore?: string
  /** Pieces in it. */
  readonly count?: string
  /** The customer's order, as the supplier wrote it on the label. */
  readonly order?: string
  readonly reasons: readonly Reason[]
}

interface Identifier {
  readonly field: 'gtin' | 'sscc' | 'batch' | 'serial' | 'bestBefore' | 'count' | 'order' | 'other'
  readonly length: number
  /** Ends before its length, at a separator. */
  readonly variable: boolean
}
const fixed = (field: Identifier['field'], length: number): Identifier => ({ field, length, variable: false })
const upTo = (field: Identifier['field'], length: number): Identifier => ({ field, length, variable: true })

/** Application identifiers that are read (GS1 General Specifications, section 3); the others of a symbol are passed over where their length is known. */
const IDENTIFIERS: Readonly<Record<string, Identifier>> = table({
  '00': fixed('sscc', 18),
  '01': fixed('gtin', 14),
  '02': fixed('gtin', 14),
  '10': upTo('batch', 20),
  '11': fixed('other', 6),
  '13': fixed('other', 6),
  '15': fixed('bestBefore', 6),
  '16': fixed('other', 6),
  '17': fixed('bestBefore', 6),
  '20': fixed('other', 2),
  '21': upTo('serial', 20),
  '30': upTo('count', 8),
  '37': upTo('count', 8),
  '240': upTo('other', 30),
  '241': upTo('other', 30),
  '400': upTo('order', 30),
})
/** Weights, lengths and areas: four digits of identifier, six of value (3100 to 3699). */
const MEASURE = /^3[1-6]\d\d/
const SEPARATOR = '\u001d'
/** The symbology identifiers with which a scanner says that a symbol is GS1 (ISO/IEC 15424). */
const SYMBOLOGY = /^\](?:C1|e0|d2|Q3|J1)/

/**
 * Reads a scan. A GS1 element string is told by its symbology identifier, by brackets, or by a leading SSCC or GTIN whose check digit is right; its
 * elements are read by the General Specifications, dates by 7.12. Reasons: scan.checkDigit | scan.date | scan.cutOff | scan.unknown.
 *
 * readScan('(01)04012345678901(10)L7(17)270331(21)S9') //=> { gtin: '04012345678901', batch: 'L7', bestBefore: '2027-03-31', serial: 'S9', … }
 */
export function readScan(typed: string, today = '2026-01-01'): Scan {
  const text = typed.trim()
  const plain: Scan = { text: text.toLowerCase(), reasons: [] }
  if (SYMBOLOGY.test(text)) return elements(split(text.replace(SYMBOLOGY, '')), plain, today)
  if (/^\(\d{2,4}\)/.test(text)) return elements(bracketed(text), plain, today)
  if (/^\d+$/.test(text)) return digits(text, plain)
  if (
    text.includes(SEPARATOR) ||
    (/^0[012]\d{14}/.test(text) && checked(text.slice(2, text.startsWith('00') ? 20 : 16)))
  )
    return elements(split(text), plain, today)
  return plain
}

const checked = (code: string): boolean => gs1CheckDigit(code.slice(0, -1)) === code.at(-1)

/** Digits alone: a GTIN, an SSCC with or without its identifier, or a number of somebody's own. */
function digits(text: string, plain: Scan): Scan {
  if (text.length === 18 && checked(text)) return { ...plain, sscc: text }
  if (text.length === 20 && text.startsWith('00') && checked(text.slice(2))) return { ...plain, sscc: text.slice(2) }
  if (text.length === 16 && text.startsWith('01') && checked(text.slice(2))) return { ...plain, gtin: text.slice(2) }
  if (![8, 12, 13, 14].includes(text.length)) return plain
  return checked(text)
    ? { ...plain, gtin: text.padStart(14, '0') }
    : { ...plain, reasons: [stop('scan.checkDigit', { code: text })] }
}

type Element = { readonly id: string; readonly value: string } | { readonly wrong: Reason }

function bracketed(text: string): Element[] {
  return [...text.matchAll(/\((\d{2,4})\)([^(]*)/g)].map(([, id, value]) => ({
    id: id!,
    value: value!.replaceAll(SEPARATOR, ''),
  }))
}

function split(text: string): Element[] {
  const found: Element[] = []
  let rest = text
  while (rest !== '') {
    const id = [2, 3, 4].map(length => rest.slice(0, length)).find(one => one in IDENTIFIERS)
    if (!id && !MEASURE.test(rest)) return [...found, { wrong: stop('scan.unknown', { code: rest.slice(0, 4) }) }]
    const known = id ? IDENTIFIERS[id]! : fixed('other', 6)
    const start = id ? id.length : 4
    const end = rest.indexOf(SEPARATOR, start)
    const value = rest.slice(start, known.variable ? (end < 0 ? undefined : end) : start + known.length)
    found.push({ id: id ?? rest.slice(0, 4), value })
    rest = rest.slice(start + value.length)
    if (rest.startsWith(SEPARATOR)) rest = rest.slice(1)
  }
  return found
}

function elements(found: readonly Element[], plain: Scan, today: string): Scan {
  const scan: Record<string, unknown> = {}
  const reasons: Reason[] = []
  for (const element of found) {
    if ('wrong' in element) {
      reasons.push(element.wrong)
      continue
    }
    const { id, value } = element
    const known = IDENTIFIERS[id]
    if (!known || known.field === 'other') continue
    if (known.variable ? value === '' || value.length > known.length : value.length !== known.length) {
      reasons.push(stop('scan.cutOff', { code: id, value }))
    } else if (known.field === 'gtin' || known.field === 'sscc') {
      if (/^\d+$/.test(value) && checked(value)) scan[known.field] = value
      else reasons.push(stop('scan.checkDigit', { code: value }))
    } else if (known.field === 'bestBefore') {
      const day = dayOf(value, today)
      if (day) scan.bestBefore = day
      else reasons.push(stop('scan.date', { code: value }))
    } else if (known.field === 'count') scan.count = /^\d+$/.test(value) ? String(Number(value)) : undefined
    else scan[known.field] = value
  }
  return { ...plain, ...(Object.keys(scan).length > 0 ? scan : {}), reasons }
}

const CENTURY = 100
/** A date of six digits: the century by GS1 7.12 (no more than 49 years ahead, no more than 50 back); day 00 is the last of the month. */
function dayOf(value: string, today: string): string | null {
  if (!/^\d{6}$/.test(value)) return null
  const [year, month, day] = [value.slice(0, 2), value.slice(2, 4), value.slice(4)].map(Number) as [
    number,
    number,
    number,
  ]
  const now = Number(today.slice(0, 4))
  const near = now - (now % CENTURY) + year
  const full = near - now >= 50 ? near - CENTURY : near - now <= -51 ? near + CENTURY : near
  const last = month >= 1 && month <= 12 ? new Date(Date.UTC(full, month, 0)).getUTCDate() : 0
  const text = `${full}-${String(month).padStart(2, '0')}-${String(day === 0 ? last : day).padStart(2, '0')}`
  return isDay(text) ? text : null
}

/** What an expected line can be found by. */
export interface Findable {
  readonly order: string
  readonly supplier: string
  readonly description: string
  readonly item: string
  readonly supplierItem: string
  readonly makerNumber: string
  readonly gtins: readonly string[]
  readonly tracking: readonly string[]
  readonly ssccs: readonly string[]
}

/** How well a scan means a line: 2 by a number of its own, 1 by words in it, 0 not at all. */
export function means(scan: Scan, line: Findable): 0 | 1 | 2 {
  if (scan.gtin !== undefined) return line.gtins.some(code => code.padStart(14, '0') === scan.gtin) ? 2 : 0
  if (scan.sscc !== undefined) return line.ssccs.includes(scan.sscc) ? 2 : 0
  const own = [line.order, line.item, line.supplierItem, line.makerNumber, ...line.tracking]
  if (scan.order !== undefined) return line.order.toLowerCase() === scan.order.toLowerCase() ? 2 : 0
  if (scan.text === '') return 0
  if (own.some(number => number !== '' && number.toLowerCase() === scan.text)) return 2
  return `${line.order} ${line.supplier} ${line.description} ${line.item}`.toLowerCase().includes(scan.text) ? 1 : 0
}

/** The lines that a scan means: by their numbers where any is, else by words. */
export function meant<L extends Findable>(scan: Scan, lines: readonly L[]): L[] {
  const judged = lines.map(line => ({ line, how: means(scan, line) })).filter(one => one.how > 0)
  const exact = judged.filter(one => one.how === 2)
  return (exact.length > 0 ? exact : judged).map(one => one.line)
}
