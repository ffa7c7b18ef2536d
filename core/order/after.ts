import { type AccountFacts, type BudgetEntry, overdrafts } from '#core/ledger/budget.ts'
import { type QuantityEntry, realQuantities } from '#core/ledger/quantity.ts'
import { moneyText } from '#core/money/amount.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { allEntries } from '#core/order/standing.ts'
import type { Reason } from '#core/reasons.ts'
import { withBudget, withQuantities } from '#core/request/reservation.ts'

/** An order as it is after quantities were posted on its lines or on what it buys. */
export const afterQuantities = (order: OrderFacts, entries: readonly QuantityEntry[]): OrderFacts => ({
  ...order,
  lines: withQuantities(order.lines, entries),
  requests: withQuantities(order.requests, entries),
})

/** An order as it is after amounts were posted on its lines or on what it buys. */
export const afterBudget = (order: OrderFacts, entries: readonly BudgetEntry[]): OrderFacts => ({
  ...order,
  lines: withBudget(order.lines, entries),
  requests: withBudget(order.requests, entries),
})

export interface Outcome {
  readonly after: OrderFacts
  readonly quantity: QuantityEntry[]
  readonly budget: BudgetEntry[]
}

/** What follows in both ledgers when an order becomes `next` and these quantities are posted. */
export function follow(next: OrderFacts, entries: readonly QuantityEntry[]): Outcome {
  const quantity = realQuantities(entries)
  const moved = afterQuantities(next, quantity)
  const budget = allEntries(moved)
  return { after: afterBudget(moved, budget), quantity, budget }
}

/** The accounts that would be overdrawn by an outcome and stop. */
export const outcomeOverdrafts = (outcome: Outcome, accounts: readonly AccountFacts[], base: string): Reason[] =>
  overdrafts(accounts, outcome.budget, amount => moneyText(amount, base))

/** The entries that change what is ordered on a line, and on the requested line that it buys. */
export const orderedEntries = (line: Pick<OrderLine, 'id' | 'requestLineId'>, quantity: string): QuantityEntry[] => [
  { lineId: line.id, kind: 'ordered', quantity },
  ...(line.requestLineId === null ? [] : [{ lineId: line.requestLineId, kind: 'ordered' as const, quantity }]),
]

/** Accounts on which acts on this order may post. */
export const accountsOf = (order: Pick<OrderFacts, 'lines' | 'requests' | 'chargeItems'>): string[] =>
  [
    ...new Set([
      ...order.chargeItems.flatMap(item => item.splits.map(split => split.accountId)),
      ...[...order.lines, ...order.requests].flatMap(line => [
        ...line.splits.map(split => split.accountId),
        ...line.standing.map(part => part.accountId),
      ]),
    ]),
  ].sort()
