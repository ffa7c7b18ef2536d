import { callsOff } from '#core/agreements/callOff.ts'
import { whyNotCaller } from '#core/agreements/callers.ts'
import { againstDay } from '#core/agreements/ceilings.ts'
import { NO_QUANTITIES } from '#core/ledger/quantity.ts'
import type { Reason } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'
import { someIds } from '#server/database/rows.ts'
import { costCentresOf } from '#server/ledger/budgetStore.ts'
import { callingRows, callOffReasons } from '#server/ledger/callingStore.ts'
import { agreementsOfLines, calledAgreements } from '#server/ledger/consumptionStore.ts'
import type { RequisitionLine, RequisitionRow } from '#server/request/requisitionStore.ts'

/** What stands against calling off what a request calls off: the agreement is not in force, it is for others, or a ceiling would be passed. */
export async function requestCallOffs(
  call: Read,
  requisition: RequisitionRow,
  lines: readonly RequisitionLine[],
): Promise<Reason[]> {
  const calling = lines.filter(callsOff)
  if (calling.length === 0) return []
  const agreementOf = await agreementsOfLines(call, someIds(calling.map(line => line.agreementLineId)))
  const agreements = await calledAgreements(call, [...new Set(agreementOf.values())])
  const centres = await costCentresOf(
    call,
    calling.flatMap(line => line.splits.map(split => split.accountId)),
  )
  const own = calling.flatMap(line => {
    const agreement = agreements.get(agreementOf.get(line.agreementLineId!)!)!
    const place = { place: `lines.${line.position}.offerId` }
    const costCentres = [...new Set(line.splits.flatMap(split => centres.get(split.accountId) ?? []))]
    const caller = { personId: requisition.requesterId, costCentres, addressId: line.addressId }
    return [...againstDay(agreement, call.today, place), ...whyNotCaller(agreement, caller, place)]
  })
  if (own.length > 0) return own
  const quantities = new Map(lines.map(line => [line.id, line.quantity]))
  const rows = await callingRows(call, { requisitionIds: [requisition.id], orderIds: [] })
  return await callOffReasons(call, rows, id => ({ ...NO_QUANTITIES, requested: quantities.get(id) ?? '0' }))
}
