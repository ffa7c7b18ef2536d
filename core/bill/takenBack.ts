import type { InvoiceFacts } from '#core/bill/facts.ts'
import type { BudgetEntry } from '#core/ledger/budget.ts'
import type { QuantityEntry } from '#core/ledger/quantity.ts'
import { minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import { follow } from '#core/order/after.ts'

/**
 * Counter-entries of everything that an invoice has posted: what it billed is not billed, what it spent is not spent, and commitment and accrual are
 * what they have to be without it.
 */
export function takenBack(invoice: Pick<InvoiceFacts, 'posted' | 'orders'>): {
  quantity: QuantityEntry[]
  budget: BudgetEntry[]
} {
  const quantity = invoice.posted.quantities.map((entry): QuantityEntry => ({
    lineId: entry.lineId,
    kind: 'billed',
    quantity: new Decimal(0).minus(entry.quantity).toString(),
    reversesId: entry.id,
  }))
  const spent = invoice.posted.spent.map(entry => ({ ...entry, amount: minor(-entry.amount) }))
  const again = invoice.orders.flatMap(order => {
    const own = new Set(order.lines.map(line => line.id))
    return follow(
      order,
      quantity.filter(entry => own.has(entry.lineId)),
    ).budget
  })
  return { quantity, budget: [...spent, ...again] }
}
