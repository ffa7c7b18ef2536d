import { standingAmount } from '#core/ledger/commitments.ts'
import { type Minor, minor, sumMinor } from '#core/money/amount.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { lineValues, standingOf } from '#core/order/standing.ts'
import type { OrderState } from '#core/order/states.ts'

/** What is committed for an order now and would be free again in another state, in the base currency's smallest unit. */
export function releasedIn(order: OrderFacts, state: OrderState): Minor {
  const values = lineValues(order)
  const now = sumMinor(order.lines.map(line => standingAmount(line.standing, 'committed')))
  const then = sumMinor(order.lines.map(line => standingOf(line, values.get(line.id)!, state).committed))
  return minor(now - then)
}
