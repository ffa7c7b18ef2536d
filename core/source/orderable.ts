import { type Reason, stop } from '#core/reasons.ts'
import { isIn } from '#core/states.ts'
import { SUPPLIER_GROUPS, type SupplierState } from '#core/source/states.ts'

export interface OrderableFacts {
  readonly name: string
  readonly state: SupplierState
  /** Its defaults, or those of the place that takes its orders, say that nothing is ordered there. */
  readonly ordersStopped: boolean
}

/** What stands in the way of ordering at a supplier by its own record; the buyer or the sourcing lead can put it right. */
export function whyNotOrderFrom({ name, state, ordersStopped }: OrderableFacts): Reason[] {
  const clearedBy = { clearedBy: ['buyer', 'sourcingLead'] }
  return [
    ...(isIn(SUPPLIER_GROUPS.orderable, state) ? [] : [stop(`order.supplier.${state}`, { supplier: name }, clearedBy)]),
    ...(ordersStopped ? [stop('order.supplier.stopped', { supplier: name }, clearedBy)] : []),
  ]
}
