import type { CalledAgreement } from '#core/agreements/ceilings.ts'
import type { AgreementContent } from '#core/agreements/content.ts'
import type { AmendmentState } from '#core/agreements/states.ts'
import type { WindDownStep } from '#core/agreements/windDown.ts'
import type { Consent } from '#core/consent/consent.ts'
import type { Reason } from '#core/reasons.ts'

/** What is known of an agreement when somebody wants to do something with it. */
export interface AgreementFacts extends CalledAgreement {
  readonly title: string
  readonly supplierId: string
  readonly supplier: string
  readonly ownerId: string
  /** 0 before it was ever in force, then 1 and one more for each amendment. */
  readonly revision: number
  /** What holds; of a draft that was never in force what it would say. */
  readonly content: AgreementContent
  /** What an amendment would say. */
  readonly wanted: AgreementContent | null
  readonly amendment: AmendmentState
  /** The question to those who decide it, or its amendment. */
  readonly consent: Consent | null
  /** What stands in the way of buying from its supplier at all. */
  readonly supplierReasons: readonly Reason[]
  /** Warnings that were given: days before the end, and per cent of a ceiling. */
  readonly warned: Warned
  /** The steps of its wind-down, once that has begun. */
  readonly steps: readonly WindDownStep[]
  readonly createdAt: string
}

export interface Warned {
  readonly days: readonly number[]
  readonly percent: boolean
}
