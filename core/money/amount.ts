import { RuleBroken, stop } from '#core/reasons.ts'
import { minorDigits } from '#core/money/currency.ts'
import { Decimal, decimal } from '#core/money/decimal.ts'

declare const minorBrand: unique symbol
/** A whole number of a currency's smallest unit (cents for EUR, yen for JPY). */
export type Minor = bigint & { readonly [minorBrand]: true }

export const minor = (value: bigint | number): Minor => BigInt(value) as Minor

/**
 * Reads an amount of a currency; more digits than the currency has are refused.
 *
 * parseAmount('18420.00', 'EUR') //=> 1842000n
 * @throws RuleBroken money.tooManyDigits | money.notADecimal | money.unknownCurrency
 */
export function parseAmount(text: string, currency: string): Minor {
  const scaled = decimal(text).times(scaleOf(currency))
  if (!scaled.isInteger()) throw new RuleBroken(stop('money.tooManyDigits', { text, currency }))
  return minor(BigInt(scaled.toFixed(0)))
}

/** formatAmount(1842000n, 'EUR') //=> '18420.00' */
export function formatAmount(amount: bigint, currency: string): string {
  return new Decimal(amount.toString()).dividedBy(scaleOf(currency)).toFixed(minorDigits(currency))
}

/** Rounds an exact value to the currency's smallest unit, half away from zero. roundAmount('0.005', 'EUR') //=> 1n */
export function roundAmount(value: string | Decimal, currency: string): Minor {
  return minor(BigInt(new Decimal(value).times(scaleOf(currency)).toDecimalPlaces(0, Decimal.ROUND_HALF_UP).toFixed(0)))
}

export const amountToDecimal = (amount: bigint, currency: string): Decimal =>
  new Decimal(amount.toString()).dividedBy(scaleOf(currency))

/**
 * quantity × price ÷ price base quantity, rounded once at the line (domain page, section 1).
 *
 * lineAmount({ quantity: '3', price: '0.335', priceBase: '1', currency: 'EUR' }) //=> 101n
 * @throws RuleBroken money.priceBase where the base quantity is not above zero
 */
export function lineAmount(line: { quantity: string; price: string; priceBase: string; currency: string }): Minor {
  const base = decimal(line.priceBase)
  if (base.lte(0)) throw new RuleBroken(stop('money.priceBase', { priceBase: line.priceBase }))
  return roundAmount(decimal(line.quantity).times(decimal(line.price)).dividedBy(base), line.currency)
}

/**
 * The part of an amount that belongs to `part` of `whole` (both quantities), rounded half away from zero. Nothing of nothing is nothing.
 *
 * portion(minor(100), '1', '3') //=> 33n
 */
export function portion(amount: Minor, part: string | Decimal, whole: string | Decimal): Minor {
  if (new Decimal(whole).isZero()) return minor(0)
  return minor(BigInt(new Decimal(amount.toString()).times(part).dividedBy(whole).toDecimalPlaces(0).toFixed(0)))
}

/**
 * What one unit cost, with up to six digits after the point; rounded half away from zero. Nothing for no quantity.
 *
 * unitPriceOf(minor(1000), 'EUR', '3') //=> '3.333333'
 */
export function unitPriceOf(amount: Minor, currency: string, quantity: string): string {
  if (new Decimal(quantity).isZero()) return '0'
  return amountToDecimal(amount, currency).dividedBy(quantity).toDecimalPlaces(6, Decimal.ROUND_HALF_UP).toString()
}

export const sumMinor = (amounts: Iterable<bigint>): Minor => {
  let total = 0n
  for (const amount of amounts) total += amount
  return minor(total)
}

const scaleOf = (currency: string): Decimal => new Decimal(10).pow(minorDigits(currency))

/** An amount as it stands in a sentence. moneyText(minor(1842000n), 'EUR') //=> 'EUR 18420.00' */
export const moneyText = (amount: bigint, currency: string): string => `${currency} ${formatAmount(amount, currency)}`
