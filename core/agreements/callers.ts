import type { Callers } from '#core/agreements/content.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** Who calls off, for whom, to where. */
export interface Caller {
  readonly personId: string
  readonly costCentres: readonly string[]
  readonly addressId: string | null
}

/** Why somebody may not call off: the agreement names people, cost centres or places, and this is none of them. */
export function whyNotCaller(
  agreement: { readonly number: string; readonly callers: Callers },
  caller: Caller,
  place: { readonly place?: string } = {},
): Reason[] {
  const { personIds, costCentres, addressIds } = agreement.callers
  const { number } = agreement
  return [
    ...(personIds.length === 0 || personIds.includes(caller.personId)
      ? []
      : [stop('agreement.notThisPerson', { number }, place)]),
    ...(costCentres.length === 0 || caller.costCentres.every(one => costCentres.includes(one))
      ? []
      : [stop('agreement.notThisCentre', { number, centres: costCentres.join(', ') }, place)]),
    ...(addressIds.length === 0 || caller.addressId === null || addressIds.includes(caller.addressId)
      ? []
      : [stop('agreement.notThisPlace', { number }, place)]),
  ]
}
