import { RuleBroken, stop } from '#core/reasons.ts'
import { table } from '#core/text/table.ts'

/** Digits after the point of the currencies in use (ISO 4217, list one, column "minor unit"). */
const MINOR_DIGITS: Readonly<Record<string, number>> = table({
  AUD: 2,
  BHD: 3,
  CAD: 2,
  CHF: 2,
  CNY: 2,
  CZK: 2,
  DKK: 2,
  EUR: 2,
  GBP: 2,
  HUF: 2,
  ISK: 0,
  JPY: 0,
  KRW: 0,
  KWD: 3,
  NOK: 2,
  NZD: 2,
  PLN: 2,
  SEK: 2,
  SGD: 2,
  TND: 3,
  USD: 2,
})

export const currencies: readonly string[] = Object.keys(MINOR_DIGITS)

/** Whether a text is the code of a currency that is known here. isCurrency('EUR') //=> true */
export const isCurrency = (text: string): boolean => currencies.includes(text)

/**
 * Number of digits of a currency's smallest unit.
 *
 * minorDigits('JPY') //=> 0
 * @throws RuleBroken money.unknownCurrency
 */
export function minorDigits(currency: string): number {
  const digits = MINOR_DIGITS[currency]
  if (digits === undefined) throw new RuleBroken(stop('money.unknownCurrency', { currency }))
  return digits
}
