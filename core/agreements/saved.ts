import { lineAmount, type Minor, minor } from '#core/money/amount.ts'
import { tidy } from '#core/money/decimal.ts'
import { Decimal } from '#core/money/decimal.ts'

/**
 * What was saved against the list price with what was committed and used: list price × quantity − what it cost, both in the agreement's currency. Nothing where no list
 * price is known, or the line is priced in another currency than the agreement counts in.
 */
export function savedOn(
  line: { readonly listPrice: string; readonly priceBase: string; readonly currency: string },
  bought: { readonly amount: bigint; readonly quantity: string },
  currency: string,
): Minor | null {
  if (line.listPrice === '' || line.currency !== currency) return null
  const list = lineAmount({
    quantity: tidy(Decimal.max(0, bought.quantity)),
    price: line.listPrice,
    priceBase: line.priceBase,
    currency,
  })
  return minor(list - bought.amount)
}
