import type { AgreementContent, AgreementLine, Ceiling, Pricing } from '#core/agreements/content.ts'
import { sameDecimal } from '#core/money/decimal.ts'
import type { PriceTier } from '#core/request/offer.ts'

/** Something that two revisions say differently; `of`: the line or ceiling, empty for the whole. */
export interface ContentDifference {
  readonly field: string
  readonly of: string
  readonly before: string
  readonly after: string
}

const HEAD = [
  'title',
  'currency',
  'startsOn',
  'endsOn',
  'whenOver',
  'incoterm',
  'incotermPlace',
  'serviceLevel',
  'terms',
] as const
const LINE = ['description', 'category', 'unit', 'currency', 'incoterm', 'incotermPlace'] as const
const FIGURES = ['priceBase', 'listPrice', 'minimum', 'multiple'] as const

const tiersText = (tiers: readonly PriceTier[]): string =>
  tiers.length === 1 ? tiers[0]!.price : tiers.map(tier => `${tier.price} (${tier.from}+)`).join(', ')

/** Prices in a few words. pricingText({ kind: 'tiers', tiers: [{ from: '0', price: '4.2' }] }) //=> '4.2' */
export function pricingText(pricing: Pricing): string {
  if (pricing.kind === 'tiers') return tiersText(pricing.tiers)
  if (pricing.kind === 'periods') return pricing.periods.map(one => `${one.from}: ${tiersText(one.tiers)}`).join('; ')
  const { basePrice, fixedShare, index, baseValue, lowest, highest } = pricing
  return [`${basePrice} × (${fixedShare} + rest × ${index} / ${baseValue})`, lowest && `≥ ${lowest}`, highest && `≤ ${highest}`].filter(Boolean).join(', ') // prettier-ignore
}

const ceilingKey = (one: Ceiling): string => `${one.scope} ${one.category} ${one.lineId ?? ''}`
const ceilingText = (one: Ceiling | undefined): string => [one?.amount, one?.quantity].filter(Boolean).join(' / ')

/** What two revisions say differently, the head first, then line by line. */
export function contentDifferences(before: AgreementContent, after: AgreementContent): ContentDifference[] {
  const named = new Map([...before.lines, ...after.lines].map(line => [line.id, line.description]))
  const ceilingName = (one: Ceiling): string =>
    one.scope === 'whole' ? '' : one.scope === 'category' ? one.category : (named.get(one.lineId ?? '') ?? '')
  const old = new Map(before.ceilings.map(one => [ceilingKey(one), one]))
  const now = new Map(after.ceilings.map(one => [ceilingKey(one), one]))
  return [
    ...HEAD.filter(field => before[field] !== after[field]).map(field => said(field, '', before[field], after[field])),
    ...(before.warnPercent === after.warnPercent
      ? []
      : [said('warnPercent', '', String(before.warnPercent), String(after.warnPercent))]),
    ...[...new Map([...old, ...now]).values()].flatMap(one => {
      const [a, b] = [ceilingText(old.get(ceilingKey(one))), ceilingText(now.get(ceilingKey(one)))]
      return a === b ? [] : [said('ceiling', ceilingName(one), a, b)]
    }),
    ...(JSON.stringify(before.callers) === JSON.stringify(after.callers)
      ? []
      : [said('callers', '', callersCount(before), callersCount(after))]),
    ...lineDifferences(before.lines, after.lines),
  ]
}

const said = (field: string, of: string, before: string, after: string): ContentDifference => ({
  field,
  of,
  before,
  after,
})

const callersCount = ({ callers }: AgreementContent): string =>
  String(callers.costCentres.length + callers.addressIds.length + callers.personIds.length)

function lineDifferences(before: readonly AgreementLine[], after: readonly AgreementLine[]): ContentDifference[] {
  const old = new Map(before.map(line => [line.id, line]))
  const kept = new Set(after.map(line => line.id))
  const same = (a: string, b: string): boolean => a === b || (a !== '' && b !== '' && sameDecimal(a, b))
  return [
    ...after.flatMap(line => {
      const was = old.get(line.id)
      if (!was) return [said('line', line.description, '', pricingText(line.pricing))]
      const [a, b] = [pricingText(was.pricing), pricingText(line.pricing)]
      return [
        ...LINE.filter(field => was[field] !== line[field]).map(field =>
          said(field, line.description, was[field], line[field]),
        ),
        ...(a === b ? [] : [said('price', line.description, a, b)]),
        ...FIGURES.filter(field => !same(was[field], line[field])).map(field =>
          said(field, line.description, was[field], line[field]),
        ),
        ...(was.leadTimeDays === line.leadTimeDays
          ? []
          : [said('leadTimeDays', line.description, String(was.leadTimeDays), String(line.leadTimeDays))]),
      ]
    }),
    ...before
      .filter(line => !kept.has(line.id))
      .map(line => said('line', line.description, pricingText(line.pricing), '')),
  ]
}
