import { MONEY_RIGHTS } from '#core/people/roles.ts'
import { type Reason, stop } from '#core/reasons.ts'

/** A role as a steward writes it down: a name, and what it allows. */
export interface RoleEntry {
  readonly name: string
  readonly permissions: readonly string[]
}

/** What an entry of a role is checked against. */
export interface RoleFacts {
  /** Another role has the name already. */
  readonly nameTaken: boolean
  /** What a role of the team can allow. */
  readonly known: ReadonlySet<string>
  /** People with open accounts who may change Setup afterwards. */
  readonly stewardsAfter: number
  /** Whoever makes the change may still change Setup afterwards. */
  readonly stillSteward: boolean
}

const LONGEST = 40

/** Why a role cannot be kept so; nothing where it can. Somebody always stays who can change Setup, and nobody takes it from themselves. */
export function whyNotRole({ name, permissions }: RoleEntry, facts: RoleFacts): Reason[] {
  const wrong: Reason[] = []
  const at = (place: string): { place: string } => ({ place })
  if (name.trim().length < 2 || name.length > LONGEST || !/^\p{L}/u.test(name) || name.startsWith('supplier'))
    wrong.push(stop('role.name', { most: LONGEST }, at('name')))
  if (facts.nameTaken) wrong.push(stop('role.there', { name }, at('name')))
  if (permissions.some(one => !facts.known.has(one))) wrong.push(stop('role.right', {}, at('permissions')))
  if (facts.stewardsAfter === 0) wrong.push(stop('role.nobodyLeft', {}, at('permissions')))
  else if (!facts.stillSteward) wrong.push(stop('person.ownStewardship', {}, at('permissions')))
  return wrong
}

/** Rights over money that a change adds to a role: where people have it, a second person agrees. */
export const rightsAdded = (before: readonly string[], after: readonly string[]): string[] =>
  after.filter(one => !before.includes(one) && MONEY_RIGHTS.has(one))

/** Why a role cannot be taken out: those that the house began with stay, and so do those that somebody has or something asks for. */
export function whyNotDropRole({
  own,
  holders,
  named,
}: {
  readonly own: boolean
  readonly holders: number
  /** A rule asks those who have it, or they have to have a second factor. */
  readonly named: boolean
}): Reason[] {
  if (!own) return [stop('role.stays')]
  if (named) return [stop('role.asked')]
  return holders > 0 ? [stop('role.used', { count: holders })] : []
}
