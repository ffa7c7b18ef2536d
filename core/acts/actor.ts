import { NOT_YOURS } from '#core/acts/decision.ts'
import type { Minor } from '#core/money/amount.ts'
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
  /** Which decisions, by the purpose of the question; null: all. */
  readonly kinds: readonly string[] | null
  /** Up to which amount; null: as far as they themselves. */
  readonly limit: { readonly amount: Minor; readonly currency: string } | null
}

/** Whether somebody may decide a thing in another's place, by its kind and amount. What is in another currency than a limit is beyond it. */
export const reaches = (
  stoodFor: Pick<StoodFor, 'kinds' | 'limit'>,
  about: { readonly kind: string; readonly amount: Minor | null; readonly currency: string | null },
): boolean =>
  (stoodFor.kinds === null || stoodFor.kinds.includes(about.kind)) &&
  (stoodFor.limit === null ||
    about.amount === null ||
    (about.currency === stoodFor.limit.currency && about.amount <= stoodFor.limit.amount))

export const mayDo = (actor: ActorFacts, right: string): boolean => actor.rights.has(right)

/** Everybody in whose name this person acts, themselves first; with a right, those only who have it. */
export const actsAs = (actor: ActorFacts, right?: string): string[] =>
  [actor, ...actor.standsInFor].filter(one => right === undefined || one.rights.has(right)).map(one => one.id)

/** Nothing where the person has the right, else that it is not theirs to do. */
export const needsRight = (actor: ActorFacts, right: string): Reason[] => (mayDo(actor, right) ? [] : [NOT_YOURS])
