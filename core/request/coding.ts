/** Why an account is proposed, the strongest first. */
export const CODING_REASONS = ['sameItem', 'sameCategory', 'categoryAccount', 'project', 'lastTime'] as const
export type CodingReason = (typeof CODING_REASONS)[number]

export interface CodingAccount {
  readonly id: string
  readonly costCentre: string
  readonly naturalAccount: string
  readonly year: number
  readonly project: string | null
  readonly open: boolean
}
export interface CodingFacts {
  readonly accounts: readonly CodingAccount[]
  /** The fiscal year in which the line is needed. */
  readonly year: number
  readonly project: string | null
  /** Accounts that paid for the same item, newest first: this person's own before others'. */
  readonly sameItem: readonly string[]
  readonly sameCategory: readonly string[]
  /** The natural account that Setup names for the category. */
  readonly categoryAccount: string | null
  /** Cost centres this person asks for, the most used first. */
  readonly costCentres: readonly string[]
  readonly lastTime: readonly string[]
}
export interface CodingProposal {
  readonly accountId: string
  readonly because: CodingReason
}

/**
 * Accounts that may pay for a line, the likeliest first, each once and with its reason. An account of another year stands for the same one
 * of the year in which the line is needed; closed ones are passed over.
 */
export function proposeAccounts(facts: CodingFacts, most = 4): CodingProposal[] {
  const byId = new Map(facts.accounts.map(account => [account.id, account]))
  const usable = facts.accounts.filter(account => account.open && account.year === facts.year)
  const inYear = (id: string): CodingAccount | undefined => {
    const account = byId.get(id)
    if (!account) return undefined
    const project = facts.project ?? account.project
    const same = usable.filter(
      one => one.costCentre === account.costCentre && one.naturalAccount === account.naturalAccount,
    )
    return (
      same.find(one => one.project === project) ??
      (facts.project === null ? same.find(one => one.project === account.project) : undefined)
    )
  }
  const fromIds = (ids: readonly string[], because: CodingReason): CodingProposal[] =>
    ids.flatMap(id => {
      const account = inYear(id)
      return account ? [{ accountId: account.id, because }] : []
    })
  const ofCategory = facts.costCentres.flatMap(costCentre =>
    usable.filter(
      one =>
        one.costCentre === costCentre &&
        one.naturalAccount === facts.categoryAccount &&
        (facts.project === null ? one.project === null : one.project === facts.project),
    ),
  )
  const ofProject = facts.project === null ? [] : usable.filter(one => one.project === facts.project)
  const proposals = [
    ...fromIds(facts.sameItem, 'sameItem'),
    ...fromIds(facts.sameCategory, 'sameCategory'),
    ...ofCategory.map(one => ({ accountId: one.id, because: 'categoryAccount' as const })),
    ...ofProject.map(one => ({ accountId: one.id, because: 'project' as const })),
    ...fromIds(facts.lastTime, 'lastTime'),
  ]
  return proposals
    .filter((one, index) => proposals.findIndex(other => other.accountId === one.accountId) === index)
    .slice(0, most)
}
