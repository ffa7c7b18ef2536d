import { leadTo, type QuantityEntry } from '#core/ledger/quantity.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { reservationEntries, type RequestedFacts, withQuantities } from '#core/request/reservation.ts'

/** What follows in both ledgers when lines are no longer requested: nothing is requested on them, nothing reserved for them. */
export function takeBack(lines: readonly RequestedFacts[]): { quantity: QuantityEntry[]; budget: BudgetEntry[] } {
  const quantity = lines.flatMap(line => leadTo(line, 'requested', '0'))
  return { quantity, budget: reservationEntries(withQuantities(lines, quantity)) }
}
