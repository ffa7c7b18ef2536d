import {
  type DefaultKey,
  effectiveDefaults,
  type EffectiveValue,
  HOUSE_DEFAULTS,
  type OrderChannel,
  type SupplierDefaults,
} from '#core/source/defaults.ts'
import { formatAmount } from '#core/money/amount.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { payTerms } from '#core/order/payTerms.ts'
import { takesOrder } from '#core/order/supplierPlace.ts'
import type { PaymentTerms } from '#core/pay/terms.ts'
import type { Reason } from '#core/reasons.ts'
import { whyNotOrderFrom } from '#core/source/orderable.ts'
import type { Read } from '#server/call.ts'
import type { OrderRow } from '#server/order/orderStore.ts'
import { supplierPlaces } from '#server/order/placeStore.ts'
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
  'orderChannel',
  'prepaidPercent',
  'retainedPercent',
  'retainedDays',
]

type Facts = Pick<OrderRow, 'supplierId' | 'locationId' | 'conditions' | 'agreed'>

/** What a supplier and the place of it that takes an order say. */
export async function defaultsOf(
  call: Read,
  supplierId: string,
  locationId: string | null,
): Promise<{ supplier: SupplierDefaults; location: SupplierDefaults }> {
  const supplier = await call.trx('suppliers').where({ id: supplierId }).first('defaults')
  const place = takesOrder(await supplierPlaces(call, supplierId), locationId)
  return { supplier: supplier?.defaults ?? {}, location: place?.defaults ?? {} }
}

/** An order's conditions with where each comes from: as they stand for a draft, as they were frozen for an issued order. */
export async function orderConditions(call: Read, order: Facts): Promise<EffectiveValue[]> {
  if (order.agreed) return order.agreed
  const { supplier, location } = await defaultsOf(call, order.supplierId, order.locationId)
  return effectiveDefaults([
    ['house', { ...HOUSE_DEFAULTS, currency: call.base }],
    ['supplier', supplier],
    ['location', location],
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

/** How an order would reach its supplier. */
export const channelOf = (conditions: readonly EffectiveValue[]): OrderChannel =>
  (conditions.find(one => one.key === 'orderChannel')?.value || 'mail') as OrderChannel

/** What stands in the way of ordering at a supplier: its state, a stop by its defaults, certificates that a category asks for. */
export async function supplierReasons(
  call: Read,
  supplierId: string,
  itemIds: readonly (string | null)[],
): Promise<Reason[]> {
  const supplier = await call.trx('suppliers').where({ id: supplierId }).first('name', 'state')
  if (!supplier) return []
  const said = await defaultsOf(call, supplierId, null)
  const ordersStopped = (said.location.ordersStopped ?? said.supplier.ordersStopped) === 'yes'
  return [...whyNotOrderFrom({ ...supplier, ordersStopped }), ...(await certificateReasons(call, supplierId, itemIds))]
}

/** What is paid ahead and held back of an order, for whoever reads it. */
export function aheadJson(
  order: OrderFacts,
  conditions: readonly EffectiveValue[],
): { key: 'prepaid' | 'retained'; percent: string; amount: string }[] {
  const terms = payTerms(order, conditions)
  const percent = (key: DefaultKey): string => conditions.find(one => one.key === key)?.value ?? ''
  const rows = [
    { key: 'prepaid' as const, percent: percent('prepaidPercent'), amount: terms.prepaid },
    { key: 'retained' as const, percent: percent('retainedPercent'), amount: terms.retained },
  ]
  return rows
    .filter(one => one.amount !== 0n)
    .map(one => ({ ...one, amount: formatAmount(one.amount, order.currency) }))
}
