import type { DefaultsJson } from '#contract/source/record.ts'
import { type DefaultKey, effectiveDefaults, type EffectiveValue, HOUSE_DEFAULTS, type SupplierDefaults } from '#core/source/defaults.ts'
import type { PaymentTerms } from '#core/pay/terms.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { Call } from '#server/call.ts'
import { certificateReasons } from '#server/source/certificates.ts'

/** What an order takes over from its supplier and can say otherwise. */
const ON_ORDERS: readonly DefaultKey[] = ['termsDays', 'termsFrom', 'incoterm', 'incotermPlace', 'method', 'matchLevel', 'workBilling']

interface Facts {
  readonly supplierId: string
  readonly conditions: DefaultsJson
  readonly agreed: EffectiveValue[] | null
}

/** An order's conditions with where each comes from: as they stand for a draft, as they were frozen for an issued order. */
export async function orderConditions(call: Call, order: Facts): Promise<EffectiveValue[]> {
  if (order.agreed) return order.agreed
  const supplier = (await call.trx('suppliers').where({ id: order.supplierId }).first('defaults')) as { defaults: SupplierDefaults }
  const location = (await call.trx('supplierLocations').where({ supplierId: order.supplierId }).whereRaw("'takesOrders' = any(roles)").orderBy('position').first('defaults')) as
    { defaults: SupplierDefaults } | undefined
  return effectiveDefaults([
    ['house', { ...HOUSE_DEFAULTS, currency: call.base }],
    ['supplier', supplier.defaults],
    ['location', location?.defaults ?? {}],
    ['document', order.conditions],
  ]).filter(one => ON_ORDERS.includes(one.key))
}

/** The payment terms among an order's conditions. */
export function termsOf(conditions: readonly EffectiveValue[]): PaymentTerms {
  const value = (key: DefaultKey): string => conditions.find(one => one.key === key)?.value ?? ''
  return { days: Number(value('termsDays') || '30'), from: (value('termsFrom') || 'invoice') as PaymentTerms['from'] }
}

/** What the supplier's record says about issuing an order to it: its state, a stop on orders, certificates of the categories that are ordered. */
export async function supplierReasons(call: Call, order: { supplierId: string }, itemIds: readonly (string | null)[]): Promise<Reason[]> {
  const supplier = (await call.trx('suppliers').where({ id: order.supplierId }).first('name', 'state', 'defaults')) as { name: string; state: string; defaults: SupplierDefaults }
  const location = (await call.trx('supplierLocations').where({ supplierId: order.supplierId }).whereRaw("'takesOrders' = any(roles)").orderBy('position').first('defaults')) as
    { defaults: SupplierDefaults } | undefined
  const stopped = (location?.defaults.ordersStopped ?? supplier.defaults.ordersStopped) === 'yes'
  return [
    ...(supplier.state !== 'active' ? [stop(`order.supplier.${supplier.state}`, { supplier: supplier.name }, { clearedBy: ['buyer', 'sourcingLead'] })] : []),
    ...(stopped ? [stop('order.supplier.stopped', { supplier: supplier.name }, { clearedBy: ['buyer', 'sourcingLead'] })] : []),
    ...(await certificateReasons(call, order.supplierId, itemIds)),
  ]
}
