import { type DefaultKey, effectiveDefaults, type EffectiveValue, HOUSE_DEFAULTS } from '#core/source/defaults.ts'
import type { PaymentTerms } from '#core/pay/terms.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'
import type { OrderRow } from '#server/order/orderStore.ts'
import { certificateReasons } from '#server/source/certificateStore.ts'

/** What an order takes over from its supplier and can say otherwise. */
const ON_ORDERS: readonly DefaultKey[] = [
  'termsDays',
  'termsFrom',
  'incoterm',
  'incotermPlace',
  'method',
  'matchLevel',
  'workBilling',
]

type Facts = Pick<OrderRow, 'supplierId' | 'conditions' | 'agreed'>

const orderingPlace = (call: Read, supplierId: string) =>
  call
    .trx('supplierLocations')
    .where({ supplierId })
    .whereRaw("'takesOrders' = any(roles)")
    .orderBy('position')
    .first('defaults')

/** An order's conditions with where each comes from: as they stand for a draft, as they were frozen for an issued order. */
export async function orderConditions(call: Read, order: Facts): Promise<EffectiveValue[]> {
  if (order.agreed) return order.agreed
  const supplier = await call.trx('suppliers').where({ id: order.supplierId }).first('defaults')
  const location = await orderingPlace(call, order.supplierId)
  return effectiveDefaults([
    ['house', { ...HOUSE_DEFAULTS, currency: call.base }],
    ['supplier', supplier?.defaults ?? {}],
    ['location', location?.defaults ?? {}],
    ['document', order.conditions],
  ]).filter(one => ON_ORDERS.includes(one.key))
}

export function termsOf(conditions: readonly EffectiveValue[]): PaymentTerms {
  const value = (key: DefaultKey): string => conditions.find(one => one.key === key)?.value ?? ''
  return {
    days: Number(value('termsDays') || '30'),
    from: (value('termsFrom') || 'invoice') as PaymentTerms['from'],
  }
}

/** What stands in the way of ordering at a supplier: its state, a stop by its defaults, certificates that a category asks for. */
export async function supplierReasons(
  call: Read,
  supplierId: string,
  itemIds: readonly (string | null)[],
): Promise<Reason[]> {
  const supplier = await call.trx('suppliers').where({ id: supplierId }).first('name', 'state', 'defaults')
  if (!supplier) return []
  const location = await orderingPlace(call, supplierId)
  const stopped = (location?.defaults.ordersStopped ?? supplier.defaults.ordersStopped) === 'yes'
  const clearedBy = { clearedBy: ['buyer', 'sourcingLead'] }
  return [
    ...(supplier.state === 'active'
      ? []
      : [stop(`order.supplier.${supplier.state}`, { supplier: supplier.name }, clearedBy)]),
    ...(stopped ? [stop('order.supplier.stopped', { supplier: supplier.name }, clearedBy)] : []),
    ...(await certificateReasons(call, supplierId, itemIds)),
  ]
}
