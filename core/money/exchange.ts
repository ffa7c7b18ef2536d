import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { amountToDecimal, type Minor, minor, roundAmount } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'

/** One unit of `currency` costs `rate` units of the base currency from `validFrom` until the next entry. */
export interface DatedRate {
  readonly currency: string
  readonly validFrom: string
  readonly rate: string
}

/**
 * What stands against a rate that somebody enters: it is none for this currency, or another one holds from the same day. Documents were made at
 * that one, so that it keeps its value and a new one holds from another day.
 */
export function whyNotRate(wanted: DatedRate, base: string, there: string | undefined): Reason[] {
  if (wanted.currency === base) return [stop('rate.none', { base }, { place: 'currency' })]
  if (!new Decimal(wanted.rate).gt(0)) return [stop('rate.none', { base }, { place: 'rate' })]
  return there === undefined ? [] : [stop('rate.there', { day: wanted.validFrom, rate: there }, { place: 'validFrom' })]
}

/**
 * The rate to the base currency that holds on `date`.
 *
 * rateOn(rates, 'NOK', '2026-05-01', 'EUR') //=> '0.0861'
 * @throws RuleBroken money.noRate where none is entered on or before the date
 */
export function rateOn(rates: readonly DatedRate[], currency: string, date: string, base: string): string {
  if (currency === base) return '1'
  const valid = rates.filter(entry => entry.currency === currency && entry.validFrom <= date)
  const latest = valid.reduce<DatedRate | undefined>(
    (best, entry) => (!best || entry.validFrom > best.validFrom ? entry : best),
    undefined,
  )
  if (!latest) throw new RuleBroken(stop('money.noRate', { currency, date }))
  return latest.rate
}

/** Converts at a rate to the base currency, rounding half away from zero. toBase(minor(1000), 'NOK', '0.086', 'EUR') //=> 86n */
export function toBase(amount: Minor, currency: string, rate: string, base: string): Minor {
  if (currency === base) return minor(amount)
  return roundAmount(amountToDecimal(amount, currency).times(new Decimal(rate)), base)
}
