import {
  type ApprovalRule,
  approvalPath,
  type Asked,
  type PathInput,
  type Person,
  type Step,
} from '#core/consent/path.ts'
import { APPROVAL_RIGHT } from '#core/request/submitRequisition.ts'
import { type Minor, minor } from '#core/money/amount.ts'
import type { Reason } from '#core/reasons.ts'
import type { Read } from '#server/call.ts'

export interface ApprovalRuleRow {
  id: string
  name: string
  costCentres: string[]
  fromAmount: bigint
  upTo: bigint | null
  stage: number
  asked: Asked
  active: boolean
  version: number
  changedAt: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    approvalRules: ApprovalRuleRow
  }
}

/** Who decides a document that takes these amounts from budget accounts, by the rules of Setup. */
export async function pathOfApproval(
  call: Read,
  requesterId: string,
  byAccount: ReadonlyMap<string, Minor>,
): Promise<{ steps: Step[]; reasons: Reason[] }> {
  return approvalPath({
    rules: await rulesInForce(call),
    requesterId,
    amounts: await byCostCentre(call, byAccount),
    holders: await holders(call),
    people: await team(call),
  })
}

async function rulesInForce(call: Read): Promise<ApprovalRule[]> {
  const rows = await call.trx('approvalRules').where({ active: true }).orderBy(['stage', 'name'])
  return rows.map(rule => ({
    ...rule,
    fromAmount: minor(rule.fromAmount),
    upTo: rule.upTo === null ? null : minor(rule.upTo),
  }))
}

async function byCostCentre(call: Read, byAccount: ReadonlyMap<string, Minor>): Promise<PathInput['amounts']> {
  const accounts = await call
    .trx('budgetAccounts')
    .whereIn('id', [...byAccount.keys()])
    .select('id', 'costCentre')
  const amounts = new Map<string, Minor>()
  for (const account of accounts)
    amounts.set(account.costCentre, minor((amounts.get(account.costCentre) ?? 0n) + byAccount.get(account.id)!))
  return amounts
}

async function holders(call: Read): Promise<PathInput['holders']> {
  const rows = await call.trx('costCentres').whereNotNull('holderId').select('code', 'holderId')
  return new Map(rows.map(row => [row.code, row.holderId!]))
}

async function team(call: Read): Promise<PathInput['people']> {
  const people = await call
    .trx('people')
    .where({ realm: 'team' })
    .select<Person[]>(
      'id',
      'name',
      'managerId',
      call.trx.raw('array(select role from person_roles where person_id = people.id order by role) as roles'),
      call.trx.raw(
        'active and exists (select 1 from person_roles join roles on roles.code = role where person_id = people.id and ? = any(permissions)) as able',
        [APPROVAL_RIGHT],
      ),
    )
    .orderBy('name')
  return new Map(people.map(person => [person.id, person]))
}
