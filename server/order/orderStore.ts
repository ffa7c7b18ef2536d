import type { DefaultsJson } from '#contract/source/record.ts'
import type { EffectiveValue } from '#core/source/defaults.ts'
import type { LineBody } from '#contract/request/lines.ts'
import type { RevisionLine } from '#core/order/revision.ts'
import type { OrderState } from '#core/order/states.ts'
import { extentOf } from '#core/ledger/quantity.ts'
import { formatAmount, type Minor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { LineDetails, LineKind, Proof } from '#core/request/kinds.ts'
import { unitLabel } from '#core/units/units.ts'
import { type Call, found } from '#server/call.ts'
import { quantitySums } from '#server/ledger/quantityStore.ts'

export interface OrderRow {
  id: string
  number: string
  title: string
  state: OrderState
  supplierId: string
  buyerId: string
  currency: string
  rate: string
  revision: number
  charges: bigint
  total: bigint
  baseTotal: bigint
  message: string
  addressId: string | null
  receiveExtent: string
  billExtent: string
  needBy: string | null
  version: number
  createdAt: string
  issuedAt: string | null
  changedAt: string
  /** What this order says otherwise than its supplier's defaults. */
  conditions: DefaultsJson
  /** The framework agreement that it calls off, if any. */
  agreement: string
  /** All conditions as they were when it was issued. */
  agreed: EffectiveValue[] | null
}
export interface OrderLineRow {
  id: string
  orderId: string
  position: number
  requisitionLineId: string | null
  kind: LineKind
  itemId: string | null
  description: string
  quantity: string
  unit: string
  price: string
  priceBase: string
  amount: bigint
  baseAmount: bigint
  needBy: string | null
  promisedDate: string | null
  addressId: string | null
  splits: LineBody['splits']
  overReceiptPercent: number
  proof: Proof
  details: LineDetails
  incoterm: string | null
  incotermPlace: string
}

export async function lockOrder(call: Call, id: string): Promise<OrderRow> {
  return found((await call.trx('orders').where({ id }).forNoKeyUpdate().first()) as OrderRow | undefined, 'order')
}

export const orderLines = async (call: Call, orderId: string): Promise<OrderLineRow[]> => (await call.trx('orderLines').where({ orderId }).orderBy('position')) as OrderLineRow[]

/** What is frozen when a revision is issued: all that the supplier sees. */
export interface RevisionContent {
  readonly title: string
  readonly message: string
  readonly charges: string
  readonly total: string
  readonly lines: RevisionLine[]
}

/** A line's own terms in words, as they stand on the order: they win over the order's. */
export function lineTerms(line: Pick<OrderLineRow, 'kind' | 'details' | 'incoterm' | 'incotermPlace' | 'proof' | 'unit'>, currency: string): string {
  const instalments = (line.details.instalments ?? []).map(one => `${one.title}: ${currency} ${one.amount}${one.due ? ` by ${one.due}` : ''}`)
  return [
    line.incoterm ? `${line.incoterm} ${line.incotermPlace} (Incoterms 2020)` : '',
    line.details.deliverable ?? '',
    instalments.length > 0 ? `in instalments: ${instalments.join('; ')}` : '',
    line.kind === 'workByRate' ? `a ceiling${line.details.expected ? `; expected are ${line.details.expected} ${unitLabel(line.unit)}` : ''}` : '',
    line.proof === 'billFirst' ? 'may be billed at once' : '',
  ]
    .filter(Boolean)
    .join('. ')
}

export function revisionContent(order: Pick<OrderRow, 'title' | 'message' | 'currency'> & { charges: Minor | bigint }, lines: readonly OrderLineRow[]): RevisionContent {
  const total = lines.reduce((sum, line) => sum + line.amount, order.charges as bigint)
  return {
    title: order.title,
    message: order.message,
    charges: formatAmount(order.charges, order.currency),
    total: formatAmount(total, order.currency),
    lines: lines.map(line => ({
      lineId: line.id,
      position: line.position,
      description: line.description,
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      priceBase: line.priceBase,
      amount: formatAmount(line.amount, order.currency),
      needBy: line.needBy,
      ...(lineTerms(line, order.currency) === '' ? {} : { terms: lineTerms(line, order.currency) }),
    })),
  }
}

/** Keeps the extents on the head, which lists filter by, in step with the ledger. */
export async function refreshExtents(call: Call, orderId: string, known?: readonly OrderLineRow[]): Promise<void> {
  const lines = known ?? (await orderLines(call, orderId))
  const sums = await quantitySums(
    call,
    lines.map(line => line.id),
  )
  const toProve = lines.filter(line => line.proof !== 'none')
  const proven = (id: string): string => Decimal.max(sums(id).received, sums(id).accepted).toString()
  await call
    .trx('orders')
    .where({ id: orderId })
    .update({
      receiveExtent: toProve.length === 0 ? 'full' : extentOf(toProve.map(line => ({ of: line.quantity, done: proven(line.id) }))),
      billExtent: extentOf(lines.map(line => ({ of: line.quantity, done: sums(line.id).billed }))),
    })
}
