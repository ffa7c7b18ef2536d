import { plainWords } from '#core/request/personalFee.ts'
import { type Decision, done, refused } from '#core/acts/decision.ts'
import type { LineSplit } from '#core/ledger/commitments.ts'
import { type QuantitySums, toOrder } from '#core/ledger/quantity.ts'
import { lineAmount, type Minor, sumMinor } from '#core/money/amount.ts'
import { toBase } from '#core/money/exchange.ts'
import type { ChargeItem } from '#core/order/charges.ts'
import { earliestNeed } from '#core/order/measures.ts'
import { whyNotInEvent, whyNotRoute, whyNotWaiting } from '#core/order/poolLines.ts'
import { type Reason, stop } from '#core/reasons.ts'
import type { LineDetails, LineKind, Proof } from '#core/request/kinds.ts'
import type { Route } from '#core/request/routes.ts'
import type { LineState } from '#core/request/states.ts'

/** An approved line in the pool, with what its order takes over. */
export interface PoolLine {
  readonly id: string
  readonly requisitionId: string
  readonly requisition: string
  readonly requestTitle: string
  readonly position: number
  readonly state: LineState
  readonly kind: LineKind
  readonly itemId: string | null
  readonly description: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly currency: string
  readonly supplierId: string | null
  readonly supplierName: string
  /** Per cent of goods that may come in above what was ordered there. */
  readonly overReceiptPercent: number
  readonly needBy: string | null
  readonly addressId: string | null
  readonly proof: Proof
  readonly details: LineDetails
  readonly incoterm: string | null
  readonly incotermPlace: string
  readonly splits: readonly LineSplit[]
  readonly routes: readonly Route[]
  /** The agreement that its offer belongs to; empty where it belongs to none. */
  readonly agreement: string
  /** The line of it. */
  readonly agreementLineId: string | null
  /** A question to the requester is open. */
  readonly asked: boolean
  /** Number of the open event that asks for quotes for it; empty: none. */
  readonly event: string
  readonly sums: QuantitySums
}

export interface NewOrderLine {
  /** The line of a request that it buys; an order from before buys for none. */
  readonly requisitionLineId: string | null
  /** The line of an event that it was awarded by. */
  readonly eventLineId?: string | null
  /** The line of an agreement that it calls off. */
  readonly agreementLineId?: string | null
  readonly kind: LineKind
  readonly itemId: string | null
  readonly description: string
  readonly quantity: string
  readonly unit: string
  readonly price: string
  readonly priceBase: string
  readonly amount: Minor
  readonly baseAmount: Minor
  readonly needBy: string | null
  readonly addressId: string | null
  readonly proof: Proof
  readonly details: LineDetails
  readonly incoterm: string | null
  readonly incotermPlace: string
  readonly overReceiptPercent: number
  readonly splits: readonly LineSplit[]
}

export interface NewOrder {
  readonly title: string
  readonly message?: string
  /** Freight and other charges of the whole order less its discounts, in its currency. */
  readonly charges?: Minor
  readonly chargeItems?: readonly ChargeItem[]
  readonly supplierId: string
  readonly supplierName: string
  readonly currency: string
  readonly rate: string
  readonly agreement: string
  /** It is written without a request. */
  readonly direct?: true
  readonly addressId: string | null
  readonly needBy: string | null
  readonly total: Minor
  readonly baseTotal: Minor
  readonly lines: readonly NewOrderLine[]
  /** Numbers of the requests that it buys for. */
  readonly from: readonly string[]
}

export type BuyingRoute = 'orderNow' | 'callOff'

/** What stands against buying a line by a route. Buying lines together allows only what all of them allow. */
export function whyNotBuy(line: PoolLine, route: BuyingRoute): Reason[] {
  const details = { line: plainWords(line) }
  const gone = whyNotWaiting(line)
  if (gone.length > 0) return gone
  const inEvent = whyNotInEvent(line)
  if (inEvent.length > 0) return inEvent
  if (line.asked) return [stop('pool.questionOpen', details, { clearedBy: ['requester'] })]
  if (line.supplierId === null) return [stop('pool.noSupplier', details)]
  const forbidden = whyNotRoute(route, line)
  if (forbidden.length > 0) return forbidden
  return route === 'callOff' && line.agreement === '' ? [stop('pool.noAgreement', details)] : []
}

/**
 * Makes draft orders of approved lines, one for each supplier, currency and, where an agreement is called off, agreement. What was ordered of
 * a line already stays out; amounts are at the rate of the day, rounded once at the line.
 */
export function draftOrders(
  lines: readonly PoolLine[],
  route: BuyingRoute,
  rates: ReadonlyMap<string, string | null>,
  base: string,
): Decision<{ readonly orders: readonly NewOrder[] }> {
  const against = lines.flatMap(line => [
    ...whyNotBuy(line, route),
    ...((rates.get(line.currency) ?? null) === null ? [stop('line.noRate', { currency: line.currency, base })] : []),
  ])
  if (against.length > 0) return refused(against)
  const groups = new Map<string, PoolLine[]>()
  for (const line of lines) {
    const key = `${line.supplierId} ${line.currency} ${route === 'callOff' ? line.agreement : ''}`
    groups.set(key, [...(groups.get(key) ?? []), line])
  }
  const orders = [...groups.values()].map(group => draft(group, route, rates.get(group[0]!.currency)!, base))
  return done({ orders }, { action: 'drafted', changes: { orders: orders.length } })
}

function draft(group: readonly PoolLine[], route: BuyingRoute, rate: string, base: string): NewOrder {
  const first = group[0]!
  const requests = new Map(group.map(line => [line.requisition, line.requestTitle]))
  const from = [...requests.keys()].sort()
  const title = requests.get(from[0]!)!
  const lines = [...group].sort(byRequest).map(line => ({
    ...orderLine(line, rate, base),
    agreementLineId: route === 'callOff' ? line.agreementLineId : null,
  }))
  return {
    title: from.length === 1 ? title : `${title} and ${from.length - 1} more`,
    supplierId: first.supplierId!,
    supplierName: first.supplierName,
    currency: first.currency,
    rate,
    agreement: route === 'callOff' ? first.agreement : '',
    addressId: first.addressId,
    needBy: earliestNeed(lines),
    total: sumMinor(lines.map(line => line.amount)),
    baseTotal: sumMinor(lines.map(line => line.baseAmount)),
    lines,
    from,
  }
}

const byRequest = (a: PoolLine, b: PoolLine): number =>
  a.requisitionId < b.requisitionId ? -1 : a.requisitionId > b.requisitionId ? 1 : a.position - b.position

function orderLine(line: PoolLine, rate: string, base: string): NewOrderLine {
  const quantity = toOrder(line.sums)
  const amount = lineAmount({ ...line, quantity })
  const { person: _person, ...details } = line.details
  return {
    requisitionLineId: line.id,
    kind: line.kind,
    itemId: line.itemId,
    description: line.description,
    quantity,
    unit: line.unit,
    price: line.price,
    priceBase: line.priceBase,
    amount,
    baseAmount: toBase(amount, line.currency, rate, base),
    needBy: line.needBy,
    addressId: line.addressId,
    proof: line.proof,
    details,
    incoterm: line.incoterm,
    incotermPlace: line.incotermPlace,
    overReceiptPercent: line.kind === 'goods' ? line.overReceiptPercent : 0,
    splits: line.splits,
  }
}
