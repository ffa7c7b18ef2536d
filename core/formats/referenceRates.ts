import { isDay } from '#core/calendar/days.ts'
import { parseXml, type XmlElement } from '#core/formats/xml.ts'
import { isDecimalText } from '#core/money/decimal.ts'
import type { ReferenceRate } from '#core/money/referenceRates.ts'
import { RuleBroken, stop } from '#core/reasons.ts'

/**
 * Euro reference rates as the European Central Bank writes them: cubes with a day (`time`), in them cubes with `currency` and `rate`, units of the
 * currency for one euro.
 *
 * @throws RuleBroken rates.unreadable where no rate is in it, and what reading XML throws
 */
export function readReferenceRates(text: string): ReferenceRate[] {
  const rates: ReferenceRate[] = []
  const walk = (element: XmlElement, day: string): void => {
    const { time = day, currency, rate } = element.attributes
    if (
      currency !== undefined &&
      rate !== undefined &&
      /^[A-Z]{3}$/.test(currency) &&
      isDay(time) &&
      isDecimalText(rate)
    )
      rates.push({ currency, day: time, perUnit: rate })
    for (const child of element.children) walk(child, time)
  }
  walk(parseXml(text), '')
  if (rates.length === 0) throw new RuleBroken(stop('rates.unreadable'))
  return rates
}
