import { lineAmount, type Minor, minor, roundAmount } from '#core/money/amount.ts'
import { Decimal, decimal, tidy } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import { allowedQuantity, type Offer, tierAt } from '#core/request/offer.ts'
import { convertQuantity, type PackConversion } from '#core/units/units.ts'

export interface ComparedOffer extends Offer {
  readonly id: string
  readonly unit: string
  readonly agreement: string
  /** What carriage of one delivery costs beside the price, in the offer's currency; null: nobody said. */
  readonly freight: string | null
  readonly buyerPaysCarriage: boolean
  /** To the base currency, at today's dated rate; null where there is none. */
  readonly rate: string | null
}
export interface ComparisonRow {
  readonly id: string
  /** In the offer's unit: at least what is wanted, kept to minimum and multiple. */
  readonly quantity: string
  /** The offer's unit does not convert to the item's, or not exactly. */
  readonly noConversion: boolean
  readonly price: string
  /** In the offer's currency. */
  readonly amount: Minor
  readonly freight: Minor
  /** The term leaves carriage to us and nobody said what it costs. */
  readonly freightUnknown: boolean
  /** Everything, in the base currency's smallest unit; null without a rate. */
  readonly landed: Minor | null
  /** Landed cost of one of the item's own units, six digits. */
  readonly perUnit: string | null
  readonly more: string
}

/**
 * Lays offers beside each other at one wanted quantity of the item's own unit: converted to each offer's unit, raised to its minimum and
 * multiple, priced at its tier, with carriage, in the base currency. Amounts are rounded half away from zero, once each.
 */
export function compareOffers(
  offers: readonly ComparedOffer[],
  wanted: string,
  item: { readonly unit: string; readonly packs: readonly PackConversion[] },
  base: string,
): ComparisonRow[] {
  return offers.map(offer => compareOne(offer, wanted, item, base))
}

function compareOne(
  offer: ComparedOffer,
  wanted: string,
  item: { readonly unit: string; readonly packs: readonly PackConversion[] },
  base: string,
): ComparisonRow {
  const inUnit = converted(wanted, item.unit, offer.unit, item)
  const quantity = allowedQuantity(offer, inUnit ?? wanted)
  const { price } = tierAt(offer.tiers, quantity)
  const amount = lineAmount({ quantity, price, priceBase: offer.priceBase, currency: offer.currency })
  const freight = offer.freight === null ? minor(0) : roundAmount(offer.freight, offer.currency)
  const all = minor(amount + freight)
  const landed = offer.rate === null ? null : toBase(all, offer.currency, offer.rate, base)
  const back = inUnit === undefined ? undefined : converted(quantity, offer.unit, item.unit, item)
  return {
    id: offer.id,
    quantity,
    noConversion: inUnit === undefined,
    price,
    amount,
    freight,
    freightUnknown: offer.buyerPaysCarriage && offer.freight === null,
    landed,
    perUnit:
      landed === null || back === undefined
        ? null
        : tidy(new Decimal(landed.toString()).dividedBy(new Decimal(10).pow(digitsOf(base))).dividedBy(back)),
    more: inUnit === undefined ? '0' : tidy(new Decimal(quantity).minus(inUnit)),
  }
}

/** Upwards to six digits where it is not exact: one never buys less than is wanted. */
function converted(
  quantity: string,
  from: string,
  to: string,
  item: { readonly unit: string; readonly packs: readonly PackConversion[] },
): string | undefined {
  try {
    const one = convertQuantity('1', from, to, item.packs, item.unit)
    return tidy(decimal(quantity).times(one))
  } catch {
    try {
      const back = convertQuantity('1', to, from, item.packs, item.unit)
      return decimal(quantity).dividedBy(back).toDecimalPlaces(6, Decimal.ROUND_UP).toString()
    } catch {
      return undefined
    }
  }
}

const digitsOf = (currency: string): number =>
  lineAmount({ quantity: '1', price: '1', priceBase: '1', currency }).toString().length - 1

/** Cheapest first; agreement offers before all others (domain page, section 5), those without a rate or a conversion last. */
export function inOrder<R extends ComparisonRow>(rows: readonly R[], agreementOf: (row: R) => string): R[] {
  const key = (row: R): [number, number] => [
    row.landed === null || row.noConversion ? 2 : agreementOf(row) === '' ? 1 : 0,
    Number(row.landed ?? 0),
  ]
  return [...rows].sort((a, b) => key(a)[0] - key(b)[0] || key(a)[1] - key(b)[1])
}

export interface LadderStep {
  /** From this quantity on. */
  readonly from: string
  readonly price: string
  /** Cost of exactly that quantity, in the smallest unit of the offer's currency. */
  readonly total: Minor
  /** From this quantity below `from` on, buying `from` costs less in total; null where it never does. */
  readonly cheaperFrom: string | null
}

/**
 * The price ladder of an offer. Each step begins with the first quantity that can be bought (minimum and multiple kept) at its price; tiers
 * that no such quantity reaches are left out. `cheaperFrom` is the first allowed quantity whose total is above that of the step's first one.
 */
export function priceLadder(offer: Offer): LadderStep[] {
  const tiers = [...offer.tiers].sort((a, b) => new Decimal(a.from).comparedTo(b.from))
  const steps = tiers
    .map(tier => ({ from: allowedQuantity(offer, tier.from), price: tier.price, begins: tier.from }))
    .filter(step => tierAt(tiers, step.from).from === step.begins)
  const least = new Decimal(offer.multiple).lte(0) ? new Decimal('0.000001') : new Decimal(offer.multiple)
  return steps.map(({ from, price }, index) => {
    const before = steps[index - 1]
    const whole = new Decimal(from).times(price)
    const over = before ? whole.dividedBy(before.price).dividedBy(least).floor().plus(1).times(least) : undefined
    return {
      from,
      price,
      total: lineAmount({ quantity: from, price, priceBase: offer.priceBase, currency: offer.currency }),
      cheaperFrom: over && over.lt(from) ? tidy(over) : null,
    }
  })
}
