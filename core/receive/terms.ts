import { type Reason, stop } from '#core/reasons.ts'
import type { Aql } from '#core/receive/sampling.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'

/** What goods become once they are counted; work is accepted instead. */
export const BECOMES = ['counted', 'stock', 'asset'] as const
export type Becomes = (typeof BECOMES)[number]

/** Whether something is asked for when goods are counted. */
export const ASKED = ['no', 'may', 'must'] as const
export type Asked = (typeof ASKED)[number]

/** Which of what comes in is inspected. */
export const INSPECTED = ['none', 'all', 'sample', 'first'] as const
export type Inspected = (typeof INSPECTED)[number]

/** Something that is measured, or judged by looking, where goods are inspected. */
export interface Characteristic {
  readonly name: string
  /** Empty: it passes or it fails. */
  readonly unit: string
  /** Limits, both included; empty where there is none. */
  readonly low: string
  readonly high: string
}

/** How goods are received. */
export interface ReceivingTerms {
  readonly becomes: Becomes
  /** Per cent of the ordered quantity that may come above it; null: as the supplier's. */
  readonly overPercent: number | null
  readonly serial: Asked
  readonly batch: Asked
  readonly bestBefore: Asked
  /** What is expected is hidden from who counts, and a count that differs is counted a second time. */
  readonly blind: boolean
  readonly inspect: Inspected
  /** How good a sample has to be: the acceptance quality limit of ISO 2859-1, in per cent. */
  readonly aql: Aql
  readonly characteristics: readonly Characteristic[]
  /** Bills wait until what came has passed its inspection. */
  readonly billsWait: boolean
  /** Months from the day of receipt; 0: none. */
  readonly warrantyMonths: number
  readonly serviceMonths: number
  /** Code of the range that tags are taken from; empty: of any. */
  readonly tagRange: string
}

export const USUAL_TERMS: ReceivingTerms = {
  becomes: 'counted',
  overPercent: null,
  serial: 'no',
  batch: 'no',
  bestBefore: 'no',
  blind: false,
  inspect: 'none',
  aql: '1.0',
  characteristics: [],
  billsWait: true,
  warrantyMonths: 0,
  serviceMonths: 0,
  tagRange: '',
}
export const TERM_KEYS = Object.keys(USUAL_TERMS) as (keyof ReceivingTerms)[]

/** What is said at one place: on a line, an item, a category. */
export interface TermLevel {
  readonly from: 'line' | 'item' | 'category'
  readonly name: string
  readonly terms: Partial<ReceivingTerms>
}
export interface EffectiveTerms {
  readonly terms: ReceivingTerms
  /** Where each of them that is not the usual one is said. */
  readonly from: Partial<Record<keyof ReceivingTerms, string>>
}

/**
 * The terms that hold, each from the first level that says it: a line's own before its item's, that before its category's and those above it.
 *
 * effectiveTerms([{ from: 'item', name: 'Dive set', terms: { becomes: 'asset' } }]).terms.becomes //=> 'asset'
 */
export function effectiveTerms(levels: readonly TermLevel[]): EffectiveTerms {
  const from: Partial<Record<keyof ReceivingTerms, string>> = {}
  const said: Partial<ReceivingTerms>[] = []
  for (const key of TERM_KEYS) {
    const level = levels.find(one => one.terms[key] !== undefined)
    if (!level) continue
    said.push({ [key]: level.terms[key] })
    from[key] = level.name
  }
  return { terms: Object.assign({}, USUAL_TERMS, ...said) as ReceivingTerms, from }
}

/** The per cent that may come above what is ordered: of the terms, else what the order's line has from its supplier. */
export const overPercent = (terms: Pick<ReceivingTerms, 'overPercent'>, ofLine: number): number =>
  terms.overPercent ?? ofLine

/** What is wrong with terms as somebody writes them down. */
export function whyNotTerms(terms: Partial<ReceivingTerms>): Reason[] {
  const names = (terms.characteristics ?? []).map(one => one.name.trim())
  return (terms.characteristics ?? []).flatMap((one, index): Reason[] => {
    const place = { place: `receiving.characteristics.${index}` }
    if (names[index] === '' || names.indexOf(names[index]!) !== index) return [stop('terms.characteristic', {}, place)]
    const limits = [one.low, one.high].filter(text => text !== '')
    if (limits.some(text => !isHeldDecimal(text))) return [stop('terms.limit', {}, place)]
    return one.low !== '' && one.high !== '' && new Decimal(one.low).gt(one.high)
      ? [stop('terms.limits', {}, place)]
      : []
  })
}
