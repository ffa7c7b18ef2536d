import { daysBetween, isDay } from '#core/calendar/days.ts'
import { currencies } from '#core/money/currency.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { PriceTier } from '#core/request/offer.ts'
import { UNITS } from '#core/units/units.ts'

/** Prices that hold all the time, by quantity. */
export interface TierPricing {
  readonly kind: 'tiers'
  readonly tiers: readonly PriceTier[]
}
/** Other prices from certain days on, each until the next. */
export interface PeriodPricing {
  readonly kind: 'periods'
  readonly periods: readonly { readonly from: string; readonly tiers: readonly PriceTier[] }[]
}
/** A price that follows an index: base × (fixed share + (1 − fixed share) × index ÷ index at the base), kept between the lowest and the highest. */
export interface IndexPricing {
  readonly kind: 'index'
  readonly index: string
  readonly basePrice: string
  /** Of 1. */
  readonly fixedShare: string
  readonly baseValue: string
  /** Empty: none. */
  readonly lowest: string
  readonly highest: string
}
export type Pricing = TierPricing | PeriodPricing | IndexPricing

export interface AgreementLine {
  readonly id: string
  /** An item of the catalogue; none: what the words say. */
  readonly itemId: string | null
  readonly description: string
  readonly category: string
  readonly unit: string
  readonly currency: string
  readonly pricing: Pricing
  readonly priceBase: string
  /** What it would cost without the agreement, for the same number of units; empty where nobody knows. */
  readonly listPrice: string
  readonly minimum: string
  readonly multiple: string
  readonly leadTimeDays: number
  /** Empty: as the agreement says. */
  readonly incoterm: string
  readonly incotermPlace: string
}

/** How much may be called off: of all, of a category or of one line; in money, in a quantity, or both. */
export interface Ceiling {
  readonly scope: 'whole' | 'category' | 'line'
  readonly category: string
  readonly lineId: string | null
  /** In the agreement's currency; empty: no limit in money. */
  readonly amount: string
  /** In the line's unit; empty: no limit in quantity. */
  readonly quantity: string
}

/** Who may call off; an empty list leaves it open to everybody. */
export interface Callers {
  readonly costCentres: readonly string[]
  readonly addressIds: readonly string[]
  readonly personIds: readonly string[]
}

/** What calling off above a ceiling does: it is stopped, or it wants a reason that is kept. */
export const WHEN_OVER = ['stop', 'check'] as const
export type WhenOver = (typeof WHEN_OVER)[number]

/** All that an agreement says. Each revision is one of these, whole. */
export interface AgreementContent {
  readonly title: string
  readonly currency: string
  readonly startsOn: string
  readonly endsOn: string
  /** Per cent of a ceiling from which its owner is warned. */
  readonly warnPercent: number
  readonly whenOver: WhenOver
  readonly ceilings: readonly Ceiling[]
  readonly callers: Callers
  readonly incoterm: string
  readonly incotermPlace: string
  readonly serviceLevel: string
  readonly terms: string
  readonly lines: readonly AgreementLine[]
}

const LONGEST = 3660
const above = (text: string, least: 0 | 1): boolean => isHeldDecimal(text) && new Decimal(text).comparedTo(0) >= least

/** Everything that is wrong with what an agreement would say; places are fields of it. */
export const whyNotContent = (content: AgreementContent): Reason[] => [
  ...headFaults(content),
  ...(content.lines.length === 0 ? [stop('agreement.noLines', {}, { place: 'lines' })] : []),
  ...content.lines.flatMap((line, at) => lineFaults(line, `lines.${at}`, content)),
  ...ceilingFaults(content),
]

function headFaults({ title, currency, startsOn, endsOn, warnPercent }: AgreementContent): Reason[] {
  const days = isDay(startsOn) && isDay(endsOn) ? daysBetween(startsOn, endsOn) : -1
  return [
    ...(title.trim() === '' ? [stop('agreement.noTitle', {}, { place: 'title' })] : []),
    ...(currencies.includes(currency) ? [] : [stop('money.unknownCurrency', { currency }, { place: 'currency' })]),
    ...(days < 0 || days > LONGEST ? [stop('agreement.days', { most: LONGEST }, { place: 'endsOn' })] : []),
    ...(warnPercent < 1 || warnPercent > 100 ? [stop('agreement.warn', {}, { place: 'warnPercent' })] : []),
  ]
}

