import { PERSONAL_FEE } from '#core/request/personalFee.ts'
import type { Message } from '#core/acts/decision.ts'
import { formatAmount, type Minor, sumMinor } from '#core/money/amount.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'

/** A line as the supplier sees it on one revision. */
export interface RevisionLine {
  readonly lineId: string
  readonly position: number
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly amount: string
  readonly needBy: string | null
  /** What this line says beside its figures: its own Incoterm, its instalments, how far the ceiling is expected to be used. */
  readonly terms?: string
}

export interface LineDifference {
  readonly lineId: string
  readonly position: number
  readonly kind: 'added' | 'removed' | 'changed'
  readonly fields: {
    readonly field: 'description' | 'quantity' | 'price' | 'needBy'
    readonly before: string
    readonly after: string
  }[]
}

const COMPARED = ['description', 'quantity', 'price', 'needBy'] as const

/** What changed between two revisions, line by line; equal figures written differently (8 and 8.0) are no difference. */
export function compareRevisions(before: readonly RevisionLine[], after: readonly RevisionLine[]): LineDifference[] {
  const old = new Map(before.map(line => [line.lineId, line]))
  const kept = new Set(after.map(line => line.lineId))
  const changed = after.flatMap((line): LineDifference[] => {
    const earlier = old.get(line.lineId)
    if (!earlier) return [{ lineId: line.lineId, position: line.position, kind: 'added', fields: [] }]
    const fields = COMPARED.filter(field => differs(field, earlier[field], line[field])).map(field => ({
      field,
      before: earlier[field] ?? '',
      after: line[field] ?? '',
    }))
    return fields.length > 0 ? [{ lineId: line.lineId, position: line.position, kind: 'changed', fields }] : []
  })
  const removed = before
    .filter(line => !kept.has(line.lineId))
    .map((line): LineDifference => ({ lineId: line.lineId, position: line.position, kind: 'removed', fields: [] }))
  return [...changed, ...removed]
}

/** Differences as they are kept for all who read the history: what they say of a personal fee is left out. */
export const plainDifferences = (
  differences: readonly LineDifference[],
  lines: readonly Pick<OrderLine, 'id' | 'kind'>[],
): LineDifference[] => {
  const fees = new Set(lines.filter(line => line.kind === 'personalFee').map(line => line.id))
  return differences.map(difference => ({
    ...difference,
    fields: difference.fields.map(one =>
      one.field === 'description' && fees.has(difference.lineId)
        ? { ...one, before: PERSONAL_FEE, after: PERSONAL_FEE }
        : one,
    ),
  }))
}

const differs = (field: (typeof COMPARED)[number], a: string | null, b: string | null): boolean =>
  field === 'quantity' || field === 'price' ? !new Decimal(a ?? 0).equals(b ?? 0) : (a ?? '') !== (b ?? '')

/** What a supplier promises for one line of an order. */
export interface ResponseLine {
  readonly lineId: string
  readonly quantity: string
  readonly price: string
  readonly date: string
}

/** Where a supplier's answer departs from the order; an answer without departures confirms in full. */
export function responseDepartures(
  ordered: readonly RevisionLine[],
  answer: readonly ResponseLine[],
): LineDifference[] {
  const answered = new Map(answer.map(line => [line.lineId, line]))
  return ordered.flatMap((line): LineDifference[] => {
    const promise = answered.get(line.lineId)
    if (!promise) return []
    const fields: LineDifference['fields'] = []
    if (!new Decimal(promise.quantity).equals(line.quantity))
      fields.push({ field: 'quantity', before: line.quantity, after: promise.quantity })
    if (!new Decimal(promise.price).equals(line.price))
      fields.push({ field: 'price', before: line.price, after: promise.price })
    if (line.needBy !== null && promise.date > line.needBy)
      fields.push({ field: 'needBy', before: line.needBy, after: promise.date })
    return fields.length > 0 ? [{ lineId: line.lineId, position: line.position, kind: 'changed', fields }] : []
  })
}

/** What an order comes to with its charges, in its currency. */
export const orderTotal = (
  order: Pick<OrderFacts, 'charges'> & { readonly lines: readonly Pick<OrderLine, 'amount'>[] },
): Minor => sumMinor([order.charges, ...order.lines.map(line => line.amount)])

/** The lines of an order as one of its revisions shows them. */
export const revisionLines = (order: Pick<OrderFacts, 'lines' | 'currency'>): RevisionLine[] =>
  order.lines.map(line => ({
    lineId: line.id,
    position: line.position,
    description: line.description,
    quantity: line.quantity,
    unit: line.unit,
    price: line.price,
    priceBase: line.priceBase,
    amount: formatAmount(line.amount, order.currency),
    needBy: line.needBy,
  }))

/** The message with which a revision goes to the supplier; the same revision goes once. */
export const revisionMail = (order: OrderFacts, reason: string, by: string): Message => ({
  template: order.revision === 0 ? 'order.issued' : 'order.revised',
  to: { kind: 'supplier', id: order.supplierId, message: 'orders' },
  key: `order:${order.id}:${order.revision}`,
  details: {
    number: order.number,
    title: order.title,
    revision: order.revision,
    currency: order.currency,
    total: formatAmount(orderTotal(order), order.currency),
    supplier: order.supplier,
    reason,
    by,
    path: `/supplier/orders/${order.id}`,
  },
  attach: { orderId: order.id, revision: order.revision },
})
