import { type DatedRate, rateOn } from '#core/money/exchange.ts'
import { RuleBroken } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'

declare module 'knex/types/tables.js' {
  interface Tables {
    exchangeRates: { currency: string; validFrom: string; rate: string }
  }
}

/** The rate of a currency to the base currency on a day (today, unless said). */
export async function baseRate(call: Read, currency: string, day = call.today): Promise<string> {
  if (currency === call.base) return '1'
  const rates = (await call
    .trx('exchangeRates')
    .where({ currency })
    .andWhere('validFrom', '<=', day)
    .orderBy('validFrom', 'desc')
    .limit(1)) as DatedRate[]
  return rateOn(rates, currency, day, call.base)
}

/** The same for several currencies; one without a rate has none. */
export async function baseRates(
  call: Read,
  currencies: Iterable<string>,
  day = call.today,
): Promise<Map<string, string | null>> {
  const rates = new Map<string, string | null>()
  for (const currency of new Set(currencies))
    rates.set(
      currency,
      await baseRate(call, currency, day).catch((error: unknown) => {
        if (error instanceof RuleBroken) return null
        throw error
      }),
    )
  return rates
}
