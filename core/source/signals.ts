import { addDays } from '#core/calendar/days.ts'
import { Decimal, sumDecimals } from '#core/money/decimal.ts'

export const SIGNAL_KEYS = [
  'onTimeInFull',
  'promiseKept',
  'priceOnLastYear',
  'priceAgainstOthers',
  'answerRate',
  'disputeRate',
  'returnRate',
  'repeatOrders',
  'certificates',
  'dependence',
  'soleSource',
  'identityAndBank',
] as const
export type SignalKey = (typeof SIGNAL_KEYS)[number]

/** `atLeast`: good from the threshold up · `atMost`: good up to the threshold. */
export interface SignalRule {
  readonly direction: 'atLeast' | 'atMost'
  readonly unit: 'percent' | 'count'
  readonly threshold: string
  /** Whether the figure is a share of entries (good ones among all) or given with each entry. */
  readonly counts: 'share' | 'mean' | 'number' | 'bad'
}
/** Thresholds of the house; a category may set its own. */
export const SIGNAL_RULES: Readonly<Record<SignalKey, SignalRule>> = {
  onTimeInFull: { direction: 'atLeast', unit: 'percent', threshold: '90', counts: 'share' },
  promiseKept: { direction: 'atLeast', unit: 'percent', threshold: '90', counts: 'share' },
  priceOnLastYear: { direction: 'atMost', unit: 'percent', threshold: '4', counts: 'mean' },
  priceAgainstOthers: { direction: 'atMost', unit: 'percent', threshold: '3', counts: 'mean' },
  answerRate: { direction: 'atLeast', unit: 'percent', threshold: '80', counts: 'share' },
  disputeRate: { direction: 'atMost', unit: 'percent', threshold: '10', counts: 'bad' },
  returnRate: { direction: 'atMost', unit: 'percent', threshold: '3', counts: 'bad' },
  repeatOrders: { direction: 'atLeast', unit: 'count', threshold: '2', counts: 'number' },
  certificates: { direction: 'atMost', unit: 'count', threshold: '0', counts: 'bad' },
  dependence: { direction: 'atMost', unit: 'percent', threshold: '60', counts: 'mean' },
  soleSource: { direction: 'atMost', unit: 'count', threshold: '10', counts: 'bad' },
  identityAndBank: { direction: 'atMost', unit: 'count', threshold: '0', counts: 'bad' },
}

/** Signals whose entries say how things stand today, not when something happened. */
const STANDING: ReadonlySet<SignalKey> = new Set([
  'priceAgainstOthers',
  'certificates',
  'dependence',
  'soleSource',
  'identityAndBank',
])

/** One thing behind a figure: an order line that came on time or not, an invoice with or without a dispute, a price against another. */
export interface SignalEntry {
  readonly on: string
  readonly good: boolean
  readonly kind: string
  readonly id: string
  readonly number: string
  /** For means: its value in per cent; else what is said about it. */
  readonly value: string
  /** How much it counts in a mean; '1' otherwise. */
  readonly weight: string
}
export interface Signal {
  readonly key: SignalKey
  /** Null when nothing is behind it. */
  readonly figure: string | null
  readonly from: string
  readonly to: string
  readonly threshold: string
  readonly tone: 'good' | 'bad' | 'none'
  /** Whether it was good a quarter ago and is bad now. What only says how things stand today never turns. */
  readonly turned: boolean
  /** Oldest quarter first; null where a quarter has no entries. */
  readonly trend: readonly { readonly until: string; readonly figure: string | null }[]
  readonly entries: readonly SignalEntry[]
}

/** Days that a signal looks back over. */
export const SIGNAL_DAYS = 365
const QUARTERS = 6
const QUARTER_DAYS = 91

/**
 * A signal from its entries: the figure over the last 365 days, whether it is on the good side of its threshold, and the figure of each of
 * the last six quarters (91 days). It has turned where the same figure, as it was 91 days ago, was good and now is not. Percentages are
 * rounded to one digit, half away from zero; counts are whole.
 */
