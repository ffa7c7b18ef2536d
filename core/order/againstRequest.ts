import { plainWords } from '#core/request/personalFee.ts'
import { allocate } from '#core/money/allocate.ts'
import { type Minor, minor, moneyText, portion, sumMinor } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import type { OrderFacts, OrderLine } from '#core/order/facts.ts'
import { lineValues } from '#core/order/standing.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** How much dearer than approved, in per cent, an order line may be before the request has to be decided again. */
export const OVER_APPROVED_PERCENT = 10

/** The most that something approved may cost, in the base currency's smallest unit; exactly that much is still allowed. */
export const mostFor = (approved: Minor): Decimal =>
  new Decimal(approved.toString()).times(100 + OVER_APPROVED_PERCENT).dividedBy(100)

/**
 * What was approved for what a line buys, in the base currency's smallest unit: nothing for what was not requested on an order that was written without
 * a request; null where that was decided elsewhere, as an award is.
 */
export function approvedFor(order: Pick<OrderFacts, 'requests' | 'direct'>, line: OrderLine): Minor | null {
  const request = order.requests.find(one => one.id === line.requestLineId)
  if (!request) return order.direct ? minor(0) : null
  return portion(request.baseAmount, line.quantity, request.quantity)
}

/** A line that costs more than was approved for it and may be, with its share of charges; in the base currency's smallest unit. */
export interface OverApproved {
  readonly line: OrderLine
  readonly approved: Minor
  readonly value: Minor
}

/**
 * Values of lines where a charge that has a line of its own is borne by the others, by value, as every other charge is. An order that was written without a request
 * was approved for nothing: there it stands for itself.
 */
function valuesWithChargeLines(order: OrderFacts): ReadonlyMap<string, Minor> {
  const values = lineValues(order)
  const bought = order.lines.filter(line => line.charge === undefined)
  if (order.direct || bought.length === order.lines.length || bought.length === 0) return values
  const weights = bought.map(line => line.baseAmount.toString())
  const charged = order.lines.flatMap(line => (line.charge === undefined ? [] : [values.get(line.id)!]))
  const parts = allocate(sumMinor(charged), weights.every(weight => weight === '0') ? weights.map(() => '1') : weights)
  return new Map(bought.map((line, at) => [line.id, minor(values.get(line.id)! + parts[at]!)]))
}

/** Lines above what was approved for what they buy: value with its share of freight and other charges, so that nothing is added unseen. */
export function overApproved(order: OrderFacts): OverApproved[] {
  const values = valuesWithChargeLines(order)
  return order.lines.flatMap((line): OverApproved[] => {
    if (!values.has(line.id)) return []
    const approved = approvedFor(order, line)
    if (approved === null) return []
    const value = values.get(line.id) ?? minor(0)
    return new Decimal(value.toString()).lte(mostFor(approved)) ? [] : [{ line, approved, value }]
  })
}

/** Lines above what was approved that nobody has said yes to since; a yes goes up to the value that it was asked about, exactly that included. */
export function notAllowed(order: OrderFacts): OverApproved[] {
  const given = order.excess?.consent.state === 'given' ? order.excess.upTo : new Map<string, Minor>()
  return overApproved(order).filter(({ line, value }) => value > (given.get(line.id) ?? 0n))
}

/** What stands against an order as it would be: more of a line than is requested and not on other orders, or dearer than was approved. */
export const againstRequest = (order: OrderFacts): Reason[] => [...overRequested(order), ...tooDear(order)]

function overRequested(order: OrderFacts): Reason[] {
  const requests = new Map(order.requests.map(request => [request.id, request]))
  return order.lines.flatMap((line): Reason[] => {
    const request = line.requestLineId === null ? undefined : requests.get(line.requestLineId)
    if (!request) return []
    const elsewhere = new Decimal(request.sums.ordered).minus(line.sums.ordered)
    const open = new Decimal(request.sums.requested).minus(elsewhere)
    return new Decimal(line.quantity).lte(open)
      ? []
      : [
          stop(
            'order.overRequested',
            { line: plainWords(line), open: tidy(open), wanted: line.quantity },
            { place: `lines.${line.position}.quantity`, clearedBy: ['requester'] },
          ),
        ]
  })
}

const tooDear = (order: OrderFacts): Reason[] =>
  notAllowed(order).map(({ line, approved, value }) =>
    stop(
      approved === 0n && order.direct ? 'order.notApproved' : 'order.overApproved',
      {
        line: plainWords(line),
        approved: moneyText(approved, order.base),
        wanted: moneyText(value, order.base),
        percent: OVER_APPROVED_PERCENT,
      },
      { place: `lines.${line.position}.price`, clearedBy: ['budgetHolder'] },
    ),
  )
