import { earliestDelivery } from '#core/request/offer.ts'
import type { BuyablePart } from '#core/build/buyPart.ts'
import { explode, type Exploded, type NeededPart } from '#core/build/explode.ts'
import type { BuildFacts, BuildItem } from '#core/build/facts.ts'
import {
  type BuildOffer,
  digitsNeeded,
  MOST_DIGITS,
  packingOf,
  prepareOffer,
  type PreparedOffer,
  type Reckoning,
} from '#core/build/offers.ts'
import { type BuildSettings, type Limits, limitsOf, type PartSettings } from '#core/build/settings.ts'
import { type NeedOf, needOf, usesIn } from '#core/build/need.ts'
import { groupOf, type OfferGroup } from '#core/build/offerGroup.ts'
import { partKey } from '#core/build/partsList.ts'
import { unitDigits } from '#core/units/units.ts'

/** Why a part has no price, or an offer of it does not count. */
export const NO_PRICE = [
  'noItem',
  'noOffer',
  'units',
  'notNow',
  'country',
  'packing',
  'stock',
  'late',
  'rate',
  'excess',
  'tooMuch',
] as const
export type NoPrice = (typeof NO_PRICE)[number]

/** An item that may serve as a part, with its offers ready, and why others do not count. */
export interface Choice {
  readonly item: BuildItem
  readonly buyable: BuyablePart
  /** Offers that do not count, and what is against each. */
  readonly against: ReadonlyMap<string, NoPrice>
  /** Quantities of this item are whole numbers of 10⁻ᵈ of its unit. */
  readonly digits: number
  readonly need: NeedOf
}

/** A part ready to be bought for any number of builds. */
export interface ReadyPart {
  readonly needed: NeededPart
  readonly category: string
  readonly limits: Limits
  readonly settings: PartSettings
  /** The item of the line, or the one taken in its place, first; then those that may take its place, in order. */
  readonly choices: readonly Choice[]
  readonly item: BuildItem | null
  /** Why nothing of it can be priced whatever is needed; null where there is something to choose from. */
  readonly without: NoPrice | null
}

export interface ReadyBuild {
  readonly settings: BuildSettings
  readonly exploded: Exploded
  readonly parts: readonly ReadyPart[]
}

/** Offers made ready before, so that another setting does not make them ready again. One for the facts of one day. */
export interface ReadyOffers {
  readonly digits: Map<string, number>
  readonly prepared: Map<string, PreparedOffer | undefined>
}
export const noReadyOffers = (): ReadyOffers => ({ digits: new Map(), prepared: new Map() })

/** Makes a build ready: everything that does not hang on how many are built. Exact; nothing is rounded here. */
export function prepareBuild(
  facts: BuildFacts,
  settings: BuildSettings,
  partSettings: Readonly<Record<string, PartSettings>>,
  /** The supplier of each part where suppliers are to be few. */
  assigned: ReadonlyMap<string, string> = new Map(),
  known: ReadyOffers = noReadyOffers(),
): ReadyBuild {
  const of = indexed(facts, known)
  const exploded = explode(facts.lines, at => partSettings[of.keys[at]!]?.made ?? true)
  const parts = together(exploded.parts, facts, partSettings).map((needed): ReadyPart => {
    const own = partSettings[needed.key] ?? {}
    const line = facts.lines.at(needed.uses[0]!.line)!
    const first = of.items.get(own.itemId ?? ownItem(needed.key) ?? line.itemId ?? '') ?? null
    const category = first?.category ?? ''
    const limits = limitsOf(settings, own, category)
    const others = (own.alternates ?? []).flatMap(id => (id === first?.id ? [] : (of.items.get(id) ?? [])))
    const wanted = settings.alternates === 'never' ? [] : others
    const choices = [...(first ? [first] : []), ...wanted].map(item =>
      choiceOf(facts, of, { settings, limits, own, needed, item, assigned: assigned.get(needed.key) }),
    )
    return {
      needed,
      category,
      limits,
      settings: own,
      choices: choices.flatMap(one => (one === 'units' ? [] : [one])),
      item: first,
      without: withoutPrice(first, choices),
    }
  })
  return { settings, exploded, parts }
}

