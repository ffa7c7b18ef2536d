import { Decimal } from '#core/money/decimal.ts'
import { minorDigits } from '#core/money/currency.ts'
import type { PriceTier } from '#core/request/offer.ts'

/** How goods are packed for sale: by the piece or cut to length, on a reel, on a tray, or in whole packs of another kind. */
export const PACKINGS = ['loose', 'reel', 'tray', 'pack'] as const
export type Packing = (typeof PACKINGS)[number]

/** An offer as a costing knows it, as it was on the day that it is priced on. Quantities are in the offer's unit. */
export interface BuildOffer {
  readonly id: string
  readonly itemId: string
  readonly supplierId: string
  readonly unit: string
  /** How many of the item's units one of `unit` holds. */
  readonly holds: string
  readonly currency: string
  readonly priceBase: string
  readonly minimum: string
  readonly multiple: string
  readonly leadTimeDays: number
  readonly validFrom: string
  readonly validTo: string | null
  readonly tiers: readonly PriceTier[]
  /** Carriage of one order line beside the price, in the offer's currency; empty where there is none. */
  readonly fee: string
  /** What the supplier has lying there; empty where that is not known. */
  readonly stock: string
  /** ISO 3166-1 code of where it ships from; empty where that is not known. */
  readonly country: string
}

/** The packing that an offer's unit says: the item's own unit is loose. packingOf('XRL', 'MTR') //=> 'reel' */
export const packingOf = (unit: string, itemUnit: string): Packing =>
  unit === itemUnit ? 'loose' : unit === 'XRL' || unit === 'XRO' ? 'reel' : unit === 'XPU' ? 'tray' : 'pack'

/** Largest whole number that is computed with as it is; sums beyond it are taken exactly in another way. */
const SAFE = 2 ** 52
/** Digits that a quantity may have after the point. */
export const MOST_DIGITS = 6

/** Money of a quantity at one tier: (quantity × `price` + `add`) ÷ `over`, in the costing's smallest unit; `quantity` in steps of the part. */
interface PreparedTier {
  readonly from: number
  readonly price: bigint
  readonly priceNumber: number
  /** Up to which quantity plain numbers are exact. */
  readonly exactTo: number
  /** What a step costs, nearly; for choosing whom to look at. */
  readonly each: number
}

/** A quantity that can be bought, and what it costs. */
export interface Candidate {
  readonly quantity: number
  /** In the costing currency's smallest unit, rounded once, half away from zero. */
  readonly cost: number
}

/** An offer made ready for one part: quantities in steps of the part, money in the costing currency's smallest unit. */
export interface PreparedOffer {
  readonly offer: BuildOffer
  /** Its place among the offers of the part: of equals the first is taken. */
  readonly place: number
  readonly minimum: number
  readonly multiple: number
  /** Most that can be had; Infinity where that is not limited. */
  readonly most: number
  readonly tiers: readonly PreparedTier[]
  readonly add: bigint
  readonly addNumber: number
  readonly over: bigint
  readonly overNumber: number
  /** The fee, nearly, in the costing's smallest unit. */
  readonly fee: number
  /** Where each tier begins to be bought, with the least that it or any above costs from there. */
  readonly starts: readonly (Candidate & { readonly least: Candidate })[]
  /** No step of it costs less. */
  readonly lowest: number
}

/** Digits after the point of what a figure times another comes to. */
const productPlaces = (figure: string, holds: Scaled): number => {
  const own = scaled(figure)
  let [whole, places] = [own.whole * holds.whole, own.places + holds.places]
  while (places > 0 && whole % 10n === 0n) [whole, places] = [whole / 10n, places - 1]
  return places
}

/** Digits after the point that an offer needs, in the item's units. */
export const digitsNeeded = (offer: BuildOffer): number => {
  const holds = scaled(offer.holds)
  return Math.max(
    ...[offer.minimum, offer.multiple, offer.stock || '0', ...offer.tiers.map(tier => tier.from)].map(figure =>
      productPlaces(figure, holds),
    ),
  )
}

