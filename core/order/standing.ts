import { adjustTo, type LineSplit } from '#core/ledger/commitments.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import { type Minor, minor, portion } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { chargedOn, chargesByLine, payersOf } from '#core/order/charges.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { billed, type Measured, proven, toBill, unbilled } from '#core/order/measures.ts'
import { ORDER_GROUPS, type OrderState } from '#core/order/states.ts'
import { reservationEntries } from '#core/request/reservation.ts'
import { isIn } from '#core/states.ts'

type Valued = Pick<OrderFacts, 'charges' | 'chargeItems' | 'currency' | 'rate' | 'base'> & {
  readonly lines: readonly Pick<OrderLine, 'id' | 'baseAmount'>[]
}

/**
 * Value of each line with its share of the order's charges, in the base currency's smallest unit (domain page, section 2). Charges are
 * shared by value, equally where all lines are worth nothing; shares re-add.
 */
export function lineValues(order: Valued): Map<string, Minor> {
  const charges = chargesByLine(order)
  return new Map(order.lines.map(line => [line.id, minor(line.baseAmount + chargedOn(charges.get(line.id)!))]))
}

/** Who pays for each line with its share of the charges. */
export function payersByLine(order: OrderFacts): Map<string, readonly LineSplit[]> {
  const charges = chargesByLine(order)
  return new Map(order.lines.map(line => [line.id, payersOf(line, charges.get(line.id)!)]))
}

export interface Standing {
  readonly committed: Minor
  readonly accrued: Minor
}

/**
 * What has to be committed and accrued on a line, from what it is worth and how far it has come:
 * committed is the value, at the ordered price, of what may still be billed (after closing only of what came in and is not billed);
 * accrued the value of what is proven and not billed. Neither is ever below zero, and both are nothing when nothing is open.
 * In the base currency's smallest unit, rounded half away from zero.
 */
export function standingOf(line: Measured, value: Minor, state: OrderState): Standing {
  if (!isIn(ORDER_GROUPS.billable, state)) return { committed: minor(0), accrued: minor(0) }
  return {
    committed: portion(value, openToBill(line, state), line.quantity),
    accrued: portion(value, unbilled(line), line.quantity),
  }
}

/** The quantity that the supplier may still bill: what is ordered and not billed, of a closed order only what came in; nothing of one that takes no bills. */
export const openToBill = (line: Measured, state: OrderState): Decimal =>
  !isIn(ORDER_GROUPS.billable, state)
    ? new Decimal(0)
    : state === 'closed'
      ? Decimal.min(toBill(line), unbilled(line))
      : new Decimal(toBill(line))

/** The entries that bring commitment and accrual of every line of an order to what they have to be. */
export function standingEntries(order: OrderFacts): BudgetEntry[] {
  const values = lineValues(order)
  const payers = payersByLine(order)
  return order.lines.flatMap(line => {
    const { committed, accrued } = standingOf(line, values.get(line.id)!, order.state)
    const splits = payers.get(line.id)!
    return [
      ...adjustTo(line.standing, 'committed', line.id, committed, splits),
      ...adjustTo(line.standing, 'accrued', line.id, accrued, splits),
    ]
  })
}

/** The same with the reservations of what it buys. */
export const allEntries = (order: OrderFacts): BudgetEntry[] => [
  ...reservationEntries(order.requests),
  ...standingEntries(order),
]

export interface LineValues {
  readonly ordered: Minor
  readonly confirmed: Minor
  readonly received: Minor
  readonly billed: Minor
  readonly paid: Minor
}

/** How much of a line's value has come how far, for the Thread. Never more than it is worth unless more came or was billed. */
export function valuesSoFar(line: Measured, value: Minor): LineValues {
  const part = (quantity: string): Minor => portion(value, quantity, line.quantity)
  return {
    ordered: value,
    confirmed: part(line.sums.confirmed),
    received: part(proven(line)),
    billed: part(billed(line)),
    paid: part(line.sums.paid),
  }
}
