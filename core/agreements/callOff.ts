import { type CalledAgreement, againstCallOff, takenByLine } from '#core/agreements/ceilings.ts'
import {
  type ConsumedByKind,
  consumptionEntries,
  type ConsumptionEntry,
  NOTHING_CONSUMED,
} from '#core/agreements/consumption.ts'
import type { Reason } from '#core/reasons.ts'
import type { Route } from '#core/request/routes.ts'

/** Whether a requested line calls off: its offer, or what it says itself, belongs to a line of an agreement, and it may be called off. */
export const callsOff = (line: {
  readonly agreementLineId: string | null
  readonly routes: readonly Route[]
}): boolean => line.agreementLineId !== null && line.routes.includes('callOff')

/** A line of a request or an order with what stands in the ledger of agreements and what has to stand there. */
export interface CallingLine {
  readonly lineId: string
  /** The line of an agreement that it calls off; none: what stood is given back. */
  readonly agreementLineId: string | null
  readonly wanted: ConsumedByKind
  readonly stands: readonly { readonly agreementLineId: string; readonly by: ConsumedByKind }[]
}

/** The entries that bring lines to what has to stand; what stands on another agreement than the one that a line calls off now is given back there. */
export const callOffEntries = (lines: readonly CallingLine[]): ConsumptionEntry[] =>
  lines.flatMap(({ lineId, agreementLineId, wanted, stands }) => {
    const own = stands.find(one => one.agreementLineId === agreementLineId)?.by ?? NOTHING_CONSUMED
    return [
      ...stands
        .filter(one => one.agreementLineId !== agreementLineId)
        .flatMap(one => consumptionEntries({ lineId, agreementLineId: one.agreementLineId }, one.by, NOTHING_CONSUMED)),
      ...(agreementLineId === null ? [] : consumptionEntries({ lineId, agreementLineId }, own, wanted)),
    ]
  })

/** What stands against entries, agreement by agreement. */
export function againstEntries(
  agreements: readonly CalledAgreement[],
  entries: readonly ConsumptionEntry[],
  today: string,
): Reason[] {
  const taken = takenByLine(entries)
  return agreements.flatMap(agreement => {
    const own = new Set(agreement.lines.map(line => line.id))
    return againstCallOff(agreement, new Map([...taken].filter(([id]) => own.has(id))), today)
  })
}
