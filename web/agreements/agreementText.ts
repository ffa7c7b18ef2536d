import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadAgreement } from '#contract/agreements/agreements.ts'
import { amountText, priceText, quantityText, unit } from '#web/shared/words.ts'

export type Agreement = ResponseOf<typeof ReadAgreement>
export type Content = Agreement['content']
export type ContentLine = Content['lines'][number]
export type Pricing = ContentLine['pricing']
export type Use = Agreement['uses'][number]

/** Prices by quantity in a few words. tiersText([{ from: '0', price: '4.2' }, { from: '100', price: '4' }]) //=> '4.20, from 100: 4.00' */
export const tiersText = (tiers: readonly { readonly from: string; readonly price: string }[]): string =>
  tiers
    .map((tier, at) => (at === 0 ? priceText(tier.price) : `from ${quantityText(tier.from)}: ${priceText(tier.price)}`))
    .join(', ')

/** What a ceiling is over. */
export const ceilingName = (use: Pick<Use, 'scope' | 'of'>): string => (use.scope === 'whole' ? 'In all' : use.of)

/** How much of a ceiling is taken, with its figures. */
export function takenText(use: Use, currency: string): string {
  const parts = [
    use.amount === '' ? '' : `${amountText(use.taken.amount)} of ${currency} ${amountText(use.amount)}`,
    use.quantity === '' ? '' : `${quantityText(use.taken.quantity)} of ${quantityText(use.quantity)} ${unit(use.unit)}`,
  ]
  return parts.filter(Boolean).join(', ')
}

const FIELDS: Readonly<Record<string, string>> = {
  title: 'title',
  currency: 'currency',
  startsOn: 'begins',
  endsOn: 'ends',
  warnPercent: 'warns at per cent',
  whenOver: 'above a ceiling',
  incoterm: 'Incoterm',
  incotermPlace: 'place',
  serviceLevel: 'service level',
  terms: 'terms',
  ceiling: 'ceiling',
  callers: 'named callers',
  line: 'line',
  description: 'words',
  category: 'category',
  unit: 'unit',
  price: 'price',
  priceBase: 'price base',
  listPrice: 'list price',
  minimum: 'least called off',
  multiple: 'in steps of',
  leadTimeDays: 'lead time in days',
}
/** What a difference is about, in words. */
export const fieldText = (one: { readonly field: string; readonly of: string }): string =>
  [one.of, FIELDS[one.field] ?? one.field].filter(Boolean).join(': ')

/** A fresh line. */
export const freshLine = (currency: string): ContentLine => ({
  id: crypto.randomUUID(),
  itemId: null,
  description: '',
  category: '',
  unit: 'C62',
  currency: currency as 'EUR',
  pricing: { kind: 'tiers', tiers: [{ from: '0', price: '0' }] },
  priceBase: '1',
  listPrice: '',
  minimum: '1',
  multiple: '0',
  leadTimeDays: 0,
  incoterm: '',
  incotermPlace: '',
})

/** The same prices by another rule, as far as they can be carried over. */
export function asKind(pricing: Pricing, kind: Pricing['kind'], startsOn: string): Pricing {
  if (pricing.kind === kind) return pricing
  const tiers =
    pricing.kind === 'tiers'
      ? pricing.tiers
      : pricing.kind === 'periods'
        ? (pricing.periods[0]?.tiers ?? [])
        : [{ from: '0', price: pricing.basePrice }]
  if (kind === 'tiers') return { kind, tiers }
  if (kind === 'periods') return { kind, periods: [{ from: startsOn, tiers }] }
  return {
    kind,
    index: '',
    basePrice: tiers[0]?.price ?? '0',
    fixedShare: '0.4',
    baseValue: '100',
    lowest: '',
    highest: '',
  }
}
