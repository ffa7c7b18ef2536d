import { type Minor, lineAmount, minor } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'

/** Tolerances: a difference is within tolerance only if it is within every limit that is set; under-billing never blocks. */
export interface Tolerance {
  readonly percent: string | null
  /** In the smallest unit of the invoice currency for amounts, as a quantity for quantities. */
  readonly absolute: string | null
}

export interface ToleranceProfile {
  readonly price: Tolerance
  readonly quantity: Tolerance
  readonly freight: Tolerance
}

export const STRICT: ToleranceProfile = {
  price: { percent: '0', absolute: null },
  quantity: { percent: '0', absolute: null },
  freight: { percent: null, absolute: '0' },
}

export interface OrderFacts {
  readonly ordered: string
  readonly price: string
  readonly priceBase: string
  readonly unit: string
  /** Received less returned for goods, accepted for work. */
  readonly proven: string
  readonly alreadyBilled: string
  readonly proof: 'received' | 'accepted'
  /** False: billed at once and accepted afterwards, or not proven at all; then only the order counts. */
  readonly provenFirst?: boolean
}

export interface BilledLine {
  readonly position: number
  readonly quantity: string
  readonly unit: string
  readonly net: Minor
  readonly order: OrderFacts | null
}

export type HoldKind = 'noOrderLine' | 'unit' | 'price' | 'quantity' | 'proof' | 'charges' | 'currency' | 'nearDuplicate'

/** One difference that stops an invoice, in quantity and in money (smallest unit of the invoice currency). */
export interface Hold {
  readonly position: number | null
  readonly kind: HoldKind
  readonly quantity: string
  readonly amount: Minor
  /** Who can clear it, as a role. */
  readonly clearedBy: 'buyer' | 'receiver' | 'requester' | 'invoiceClerk'
}

/**
 * Three-way match of one line: price and quantity against the order, quantity against what was received or accepted
 * (domain page, section 7, level 3). The billed price is the line's net ÷ quantity, so allowances on the line count.
 */
export function matchLine(line: BilledLine, profile: ToleranceProfile, currency: string): Hold[] {
  const { order, position } = line
  if (!order) return [{ position, kind: 'noOrderLine', quantity: line.quantity, amount: line.net, clearedBy: 'invoiceClerk' }]
  if (order.unit !== line.unit) return [{ position, kind: 'unit', quantity: line.quantity, amount: line.net, clearedBy: 'invoiceClerk' }]
  return [...priceHold(line, order, profile, currency), ...quantityHolds(line, order, profile, currency)]
}

function priceHold(line: BilledLine, order: OrderFacts, profile: ToleranceProfile, currency: string): Hold[] {
  const expected = lineAmount({ quantity: line.quantity, price: order.price, priceBase: order.priceBase, currency })
  const over = minor(line.net - expected)
  if (within(over.toString(), expected.toString(), profile.price)) return []
  return [{ position: line.position, kind: 'price', quantity: '0', amount: over, clearedBy: 'buyer' }]
}

function quantityHolds(line: BilledLine, order: OrderFacts, profile: ToleranceProfile, currency: string): Hold[] {
  const total = new Decimal(order.alreadyBilled).plus(line.quantity)
  const worth = (quantity: Decimal): Minor => lineAmount({ quantity: tidy(quantity), price: order.price, priceBase: order.priceBase, currency })
  const overOrdered = total.minus(order.ordered)
  if (!within(overOrdered, order.ordered, profile.quantity))
    return [{ position: line.position, kind: 'quantity', quantity: tidy(overOrdered), amount: worth(overOrdered), clearedBy: 'buyer' }]
  if (order.provenFirst === false) return []
  const overProven = total.minus(order.proven)
  if (within(overProven, order.proven, profile.quantity)) return []
  return [{ position: line.position, kind: 'proof', quantity: tidy(overProven), amount: worth(overProven), clearedBy: order.proof === 'received' ? 'receiver' : 'requester' }]
}

/** Whether `over` is nothing or within every limit set, the percentage measured on `base`. */
export function within(over: string | Decimal, base: string | Decimal, tolerance: Tolerance): boolean {
  const difference = new Decimal(over)
  if (difference.lte(0)) return true
  const limits = [
    tolerance.percent === null ? null : new Decimal(base).times(tolerance.percent).dividedBy(100),
    tolerance.absolute === null ? null : new Decimal(tolerance.absolute),
  ].filter(limit => limit !== null)
  return limits.length > 0 && limits.every(limit => difference.lte(limit))
}

/** Charges of the document (freight and others, less allowances) against what the order agreed. */
export function matchCharges(billed: Minor, agreed: Minor, profile: ToleranceProfile): Hold[] {
  const over = minor(billed - agreed)
  if (within(over.toString(), agreed.toString(), profile.freight)) return []
  return [{ position: null, kind: 'charges', quantity: '0', amount: over, clearedBy: 'buyer' }]
}

/** Invoice numbers compare without case, spaces, punctuation and leading zeros. normalNumber('inv-0042 / A') //=> 'INV42A' */
export const normalNumber = (number: string): string =>
  number
    .normalize('NFKC')
    .toUpperCase()
    .replace(/[^\p{L}\p{N}]/gu, '')
    .replace(/(^|\D)0+(?=\d)/g, '$1')