export function signalOf(
  key: SignalKey,
  entries: readonly SignalEntry[],
  today: string,
  threshold: string = SIGNAL_RULES[key].threshold,
): Signal {
  const rule = SIGNAL_RULES[key]
  const from = addDays(today, -SIGNAL_DAYS)
  const upTo = (day: string): SignalEntry[] =>
    entries.filter(entry => entry.on > addDays(day, -SIGNAL_DAYS) && entry.on <= day)
  const within = upTo(today)
  const figure = figureOf(rule, within)
  const tone = toneOf(rule, figure, threshold)
  const trend = Array.from({ length: QUARTERS }, (_, index) => {
    const until = addDays(today, -QUARTER_DAYS * (QUARTERS - 1 - index))
    const start = addDays(until, -QUARTER_DAYS)
    return {
      until,
      figure: figureOf(
        rule,
        entries.filter(entry => entry.on > start && entry.on <= until),
      ),
    }
  })
  return {
    key,
    figure,
    from: addDays(from, 1),
    to: today,
    threshold,
    tone,
    turned:
      tone === 'bad' &&
      !STANDING.has(key) &&
      toneOf(rule, figureOf(rule, upTo(addDays(today, -QUARTER_DAYS))), threshold) === 'good',
    trend,
    entries: [...within].sort((a, b) => Number(a.good) - Number(b.good) || (a.on < b.on ? 1 : -1)),
  }
}

function toneOf({ direction }: SignalRule, figure: string | null, threshold: string): Signal['tone'] {
  if (figure === null) return 'none'
  const good = direction === 'atLeast' ? new Decimal(figure).gte(threshold) : new Decimal(figure).lte(threshold)
  return good ? 'good' : 'bad'
}

function figureOf(rule: SignalRule, entries: readonly SignalEntry[]): string | null {
  if (rule.unit === 'count')
    return String(rule.counts === 'number' ? entries.length : entries.filter(entry => !entry.good).length)
  if (entries.length === 0) return null
  if (rule.counts === 'mean') {
    const weights = entries.reduce((sum, entry) => sum.plus(entry.weight), new Decimal(0))
    if (weights.isZero()) return null
    return entries
      .reduce((sum, entry) => sum.plus(new Decimal(entry.value).times(entry.weight)), new Decimal(0))
      .dividedBy(weights)
      .toDecimalPlaces(1)
      .toString()
  }
  const counted = entries.filter(entry => (rule.counts === 'share') === entry.good).length
  return new Decimal(counted * 100).dividedBy(entries.length).toDecimalPlaces(1).toString()
}

/** The strictest of the thresholds that a supplier's categories set, or the house's. */
export function thresholdOf(key: SignalKey, categories: readonly Readonly<Record<string, string>>[]): string {
  const set = categories.map(one => one[key]).filter(value => value !== undefined && value !== '')
  if (set.length === 0) return SIGNAL_RULES[key].threshold
  const sorted = set.map(value => new Decimal(value!)).sort((a, b) => a.cmp(b))
  return (SIGNAL_RULES[key].direction === 'atLeast' ? sorted.at(-1)! : sorted[0]!).toString()
}

/** A line that was due: on time and in full when all of it had come by the day. */
export function cameInTime(
  due: string,
  quantity: string,
  receipts: readonly { readonly on: string; readonly quantity: string }[],
): boolean {
  const inTime = receipts
    .filter(receipt => receipt.on <= due)
    .reduce((sum, receipt) => sum.plus(receipt.quantity), new Decimal(0))
  return inTime.gte(quantity)
}

/** The mean of some values, at least one, with six digits. meanOf(['1', '2']) //=> '1.5' */
export const meanOf = (values: readonly string[]): string =>
  sumDecimals(values).dividedBy(values.length).toDecimalPlaces(6, Decimal.ROUND_HALF_UP).toString()

/** A part of a whole above zero, in per cent with one digit. shareOf('1', '3') //=> '33.3' */
export const shareOf = (part: string, whole: string): string =>
  new Decimal(part).times(100).dividedBy(whole).toFixed(1, Decimal.ROUND_HALF_UP)

/** How much dearer `now` is than `before`, in per cent with one digit; null where there is nothing to compare. dearerBy('11', '10') //=> '10' */
export function dearerBy(now: string, before: string): string | null {
  if (new Decimal(before).lte(0)) return null
  return new Decimal(now).minus(before).times(100).dividedBy(before).toDecimalPlaces(1).toString()
}
