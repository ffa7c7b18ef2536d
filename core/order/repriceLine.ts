import { type ActorFacts, needsRight } from '#core/acts/actor.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import { type AccountFacts, overdrafts } from '#core/ledger/budget.ts'
import { lineAmount, type Minor, minor, moneyText } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { toBase } from '#core/money/exchange.ts'
import { mostFor, OVER_APPROVED_PERCENT } from '#core/order/againstRequest.ts'
import { whyNotWaiting } from '#core/order/poolLines.ts'
import type { PartPrice } from '#core/order/splitLine.ts'
import { stop } from '#core/reasons.ts'
import { reservationEntries, type RequestedFacts } from '#core/request/reservation.ts'

export interface RepricedLine {
  readonly price: string
  readonly priceBase: string
  readonly currency: string
  readonly amount: Minor
  readonly baseAmount: Minor
}

/**
 * Gives a line that waits to be bought the price that an event came to. What is reserved follows; it stays within what was approved, and its budget has
 * to bear it.
 */
export function repriceLine(
  line: RequestedFacts & { readonly position: number },
  price: PartPrice,
  accounts: readonly AccountFacts[],
  actor: ActorFacts,
  base: string,
): Decision<RepricedLine> {
  const against = [
    ...needsRight(actor, 'order.write'),
    ...whyNotWaiting(line),
    ...(new Decimal(line.sums.ordered).isZero()
      ? []
      : [stop('pool.partOrdered', { line: line.description, ordered: line.sums.ordered })]),
  ]
  if (against.length > 0) return refused(against)
  const { rate, ...given } = price
  const amount = lineAmount({ quantity: line.quantity, ...given })
  const baseAmount = toBase(amount, price.currency, rate, base)
  if (new Decimal(baseAmount.toString()).gt(mostFor(line.baseAmount)))
    return refused([
      stop(
        'pool.overApproved',
        {
          line: line.description,
          approved: moneyText(line.baseAmount, base),
          wanted: moneyText(baseAmount, base),
          percent: OVER_APPROVED_PERCENT,
        },
        { clearedBy: ['requester'] },
      ),
    ])
  const budget = reservationEntries([{ ...line, baseAmount: minor(baseAmount) }])
  const overdrawn = overdrafts(accounts, budget, sum => moneyText(sum, base))
  if (overdrawn.length > 0) return refused(overdrawn)
  return done<RepricedLine>(
    { ...given, amount, baseAmount },
    { action: 'linePriced', changes: { position: line.position, price: price.price, currency: price.currency } },
    { budget },
  )
}
