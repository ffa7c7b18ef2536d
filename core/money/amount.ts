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

export const amountToDecimal = (amount: bigint, currency: string): Decimal => new Decimal(amount.toString()).dividedBy(scaleOf(currency))

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

export const sumMinor = (amounts: Iterable<bigint>): Minor => {
  let total = 0n
  for (const amount of amounts) total += amount
  return minor(total)
}

const scaleOf = (currency: string): Decimal => new Decimal(10).pow(minorDigits(currency))