/** Whether an offer's tiers rise: those out of order are sorted, and of two at one quantity the later one counts. */
export const tiersRise = (tiers: readonly PriceTier[]): boolean =>
  tiers.every((tier, index) => index === 0 || Number(tier.from) > Number(tiers[index - 1]!.from))

/** What one unit of the offer's currency and of the costing's are in the house's own: an amount is multiplied by one and divided by the other. */
export interface CrossRate {
  readonly from: string
  readonly to: string
}

/** How a part's offers are reckoned: its digits after the point, the costing's currency, and whether what lies there is all that can be had. */
export interface Reckoning {
  readonly rate: CrossRate
  readonly currency: string
  readonly digits: number
  readonly stockedOnly: boolean
}

/** Makes an offer ready. Undefined where a figure is beyond what can be computed with. */
export function prepareOffer(offer: BuildOffer, place: number, by: Reckoning): PreparedOffer | undefined {
  const holds = scaled(offer.holds)
  const steps = (figure: string): number => {
    const { whole, places } = scaled(figure)
    return Number((whole * holds.whole * TEN ** BigInt(by.digits)) / TEN ** BigInt(places + holds.places))
  }
  const sorted = tiersRise(offer.tiers)
    ? offer.tiers
    : [...offer.tiers].sort((a, b) => new Decimal(a.from).comparedTo(b.from))
  const tiers = sorted.filter(
    (tier, index) => !sorted[index + 1] || steps(sorted[index + 1]!.from) !== steps(tier.from),
  )
  const minimum = Math.max(steps(offer.minimum), 0)
  const multiple = Math.max(steps(offer.multiple), 1)
  const stock = by.stockedOnly ? steps(offer.stock || '0') : Infinity
  const largest = Math.max(minimum, multiple, ...tiers.map(tier => steps(tier.from)))
  const money = moneyOf(offer, tiers, by)
  if (!Number.isSafeInteger(largest) || tiers.length === 0) return undefined
  const bare = {
    offer,
    place,
    minimum,
    multiple,
    most: stock === Infinity ? Infinity : stock - (stock % multiple),
    tiers: tiers.map((tier, index) => preparedTier(index === 0 ? 0 : steps(tier.from), money.prices[index]!, money)),
    add: money.add,
    addNumber: Number(money.add),
    over: money.over,
    overNumber: Number(money.over),
    fee: Number(money.add) / Number(money.over),
  }
  return { ...bare, starts: startsOf(bare), lowest: Math.min(...bare.tiers.map(tier => tier.each)) }
}

const TEN = 10n
/** A decimal as a whole number of 10⁻ᵖˡᵃᶜᵉˢ. */
interface Scaled {
  readonly whole: bigint
  readonly places: number
}
function scaled(text: string): Scaled {
  const point = text.indexOf('.')
  return point < 0
    ? { whole: BigInt(text), places: 0 }
    : { whole: BigInt(text.slice(0, point) + text.slice(point + 1)), places: text.length - point - 1 }
}

interface Money {
  readonly prices: readonly bigint[]
  readonly add: bigint
  readonly over: bigint
}

/** Money of a quantity is (quantity × price + add) ÷ over: everything exact, over one denominator, as small as it goes. */
function moneyOf(offer: BuildOffer, tiers: readonly PriceTier[], { rate, currency, digits }: Reckoning): Money {
  const ten = (places: number): bigint => TEN ** BigInt(places)
  const [from, to, base, holds, fee] = [rate.from, rate.to, offer.priceBase, offer.holds, offer.fee || '0'].map(
    scaled,
  ) as [Scaled, Scaled, Scaled, Scaled, Scaled]
  const prices = tiers.map(tier => scaled(tier.price))
  const finest = Math.max(...prices.map(price => price.places))
  const unit = base.whole * holds.whole * ten(digits + finest)
  const toMinor = from.whole * ten(minorDigits(currency) + to.places)
  const perPrice = toMinor * ten(base.places + holds.places + fee.places)
  const figures = [
    unit * to.whole * ten(from.places + fee.places),
    fee.whole * toMinor * unit,
    ...prices.map(price => price.whole * ten(finest - price.places) * perPrice),
  ]
  const by = figures.reduce(common, 0n) || 1n
  return { over: figures[0]! / by, add: figures[1]! / by, prices: figures.slice(2).map(figure => figure / by) }
}

