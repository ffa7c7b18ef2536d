import type { Consent } from '#core/consent/consent.ts'
import type { Minor } from '#core/money/amount.ts'
import type { RequestedFacts } from '#core/request/reservation.ts'
import type { RequisitionState } from '#core/request/states.ts'

/** What is known of a request when somebody wants to do something with it. */
export interface RequisitionFacts {
  readonly id: string
  readonly number: string
  readonly title: string
  readonly state: RequisitionState
  readonly requesterId: string
  readonly requester: string
  /** In the base currency's smallest unit. */
  readonly total: Minor
  readonly base: string
  readonly needBy: string | null
  readonly round: number
  readonly remindedAt: string | null
  readonly lines: readonly (RequestedFacts & { readonly position: number })[]
  /** The question to those who decide it, of the present round. */
  readonly consent: Consent | null
}
