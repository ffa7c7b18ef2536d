import { monthOf } from '#core/calendar/months.ts'
import type { TaxRate } from '#core/bill/facts.ts'
import type { BilledByHand } from '#core/bill/billOrder.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { toBill, unbilled } from '#core/order/measures.ts'
import { ORDER_GROUPS } from '#core/order/states.ts'
import { type Reason, stop } from '#core/reasons.ts'
import { provenFirst } from '#core/request/kinds.ts'
import type { SupplierDefaults } from '#core/source/defaults.ts'
import { isIn } from '#core/states.ts'

/** Whether the bills of a supplier that agreed to it are due now: after each receipt, or once in a month for what came before it. */
export function selfBillsNow(agreed: SupplierDefaults['selfBilling'], lastOn: string | null, today: string): boolean {
  if (agreed === 'perReceipt') return true
  return agreed === 'monthly' && (lastOn === null || monthOf(lastOn) < monthOf(today))
}

/** A supplier whose bills we write sends none. */
export const whyNotBillOwn = (defaults: SupplierDefaults): Reason[] =>
  (defaults.selfBilling ?? 'no') === 'no' ? [] : [stop('bill.weBill')]

/** The tax that a supplier charges: nothing where its category charges none, else the highest rate of its country, or of ours. */
export function selfBilledTax(
  category: string,
  countries: readonly string[],
  rates: readonly TaxRate[],
): { taxCategory: string; taxRate: string } {
  if (category !== 'S') return { taxCategory: category, taxRate: '0' }
  const own = rates.filter(rate => countries.includes(rate.country)).map(one => one.rate)
  return { taxCategory: 'S', taxRate: own.sort((a, b) => new Decimal(b).comparedTo(a))[0] ?? '0' }
}

/**
 * What we bill ourselves of an order in the supplier's name (UNTDID 1001: 389): what is proven and not billed, at the ordered price, with the charges that are
 * agreed and not billed. Null where there is nothing: what need not be proven is the supplier's to bill.
 *
 * `waiting`: what bills that are here and not posted have of each line.
 */
export function selfBilled(
  order: OrderFacts,
  chargesBilled: Minor,
  waiting: ReadonlyMap<string, string>,
  tax: { readonly taxCategory: string; readonly taxRate: string },
  today: string,
): BilledByHand | null {
  if (!isIn(ORDER_GROUPS.billable, order.state)) return null
  const lines = order.lines
    .filter(line => provenFirst(line.proof))
    .map(line => ({
      lineId: line.id,
      quantity: Decimal.min(unbilled(line), toBill(line))
        .minus(waiting.get(line.id) ?? '0')
        .toString(),
      price: line.price,
    }))
    .filter(line => new Decimal(line.quantity).gt(0))
  if (lines.length === 0) return null
  const left = order.charges > chargesBilled ? order.charges - chargesBilled : 0n
  return { revision: order.revision, issueDate: today, freight: minor(left), ...tax, lines }
}

/** The number of a self-billed invoice: one run for each order. selfBilledNumber('O-1007', 2) //=> 'SB-O-1007-3' */
export const selfBilledNumber = (order: string, before: number): string => `SB-${order}-${before + 1}`
