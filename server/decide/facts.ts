import type { ApprovalRule, Asked, PathInput, Person } from '#core/decide/path.ts'
import { minor, type Minor } from '#core/money/amount.ts'
import type { Call } from '#server/call.ts'

interface RuleRow {
  id: string
  name: string
  costCentres: string[]
  fromAmount: bigint
  upTo: bigint | null
  stage: number
  asked: Asked
}

/** Loads what the core needs to say who decides. */
export async function decisionFacts(call: Call, requesterId: string, byAccount: ReadonlyMap<string, Minor>): Promise<PathInput> {
  const rules = (await call.trx('approvalRules').where({ active: true }).orderBy(['stage', 'name'])) as RuleRow[]
  const accounts = (await call
    .trx('budgetAccounts')
    .whereIn('id', [...byAccount.keys()])
    .select('id', 'costCentre')) as { id: string; costCentre: string }[]
  const holders = (await call.trx('costCentres').whereNotNull('holderId').select('code', 'holderId')) as { code: string; holderId: string }[]
  const people = (await call
    .trx('people')
    .where({ realm: 'team' })
    .select('id', 'name', 'active', 'managerId', call.trx.raw('array(select role from person_roles where person_id = people.id order by role) as roles'))
    .orderBy('name')) as Person[]
  const amounts = new Map<string, Minor>()
  for (const account of accounts) amounts.set(account.costCentre, minor((amounts.get(account.costCentre) ?? 0n) + byAccount.get(account.id)!))
  return {
    rules: rules.map((rule): ApprovalRule => ({ ...rule, fromAmount: minor(rule.fromAmount), upTo: rule.upTo === null ? null : minor(rule.upTo) })),
    requesterId,
    amounts,
    holders: new Map(holders.map(row => [row.code, row.holderId])),
    people: new Map(people.map(person => [person.id, person])),
  }
}
