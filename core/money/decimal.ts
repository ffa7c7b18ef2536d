import { Decimal as Base } from 'decimal.js'
import { RuleBroken, stop } from '#core/reasons.ts'

/** Exact decimals with 60 significant digits and rounding half away from zero (domain page, section 1). */
export const Decimal = Base.clone({ precision: 60, rounding: Base.ROUND_HALF_UP, toExpNeg: -40, toExpPos: 60 })
export type Decimal = InstanceType<typeof Decimal>

const PLAIN = /^-?\d{1,15}(\.\d{1,6})?$/

/** Whether `text` is a plain decimal as JSON carries it: no exponent, at most six digits after the point. */
export const isDecimalText = (text: string): boolean => PLAIN.test(text)

const HELD = /^-?\d{1,12}(\.\d{1,6})?$/

/** Whether `text` is a quantity or price that can be kept: below 10¹², at most six digits after the point. isHeldDecimal('1000000000000') //=> false */
export const isHeldDecimal = (text: string): boolean => HELD.test(text)

/**
 * Reads a plain decimal; exponents, spaces and separators are refused rather than guessed at.
 *
 * decimal('12.50').plus(1).toString() //=> '13.5'
 * @throws RuleBroken money.notADecimal
 */
export function decimal(text: string): Decimal {
  if (!isDecimalText(text)) throw new RuleBroken(stop('money.notADecimal', { text: text.slice(0, 40) }))
  return new Decimal(text)
}

/** Canonical text of a quantity or price: up to six digits, no trailing zeros. tidy('12.500000') //=> '12.5' */
export const tidy = (value: string | Decimal): string => new Decimal(value).toDecimalPlaces(6).toString()

/** Whether two texts are the same number. sameDecimal('120.00', '120') //=> true */
export const sameDecimal = (a: string, b: string): boolean => new Decimal(a).equals(b)

export const sumDecimals = (values: readonly (string | Decimal)[]): Decimal =>
  values.reduce<Decimal>((total, value) => total.plus(value), new Decimal(0))
