import type { AgreementContent } from '#core/agreements/content.ts'
import type { AgreementState, AmendmentState } from '#core/agreements/states.ts'
import type { ConsentNext, NewConsent } from '#core/consent/consent.ts'

/** What becomes of open orders whose prices an amendment changes: they keep them, or what is not yet issued, or all that is not yet delivered takes the new ones. */
export const OPEN_ORDERS = ['keep', 'drafts', 'all'] as const
export type OpenOrders = (typeof OPEN_ORDERS)[number]

/** What of an agreement is written anew after an act. */
export interface AgreementNext {
  readonly state: AgreementState
  readonly amendment: AmendmentState
  /** What it says, where that is written: a draft, or an amendment. */
  readonly writes?: AgreementContent | null
  /** This comes into force, as the next revision. */
  readonly inForce?: AgreementContent
  /** Why it is amended; frozen with the revision. */
  readonly reason?: string
  readonly asks?: NewConsent
  readonly consent?: ConsentNext
}
