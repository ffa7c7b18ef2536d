import { isBilledTooEarly } from '#core/bill/proofGone.ts'
import type { Outstanding } from '#core/ledger/commitments.ts'
import { spread } from '#core/ledger/commitments.ts'
import { lineAmount, type Minor, sumMinor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { billed, provenForBill } from '#core/order/measures.ts'

/** A line of an order that a month leaves open, with what of it each account bears, in the base currency. */
export interface LeftOpen {
  readonly line: OrderLine
  readonly quantity: string
  readonly amount: Minor
  readonly byAccount: readonly Pick<Outstanding, 'accountId' | 'amount'>[]
}

/**
 * What is billed of a line and was not proven, at the ordered price and the order's rate; null where nothing is. What need not be proven, or is held
 * against the order only, is never billed too early. Rounded once, then spread by the line's shares.
 */
export function billedUnproven(
  line: OrderLine,
  order: Pick<OrderFacts, 'currency' | 'rate' | 'base'>,
): LeftOpen | null {
  if (!isBilledTooEarly(line)) return null
  const quantity = new Decimal(billed(line)).minus(Decimal.max(0, provenForBill(line))).toString()
  const worth = lineAmount({ quantity, price: line.price, priceBase: line.priceBase, currency: order.currency })
  const amount = toBase(worth, order.currency, order.rate, order.base)
  return { line, quantity, amount, byAccount: spread('spent', line.id, amount, line.splits) }
}

/** What several left open, by account. byAccount([{ byAccount: [{ accountId: 'a', amount: 700n }], … }]) //=> Map { 'a' => 700n } */
export function byAccount(open: readonly Pick<LeftOpen, 'byAccount'>[]): Map<string, Minor> {
  const sums = new Map<string, Minor>()
  for (const { accountId, amount } of open.flatMap(one => one.byAccount))
    sums.set(accountId, sumMinor([sums.get(accountId) ?? 0n, amount]))
  return sums
}
