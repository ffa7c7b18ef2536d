import { isDay } from '#core/calendar/days.ts'
import { currencies } from '#core/money/currency.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { isAgreed, type Offer } from '#core/request/offer.ts'
import { INCOTERMS } from '#core/source/defaults.ts'
import { isGtin } from '#core/text/gs1.ts'
import { type PackConversion, UNITS } from '#core/units/units.ts'

/** What a keeper of the catalogue writes down about an item. */
export interface ItemEntry {
  readonly number: string
  readonly name: string
  readonly category: string
  /** UN/ECE Recommendation 20 code in which it is counted. */
  readonly unit: string
  /** GS1 GTIN of 8, 12, 13 or 14 digits; empty where it has none. */
  readonly gtin: string
  readonly packs: readonly PackConversion[]
  readonly discontinuedOn: string | null
  /** Id of the item that takes its place. */
  readonly replacedBy: string | null
}

/** What an entry of an item is checked against. */
export interface ItemFacts {
  readonly categories: ReadonlySet<string>
  /** Another item has the number already. */
  readonly numberTaken: boolean
  /** Something counts it in its unit already: an offer, a line, goods on hand. */
  readonly counted: boolean
  readonly before: (Pick<ItemEntry, 'unit' | 'number'> & { readonly id: string }) | null
  /** Items that take its successor's place, in a row: none of them may be the item itself. */
  readonly after: readonly string[]
}

const above = (text: string): boolean => isHeldDecimal(text) && new Decimal(text).gt(0)

/** What is wrong with packs: a unit that does not exist, the item's own, one twice, one that holds nothing. */
export function packFaults(unit: string, packs: readonly PackConversion[]): Reason[] {
  return packs.flatMap((pack, index) => {
    const place = { place: `packs.${index}` }
    if (!(pack.unit in UNITS)) return [stop('line.unit', { unit: pack.unit }, place)]
    if (pack.unit === unit || packs.findIndex(other => other.unit === pack.unit) !== index)
      return [stop('item.packTwice', { unit: UNITS[pack.unit]!.label }, place)]
    return above(pack.holds) ? [] : [stop('item.packHolds', { unit: UNITS[pack.unit]!.label }, place)]
  })
}

/** Why an item cannot be kept as it was entered; nothing where it can. */
export function whyNotItem(entry: ItemEntry, facts: ItemFacts): Reason[] {
  const wrong: Reason[] = []
  const at = (place: string): { place: string } => ({ place })
  if (entry.number.trim() === '') wrong.push(stop('item.needsNumber', {}, at('number')))
  if (entry.name.trim() === '') wrong.push(stop('item.needsName', {}, at('name')))
  if (facts.numberTaken) wrong.push(stop('item.numberTaken', { number: entry.number }, at('number')))
  if (!facts.categories.has(entry.category)) wrong.push(stop('item.category', {}, at('category')))
  if (!(entry.unit in UNITS)) wrong.push(stop('line.unit', { unit: entry.unit }, at('unit')))
  if (facts.before && facts.counted && facts.before.unit !== entry.unit)
    wrong.push(stop('item.unitUsed', { unit: UNITS[facts.before.unit]?.label ?? facts.before.unit }, at('unit')))
  if (entry.gtin !== '' && !isGtin(entry.gtin)) wrong.push(stop('import.gtin', { value: entry.gtin }, at('gtin')))
  if (entry.replacedBy !== null && entry.discontinuedOn === null)
    wrong.push(stop('item.replacedEarly', {}, at('replacedBy')))
  if (facts.before && (entry.replacedBy === facts.before.id || facts.after.includes(facts.before.id)))
    wrong.push(stop('item.replacedByItself', {}, at('replacedBy')))
  return [...wrong, ...packFaults(entry.unit, entry.packs)]
}

/** What a keeper of the catalogue writes down about an offer of an item. */
export interface OfferEntry extends Offer {
  readonly unit: string
  readonly incoterm: string | null
  readonly incotermPlace: string
  /** ISO 3166-1 codes of where it is delivered to; none: everywhere. */
  readonly countries: readonly string[]
  readonly freight: string | null
  readonly inStock: string | null
}

/** Why an offer cannot be kept as it was entered; nothing where it can. `taken`: the supplier offers the item under this number already. */
export function whyNotOffer(
  entry: OfferEntry,
  facts: {
    readonly taken: boolean
    readonly converts: boolean
    /** What it says now: its prices, those to come too, are in this currency and unit. */
    readonly before:
      | (Pick<OfferEntry, 'currency' | 'unit'> & {
          readonly agreementLineId: string | null
          readonly agreement: string
        })
      | null
  },
): Reason[] {
  if (facts.before && isAgreed(facts.before))
    return [stop('offer.agreed', { agreement: facts.before.agreement }, { clearedBy: ['buyer'] })]
  const wrong: Reason[] = []
  const at = (place: string): { place: string } => ({ place })
  if (facts.taken) wrong.push(stop('offer.there', {}, at('supplierItem')))
  for (const key of ['currency', 'unit'] as const)
    if (facts.before && facts.before[key] !== entry[key])
      wrong.push(stop('offer.stays', { before: facts.before[key] }, at(key)))
  if (!(currencies as readonly string[]).includes(entry.currency))
    wrong.push(stop('money.unknownCurrency', { currency: entry.currency }, at('currency')))
  if (!(entry.unit in UNITS)) wrong.push(stop('line.unit', { unit: entry.unit }, at('unit')))
  else if (!facts.converts) wrong.push(stop('offer.unitOfItem', { unit: UNITS[entry.unit]!.label }, at('unit')))
  for (const key of ['priceBase', 'minimum', 'multiple'] as const)
    if (!above(entry[key])) wrong.push(stop('offer.aboveZero', {}, at(key)))
  if (!isDay(entry.validFrom) || (entry.validTo !== null && !(entry.validTo >= entry.validFrom)))
    wrong.push(stop('offer.endsEarly', {}, at('validTo')))
  if (entry.incoterm !== null && !(INCOTERMS as readonly string[]).includes(entry.incoterm))
    wrong.push(stop('term.unknown', { incoterm: entry.incoterm }, at('incoterm')))
  if (entry.countries.some(code => !/^[A-Z]{2}$/.test(code)))
    wrong.push(stop('import.countries', { value: entry.countries.join(' ') }, at('countries')))
  if (entry.inStock !== null && new Decimal(entry.inStock).lt(0))
    wrong.push(stop('build.notBelowZero', {}, at('inStock')))
  return [...wrong, ...tierFaults(entry.tiers)]
}

/** What is wrong with price tiers: none, one without a price, a quantity that does not rise. */
export function tierFaults(tiers: Offer['tiers']): Reason[] {
  if (tiers.length === 0) return [stop('offer.needsPrice', {}, { place: 'tiers' })]
  return tiers.flatMap((tier, index) => {
    const before = tiers[index - 1]
    if (!above(tier.from) || !above(tier.price)) return [stop('offer.aboveZero', {}, { place: `tiers.${index}` })]
    return before && above(before.from) && new Decimal(tier.from).lte(before.from)
      ? [stop('offer.tierRises', {}, { place: `tiers.${index}` })]
      : []
  })
}

/** Prices that held already are not rewritten: new ones hold from today on, or from a day to come. */
export const whyNotPricesFrom = (from: string, today: string): Reason[] =>
  from < today ? [stop('price.past', {}, { place: 'from' })] : []
