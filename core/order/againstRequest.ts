import { plainWords } from '#core/request/personalFee.ts'
import { type Minor, moneyText, minor, portion } from '#core/money/amount.ts'
import { Decimal, tidy } from '#core/money/decimal.ts'
import type { OrderFacts } from '#core/order/facts.ts'
import { lineValues } from '#core/order/standing.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** How much dearer than approved, in per cent, an order line may be before the request has to be decided again. */
export const OVER_APPROVED_PERCENT = 10

/** The most that something approved may cost, in the base currency's smallest unit; exactly that much is still allowed. */
export const mostFor = (approved: Minor): Decimal =>
  new Decimal(approved.toString()).times(100 + OVER_APPROVED_PERCENT).dividedBy(100)

/**
 * What stands against an order as it would be: more of a line than is requested and not on other orders, or dearer than was approved.
 * What counts is the line's value with its share of freight and other charges, so that nothing is added unseen.
 */
export function againstRequest(order: OrderFacts): Reason[] {
  const values = lineValues(order)
  const requests = new Map(order.requests.map(request => [request.id, request]))
  return order.lines.flatMap((line): Reason[] => {
    const request = line.requestLineId === null ? undefined : requests.get(line.requestLineId)
    if (!request) return []
    const place = `lines.${line.position}`
    const elsewhere = new Decimal(request.sums.ordered).minus(line.sums.ordered)
    const open = new Decimal(request.sums.requested).minus(elsewhere)
    if (new Decimal(line.quantity).gt(open))
      return [
        stop(
          'order.overRequested',
          { line: plainWords(line), open: tidy(open), wanted: line.quantity },
          { place: `${place}.quantity`, clearedBy: ['requester'] },
        ),
      ]
    const approved = portion(request.baseAmount, line.quantity, request.quantity)
    const value = values.get(line.id) ?? minor(0)
    if (new Decimal(value.toString()).lte(mostFor(approved))) return []
    return [
      stop(
        'order.overApproved',
        {
          line: plainWords(line),
          approved: moneyText(approved, order.base),
          wanted: moneyText(value, order.base),
          percent: OVER_APPROVED_PERCENT,
        },
        { place: `${place}.price`, clearedBy: ['requester'] },
      ),
    ]
  })
}
