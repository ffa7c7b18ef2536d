import { type Breach, breach, neverBelowNothing, standsAs } from '#core/ledger/law.ts'
import { Decimal } from '#core/money/decimal.ts'
import type { RequisitionFacts } from '#core/request/facts.ts'
import { reservedAmount } from '#core/request/reservation.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { isIn } from '#core/states.ts'

/**
 * What must hold of a request in the ledgers: each of its lines is requested in full while the request counts and not at all otherwise, no
 * more is ordered than that, and the approved value of what is not ordered yet is reserved.
 */
export function requisitionLaws(request: RequisitionFacts): Breach[] {
  return request.lines.flatMap(line => {
    const name = `${request.number} line ${line.position}`
    const counts = isIn(REQUISITION_GROUPS.counted, request.state) && line.state !== 'cancelled'
    const requested = counts ? line.quantity : '0'
    return [
      ...neverBelowNothing(name, line.sums),
      ...(new Decimal(line.sums.requested).equals(requested)
        ? []
        : [breach('requestedQuantity', name, requested, line.sums.requested)]),
      ...(new Decimal(line.sums.ordered).gt(line.sums.requested)
        ? [breach('orderedBeyondRequest', name, `at most ${line.sums.requested}`, line.sums.ordered)]
        : []),
      ...standsAs('reservedAmount', name, line, 'reserved', reservedAmount(line)),
    ]
  })
}