/** Parts that are the same item once one is taken in place of another: they are bought together, under the part whose own item it is, else the first. */
function together(
  parts: readonly NeededPart[],
  facts: BuildFacts,
  partSettings: Readonly<Record<string, PartSettings>>,
): NeededPart[] {
  const itemOf = ({ key, uses }: NeededPart): string | null =>
    partSettings[key]?.itemId ?? facts.lines[uses[0]!.line]!.itemId
  const homes = new Map<string, string>()
  for (const part of parts) {
    const item = itemOf(part)
    if (item !== null && (!homes.has(item) || part.key === `item ${item}`)) homes.set(item, part.key)
  }
  const homeOf = (part: NeededPart): string => homes.get(itemOf(part) ?? '') ?? part.key
  const uses = new Map<string, NeededPart['uses']>()
  for (const part of parts) uses.set(homeOf(part), [...(uses.get(homeOf(part)) ?? []), ...part.uses])
  return parts.filter(part => homeOf(part) === part.key).map(({ key }) => ({ key, uses: uses.get(key)! }))
}

/** The item that a part's key names. */
const ownItem = (key: string): string | undefined => (key.startsWith('item ') ? key.slice(5) : undefined)

interface Indexed {
  readonly keys: readonly string[]
  readonly items: ReadonlyMap<string, BuildItem>
  readonly offers: ReadonlyMap<string, readonly BuildOffer[]>
  readonly scores: ReadonlyMap<string, number>
  readonly lastLead: (day: string) => number
  /** Digits after the point that an offer needs. */
  readonly digitsOf: (offer: BuildOffer) => number
  readonly readyOffer: (offer: BuildOffer, place: number, by: Reckoning) => PreparedOffer | undefined
}

function indexed(facts: BuildFacts, known: ReadyOffers): Indexed {
  const offers = new Map<string, BuildOffer[]>()
  for (const offer of facts.offers) remembered(offers, offer.itemId, () => []).push(offer)
  const leads = new Map<string, number>()
  return {
    keys: facts.lines.map(partKey),
    items: new Map(facts.items.map(item => [item.id, item])),
    offers,
    scores: new Map(facts.suppliers.map(one => [one.id, one.score === '' ? -1 : Number(one.score)])),
    lastLead: day => {
      const lead = leads.get(day) ?? mostLead(facts, day)
      leads.set(day, lead)
      return lead
    },
    digitsOf: offer => remembered(known.digits, offer.id, () => digitsNeeded(offer)),
    readyOffer: (offer, place, by) =>
      remembered(known.prepared, `${offer.id} ${by.currency} ${by.digits} ${by.stockedOnly} ${place}`, () =>
        prepareOffer(offer, place, by),
      ),
  }
}

function remembered<T>(known: Map<string, T>, key: string, make: () => T): T {
  if (known.has(key)) return known.get(key) as T
  const made = make()
  known.set(key, made)
  return made
}

/** The longest lead time with which goods are in by a day. */
function mostLead(facts: BuildFacts, day: string): number {
  const leads = [...new Set(facts.offers.map(offer => offer.leadTimeDays))].sort((a, b) => b - a)
  return leads.find(lead => earliestDelivery(facts.pricedOn, lead, facts.calendar) <= day) ?? -1
}

const withoutPrice = (item: BuildItem | null, choices: readonly (Choice | 'units')[]): NoPrice | null => {
  if (item === null && choices.length === 0) return 'noItem'
  if (choices.every(one => one === 'units')) return 'units'
  const ready = choices.flatMap(one => (one === 'units' ? [] : [one]))
  if (ready.some(one => one.buyable.groups.length > 0)) return null
  const times = new Map<NoPrice, number>()
  for (const why of ready.flatMap(one => [...one.against.values()])) times.set(why, (times.get(why) ?? 0) + 1)
  // what stands against most of the offers is said
  return [...times].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 'noOffer'
}

interface Chosen {
  readonly settings: BuildSettings
  readonly limits: Limits
  readonly own: PartSettings
  readonly needed: NeededPart
  readonly item: BuildItem
  readonly assigned: string | undefined
}

