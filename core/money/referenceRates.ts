import type { DatedRate } from '#core/money/exchange.ts'
import { Decimal } from '#core/money/decimal.ts'

/** What one unit of a reference currency costs in another, on a day: euro reference rates are given so. */
export interface ReferenceRate {
  readonly currency: string
  readonly day: string
  readonly perUnit: string
}

const DIGITS = 8

/**
 * Rates to the base currency from rates of a reference currency, all of the same day: straight where the reference is the base, else across.
 * Eight digits after the point, rounded half away from zero. Days on which the base currency has no rate give none.
 *
 * toBaseRates([{ currency: 'NOK', day: '2026-11-26', perUnit: '11.5' }], 'EUR', 'EUR')
 *   //=> [{ currency: 'NOK', validFrom: '2026-11-26', rate: '0.08695652' }]
 */
export function toBaseRates(rates: readonly ReferenceRate[], reference: string, base: string): DatedRate[] {
  const days = [...new Set(rates.map(rate => rate.day))].sort()
  return days.flatMap(day => {
    const own = rates.filter(rate => rate.day === day && new Decimal(rate.perUnit).gt(0))
    const perReference = base === reference ? '1' : own.find(rate => rate.currency === base)?.perUnit
    if (perReference === undefined) return []
    const others = [...own, { currency: reference, day, perUnit: '1' }].filter(rate => rate.currency !== base)
    return others.map(rate => ({
      currency: rate.currency,
      validFrom: day,
      rate: new Decimal(perReference).div(rate.perUnit).toDecimalPlaces(DIGITS, Decimal.ROUND_HALF_UP).toFixed(),
    }))
  })
}

/** Those whose currency has no rate from that day on yet: what was entered stays, because documents were made at it. */
export const notEntered = (rates: readonly DatedRate[], entered: readonly DatedRate[]): DatedRate[] => {
  const there = new Set(entered.map(one => `${one.currency} ${one.validFrom}`))
  return rates.filter(one => !there.has(`${one.currency} ${one.validFrom}`))
}
