import { Decimal } from '#core/money/decimal.ts'
import { currencies } from '#core/money/currency.ts'
import { isDay } from '#core/calendar/days.ts'
import type { Packing } from '#core/build/offers.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Whom a part is bought from: cheapest among the preferred suppliers, cheapest of all, whoever delivers first, with as few suppliers as can be, or whoever scores best. */
export const POLICIES = ['preferred', 'cheapest', 'earliest', 'fewest', 'bestScore'] as const
export type Policy = (typeof POLICIES)[number]
/** When another item that is approved for a line may take its place: never, where the first cannot be had, or wherever it is cheaper. */
export const ALTERNATE_RULES = ['never', 'whereMissing', 'whereCheaper'] as const
export type AlternateRule = (typeof ALTERNATE_RULES)[number]

/** What is spoilt: so many per cent of the need, and so many more once. */
export interface Wastage {
  readonly percent: string
  readonly pieces: string
}

/** Limits for where offers may come from. */
export interface Limits {
  readonly policy: Policy
  /** Suppliers in the order in which they are preferred. */
  readonly preferred: readonly string[]
  /** ISO 3166-1 codes; none: from everywhere. */
  readonly countries: readonly string[]
  readonly packing: Packing | 'any'
  /** Whether more than the need may be bought. */
  readonly excess: boolean
  /** Only what the supplier has lying there. */
  readonly stockedOnly: boolean
  /** The day by which all has to be in; empty: whenever. */
  readonly inBy: string
  readonly wastage: Wastage
}

/** How a build is costed, for the whole of it. */
export interface BuildSettings extends Limits {
  readonly builds: number
  readonly currency: string
  /** Wastage by category of goods, where it is another than the one for all. */
  readonly wastageByCategory: Readonly<Record<string, Wastage>>
  readonly alternates: AlternateRule
  /** Whether what lies in the house is used first. */
  readonly ownStock: boolean
}

/** What is said for one part alone; the rest is as for the whole. */
export interface PartSettings extends Partial<Omit<Limits, 'wastage'>> {
  readonly wastage?: Wastage
  /** The offer chosen by hand; it is kept when things change. */
  readonly offerId?: string
  /** The item taken in place of the line's own. */
  readonly itemId?: string
  /** What lies in the house of it, in its own unit. */
  readonly onHand?: string
  /** Items approved to take its place, the first preferred. */
  readonly alternates?: readonly string[]
  /** An assembly that is bought whole, not made of its parts; or one that is said to be made. */
  readonly made?: boolean
}

export const NO_WASTAGE: Wastage = { percent: '0', pieces: '0' }
/** Builds that one costing can be for, and how far its curve goes. */
export const MOST_BUILDS = 1_000_000_000
export const MOST_ON_CURVE = 2000

/** What a new costing begins with. */
export const firstSettings = (currency: string): BuildSettings => ({
  builds: 1,
  currency,
  policy: 'cheapest',
  preferred: [],
  countries: [],
  packing: 'any',
  excess: true,
  stockedOnly: false,
  inBy: '',
  wastage: NO_WASTAGE,
  wastageByCategory: {},
  alternates: 'whereMissing',
  ownStock: true,
})

const MOST_PERCENT = 1000
const wastageFaults = ({ percent, pieces }: Wastage, place: string): Reason[] => [
  ...(between(percent, MOST_PERCENT)
    ? []
    : [stop('build.percent', { most: MOST_PERCENT }, { place: `${place}.percent` })]),
  ...(between(pieces, MOST_BUILDS) ? [] : [stop('build.notBelowZero', {}, { place: `${place}.pieces` })]),
]
const between = (text: string, most: number): boolean => {
  const figure = new Decimal(text || '0')
  return figure.gte(0) && figure.lte(most)
}

/** Why a build cannot be costed so; nothing where it can. */
export function whyNotSettings(settings: BuildSettings): Reason[] {
  const { builds, currency, inBy, wastage, wastageByCategory } = settings
  return [
    ...(Number.isInteger(builds) && builds >= 1 && builds <= MOST_BUILDS
      ? []
      : [stop('build.builds', { most: MOST_BUILDS }, { place: 'builds' })]),
    ...(currencies.includes(currency) ? [] : [stop('money.unknownCurrency', { currency }, { place: 'currency' })]),
    ...(inBy === '' || isDay(inBy) ? [] : [stop('build.day', {}, { place: 'inBy' })]),
    ...wastageFaults(wastage, 'wastage'),
    ...Object.entries(wastageByCategory).flatMap(([category, one]) =>
      wastageFaults(one, `wastageByCategory.${category}`),
    ),
  ]
}

/** Limits of a part: what is said for it alone, else what is said for the whole; wastage by its category before the one for all. */
export const limitsOf = (settings: BuildSettings, part: PartSettings | undefined, category: string): Limits => ({
  policy: part?.policy ?? settings.policy,
  preferred: part?.preferred ?? settings.preferred,
  countries: part?.countries ?? settings.countries,
  packing: part?.packing ?? settings.packing,
  excess: part?.excess ?? settings.excess,
  stockedOnly: part?.stockedOnly ?? settings.stockedOnly,
  inBy: part?.inBy ?? settings.inBy,
  wastage: part?.wastage ?? settings.wastageByCategory[category] ?? settings.wastage,
})
