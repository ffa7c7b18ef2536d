import { type Reason, stop } from '#core/reasons.ts'

/** Rights that decide over money, or over who decides: giving one takes two people. */
export const MONEY_RIGHTS: ReadonlySet<string> = new Set([
  'requisition.decide',
  'requisition.passOn',
  'supplier.prove',
  'supplier.agree',
  'invoice.write',
  'hold.clear',
  'payment.propose',
  'payment.approve',
  'budget.write',
  'budget.transfer',
  'order.write',
  'setup.write',
])

/** A role that somebody has, be it only for a cost centre. */
export interface GivenRole {
  readonly role: string
  readonly costCentre: string | null
}
/** A person's account as it is, or as it shall be. */
export interface Account {
  readonly active: boolean
  readonly roles: readonly GivenRole[]
}

const keyOf = (one: GivenRole): string => `${one.role} ${one.costCentre ?? ''}`

/** Roles with power over money that an account has afterwards and has not before; one that is opened has all of its roles anew. */
export function addedPower(
  before: Account,
  after: Account,
  rightsOf: ReadonlyMap<string, readonly string[]>,
): GivenRole[] {
  if (!after.active) return []
  const had = new Set(before.active ? before.roles.map(keyOf) : [])
  return after.roles.filter(
    one => !had.has(keyOf(one)) && (rightsOf.get(one.role) ?? []).some(right => MONEY_RIGHTS.has(right)),
  )
}

/** Whether an account may change Setup: its owner does not take that from themselves. */
export const keepsStewardship = (
  { active, roles }: Account,
  rightsOf: ReadonlyMap<string, readonly string[]>,
): boolean => active && roles.some(one => rightsOf.get(one.role)?.includes('setup.write'))

/**
 * How a change that gives power over money is made: at once where it gives none, or where nobody else could ever agree; by a second person
 * else. `others` are those who can agree and those who once could: whoever closes the account of the last other one cannot act alone after
 * that. Nobody gives power to themselves, whoever agrees.
 */
export function howToGive(
  power: readonly unknown[],
  forPerson: string | null,
  actorId: string,
  others: readonly string[],
): { how: 'atOnce' | 'secondPerson' } | { how: 'never'; reasons: Reason[] } {
  if (power.length === 0) return { how: 'atOnce' }
  if (forPerson === actorId) return { how: 'never', reasons: [stop('person.ownPower')] }
  return { how: others.some(other => other !== actorId && other !== forPerson) ? 'secondPerson' : 'atOnce' }
}