function preparedTier(from: number, price: bigint, { add, over }: Money): PreparedTier {
  const priceNumber = Number(price)
  const room = (SAFE - Number(add) - Number(over)) / 2
  return {
    from,
    price,
    priceNumber,
    exactTo: room > 0 ? Math.floor(room / Math.max(priceNumber, 1)) : -1,
    each: priceNumber / Number(over),
  }
}

/** The greatest number that both are whole multiples of. */
const common = (a: bigint, b: bigint): bigint => (b === 0n ? a : common(b, a % b))

function startsOf(bare: Omit<PreparedOffer, 'starts' | 'lowest'>): PreparedOffer['starts'] {
  const starts = bare.tiers.map(tier => {
    const quantity = allowedSteps(bare, tier.from)
    return { quantity, cost: quantity <= bare.most ? costOf(bare, quantity) : Infinity }
  })
  let least: Candidate = { quantity: Infinity, cost: Infinity }
  const reversed = [...starts].reverse().map(start => {
    if (start.cost <= least.cost) least = start
    return { ...start, least }
  })
  return reversed.reverse()
}

/**
 * The smallest quantity of an offer that is not below `steps`: at least the minimum, a multiple of what it is sold by. A quotient of whole numbers below
 * 2⁵¹ is nearer to its own whole number than rounding moves it (IEEE 754, round to nearest), so that it is rounded up rightly.
 */
export const allowedSteps = (offer: Pick<PreparedOffer, 'minimum' | 'multiple'>, steps: number): number =>
  Math.ceil(Math.max(steps, offer.minimum) / offer.multiple) * offer.multiple

const tierOf = (tiers: readonly PreparedTier[], quantity: number): number => {
  let at = tiers.length - 1
  while (at > 0 && tiers[at]!.from > quantity) at--
  return at
}

/** What a quantity of an offer costs, rounded once, half away from zero, fee included. */
export function costOf(offer: Omit<PreparedOffer, 'starts' | 'lowest'>, quantity: number): number {
  const tier = offer.tiers[tierOf(offer.tiers, quantity)]!
  if (quantity <= tier.exactTo) {
    const exact = quantity * tier.priceNumber + offer.addNumber
    if (offer.overNumber === 1) return exact
    const whole = Math.floor(exact / offer.overNumber)
    return whole + (2 * (exact - whole * offer.overNumber) >= offer.overNumber ? 1 : 0)
  }
  const exact = BigInt(quantity) * tier.price + offer.add
  return Number((2n * exact + offer.over) / (2n * offer.over))
}

/** The goods alone, without the fee; for the worth of what is bought beyond the need. */
export const goodsCost = (offer: PreparedOffer, quantity: number): number =>
  costOf({ ...offer, add: 0n, addNumber: 0 }, quantity)

/**
 * How much of one offer covers a need for the least money, also more than is needed where a tier makes that cheaper; of equals the smaller quantity. Only
 * for an offer that can cover it.
 */
export function coverQuantity(offer: PreparedOffer, need: number, excess: boolean): number {
  const quantity = allowedSteps(offer, need)
  const above = excess ? offer.starts[tierOf(offer.tiers, quantity) + 1]?.least : undefined
  return above && above.cost < costOf(offer, quantity) ? above.quantity : quantity
}

/** Whether an offer can cover a need. */
export function canCover(offer: PreparedOffer, need: number, excess: boolean): boolean {
  const quantity = allowedSteps(offer, need)
  return quantity <= offer.most && (excess || quantity === need)
}
