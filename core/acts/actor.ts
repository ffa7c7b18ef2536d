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
  /** People in whose place this person may decide today, their accounts open. */
  readonly standsInFor: readonly StoodFor[]
}

/** Somebody in whose place another decides, with what they may do themselves: nobody does in their place what they may not. */
export interface StoodFor {
  readonly id: string
  readonly rights: ReadonlySet<string>
}

export const mayDo = (actor: ActorFacts, right: string): boolean => actor.rights.has(right)

/** Everybody in whose name this person acts, themselves first; with a right, those only who have it. */
export const actsAs = (actor: ActorFacts, right?: string): string[] =>
  [actor, ...actor.standsInFor].filter(one => right === undefined || one.rights.has(right)).map(one => one.id)

/** Nothing where the person has the right, else that it is not theirs to do. */
export const needsRight = (actor: ActorFacts, right: string): Reason[] => (mayDo(actor, right) ? [] : [NOT_YOURS])