function choiceOf(facts: BuildFacts, of: Indexed, chosen: Chosen): Choice | 'units' {
  const { settings, limits, own, needed, item } = chosen
  const against = new Map<string, NoPrice>()
  const fitting = (of.offers.get(item.id) ?? []).filter(offer => {
    const why = whyNotTaken(facts, of, offer, item, own.offerId === offer.id ? null : limits, settings.currency)
    if (why) against.set(offer.id, why)
    return why === undefined
  })
  const uses = usesIn(facts, needed, item, limits)
  if (!uses) return 'units'
  const digits = Math.min(
    MOST_DIGITS,
    Math.max(unitDigits(item.unit), ...fitting.map(of.digitsOf), placesOf(own.onHand ?? '0')),
  )
  const prepared = fitting.flatMap((offer, place) => {
    const rate = { from: facts.rates[offer.currency]!, to: facts.rates[settings.currency]! }
    const ready = of.readyOffer(offer, place, {
      rate,
      currency: settings.currency,
      digits,
      stockedOnly: limits.stockedOnly,
    })
    if (!ready) against.set(offer.id, 'tooMuch')
    return ready ? [ready] : []
  })
  return {
    item,
    buyable: { groups: groupsOf(prepared, of, chosen), excess: limits.excess },
    against,
    digits,
    need: needOf(uses, { digits, unit: item.unit, onHand: settings.ownStock ? (own.onHand ?? '0') : '0' }),
  }
}

/** What stands against an offer; undefined where it counts. One chosen by hand counts within no limits, as long as it can be ordered at all. */
function whyNotTaken(
  facts: BuildFacts,
  of: Indexed,
  offer: BuildOffer,
  item: BuildItem,
  limits: Limits | null,
  currency: string,
): NoPrice | undefined {
  if (offer.validFrom > facts.pricedOn || (offer.validTo !== null && offer.validTo < facts.pricedOn)) return 'notNow'
  if (facts.rates[offer.currency] === undefined || facts.rates[currency] === undefined) return 'rate'
  if (!(Number(offer.holds) > 0)) return 'units'
  if (placesOf(offer.holds) > MOST_DIGITS || of.digitsOf(offer) > MOST_DIGITS) return 'units'
  if (limits === null) return undefined
  if (limits.countries.length > 0 && !limits.countries.includes(offer.country)) return 'country'
  if (limits.packing !== 'any' && packingOf(offer.unit, item.unit) !== limits.packing) return 'packing'
  if (limits.stockedOnly && !(Number(offer.stock || '0') > 0)) return 'stock'
  if (limits.inBy !== '' && offer.leadTimeDays > of.lastLead(limits.inBy)) return 'late'
  return undefined
}

const placesOf = (text: string): number => text.split('.')[1]?.length ?? 0

/** The groups of offers in the order in which the policy tries them. */
function groupsOf(prepared: readonly PreparedOffer[], of: Indexed, { limits, own, assigned }: Chosen): OfferGroup[] {
  const ranked = (rank: (one: PreparedOffer) => number): PreparedOffer[][] => {
    const ranks = [...new Set(prepared.map(rank))].sort((a, b) => a - b)
    return ranks.map(wanted => prepared.filter(one => rank(one) === wanted))
  }
  const first = (wanted: (one: PreparedOffer) => boolean): PreparedOffer[][] => ranked(one => (wanted(one) ? 0 : 1))
  const byPolicy = (): PreparedOffer[][] => {
    switch (limits.policy) {
      case 'preferred':
        return first(one => limits.preferred.includes(one.offer.supplierId))
      case 'earliest':
        return ranked(one => one.offer.leadTimeDays)
      case 'bestScore':
        return ranked(one => -(of.scores.get(one.offer.supplierId) ?? -1))
      case 'fewest':
        return assigned === undefined ? ranked(() => 0) : first(one => one.offer.supplierId === assigned)
      case 'cheapest':
        return ranked(() => 0)
    }
  }
  const groups =
    own.offerId === undefined || !prepared.some(one => one.offer.id === own.offerId)
      ? byPolicy()
      : first(one => one.offer.id === own.offerId)
  const order = (one: PreparedOffer): number => {
    const place = limits.preferred.indexOf(one.offer.supplierId)
    return place < 0 ? limits.preferred.length : place
  }
  const placed = prepared
    .map((one, index) => ({ one, index }))
    .sort((a, b) => order(a.one) - order(b.one) || a.index - b.index)
  const places = new Map(placed.map(({ one }, place) => [one.offer.id, place]))
  const inOrder = (one: PreparedOffer): PreparedOffer => {
    const place = places.get(one.offer.id)!
    return place === one.place ? one : { ...one, place }
  }
  return groups.map(group => groupOf(group.map(inOrder)))
}
