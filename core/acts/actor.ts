import { NOT_YOURS } from '#core/acts/decision.ts'
import type { Reason } from '#core/reasons.ts'

/** What decisions need to know of who acts. */
export interface ActorFacts {
  readonly id: string
  readonly name: string
  /** Rights, by their code. */
  readonly rights: ReadonlySet<string>
  readonly roles: readonly string[]
  /** Cost centres that the person holds or that their roles are limited to. */
  readonly costCentres: readonly string[]
  /** The company of a supplier's person. */
  readonly supplierId: string | null
  /** People in whose place this person may decide today. */
  readonly standsInFor: readonly string[]
}

export const mayDo = (actor: ActorFacts, right: string): boolean => actor.rights.has(right)

/** Nothing where the person has the right, else that it is not theirs to do. */
export const needsRight = (actor: ActorFacts, right: string): Reason[] => (mayDo(actor, right) ? [] : [NOT_YOURS])