function lineFaults(line: AgreementLine, place: string, content: AgreementContent): Reason[] {
  const named = { line: line.description }
  const fault = (code: string, field: string): Reason => stop(code, named, { place: `${place}.${field}` })
  return [
    ...(line.description.trim() === '' ? [fault('agreement.lineWords', 'description')] : []),
    ...(line.unit in UNITS ? [] : [stop('line.unit', { unit: line.unit }, { place: `${place}.unit` })]),
    ...(currencies.includes(line.currency)
      ? []
      : [stop('money.unknownCurrency', { currency: line.currency }, { place: `${place}.currency` })]),
    ...(above(line.priceBase, 1) ? [] : [fault('agreement.figure', 'priceBase')]),
    ...(above(line.minimum, 1) && above(line.multiple, 0) ? [] : [fault('agreement.figure', 'minimum')]),
    ...(line.listPrice === '' || above(line.listPrice, 0) ? [] : [fault('agreement.figure', 'listPrice')]),
    ...(Number.isInteger(line.leadTimeDays) && line.leadTimeDays >= 0
      ? []
      : [fault('agreement.figure', 'leadTimeDays')]),
    ...pricingFaults(line.pricing, fault, content),
  ]
}

function pricingFaults(
  pricing: Pricing,
  fault: (code: string, field: string) => Reason,
  { endsOn }: Pick<AgreementContent, 'endsOn'>,
): Reason[] {
  if (pricing.kind === 'tiers') return tiersHold(pricing.tiers) ? [] : [fault('agreement.tiers', 'pricing')]
  if (pricing.kind === 'periods') {
    const days = pricing.periods.map(one => one.from)
    const fine = days.length > 0 && days.every(isDay) && new Set(days).size === days.length
    return [
      ...(fine && pricing.periods.every(one => tiersHold(one.tiers)) ? [] : [fault('agreement.periods', 'pricing')]),
      ...(days.some(day => day > endsOn) ? [fault('agreement.periodAfter', 'pricing')] : []),
    ]
  }
  const { fixedShare, lowest, highest } = pricing
  const share = above(fixedShare, 0) && new Decimal(fixedShare).lte(1)
  const limits = [lowest, highest].every(one => one === '' || above(one, 0))
  const inOrder = lowest === '' || highest === '' || !limits || new Decimal(lowest).lte(highest)
  return pricing.index !== '' &&
    share &&
    limits &&
    inOrder &&
    above(pricing.basePrice, 0) &&
    above(pricing.baseValue, 1)
    ? []
    : [fault('agreement.index', 'pricing')]
}

/** At least one tier, each from another quantity, prices not below nothing. */
const tiersHold = (tiers: readonly PriceTier[]): boolean =>
  tiers.length > 0 &&
  tiers.every(tier => above(tier.from, 0) && above(tier.price, 0)) &&
  new Set(tiers.map(tier => new Decimal(tier.from).toString())).size === tiers.length

const scopeOf = (one: Ceiling): string => `${one.scope} ${one.category} ${one.lineId ?? ''}`

function ceilingFaults({ ceilings, lines }: AgreementContent): Reason[] {
  const ids = new Set(lines.map(line => line.id))
  const categories = new Set(lines.map(line => line.category))
  const known = (one: Ceiling): boolean =>
    one.scope === 'whole' ||
    (one.scope === 'category' ? categories.has(one.category) : one.lineId !== null && ids.has(one.lineId))
  const seen = new Set<string>()
  return ceilings.flatMap((one, at) => {
    const place = { place: `ceilings.${at}` }
    const twice = seen.has(scopeOf(one))
    seen.add(scopeOf(one))
    const figures = [one.amount, one.quantity].filter(text => text !== '')
    if (!known(one)) return [stop('agreement.ceilingOf', {}, place)]
    if (twice) return [stop('agreement.ceilingTwice', {}, place)]
    // quantities of different things do not add up
    if (one.quantity !== '' && one.scope !== 'line') return [stop('agreement.ceilingQuantity', {}, place)]
    return figures.length > 0 && figures.every(text => above(text, 1))
      ? []
      : [stop('agreement.ceilingFigure', {}, place)]
  })
}
