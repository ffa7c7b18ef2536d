import { minor } from '#core/money/amount.ts'
import type { DecidedKind } from '#core/rules/facts.ts'
import type { Limits } from '#core/rules/limits.ts'
import { type CompiledRules, compileRules } from '#core/rules/match.ts'
import type { PathPerson, PathWorld } from '#core/rules/path.ts'
import type { Rule } from '#core/rules/rule.ts'
import type { Read } from '#server/call.ts'

export interface RuleSetRow {
  id: string
  number: number
  state: 'draft' | 'published'
  fromDay: string | null
  note: string
  publishedBy: string | null
  publishedAt: string | null
  version: number
  changedAt: string
}
export interface RuleRow extends Omit<Rule, 'from' | 'below'> {
  setId: string
  position: number
  fromAmount: bigint
  below: bigint | null
}
declare module 'knex/types/tables.js' {
  interface Tables {
    ruleSets: RuleSetRow
    rules: RuleRow
    personLimits: { personId: string; kind: DecidedKind; amount: bigint }
  }
}

/** What somebody has to be allowed to who decides such documents. */
export const RIGHT_TO_DECIDE: Readonly<Record<DecidedKind, string>> = {
  requisition: 'requisition.decide',
  orderExcess: 'requisition.decide',
  award: 'requisition.decide',
  agreement: 'requisition.decide',
  amendment: 'requisition.decide',
  transfer: 'budget.transfer',
  onboarding: 'supplier.read',
  run: 'payment.approve',
  billDifference: 'invoice.read',
}

/** The set of rules that holds on a day: of those that began, the latest. */
export const setInForce = (call: Read, day: string): Promise<RuleSetRow | undefined> =>
  call
    .trx('ruleSets')
    .where({ state: 'published' })
    .where('fromDay', '<=', day)
    .orderBy([
      { column: 'fromDay', order: 'desc' },
      { column: 'number', order: 'desc' },
    ])
    .first()

/** The rules of a set, as they were put. */
export async function rulesOf(call: Read, setId: string): Promise<Rule[]> {
  const rows = await call.trx('rules').where({ setId }).orderBy('position')
  return rows.map(({ setId: _set, position: _position, fromAmount, below, ...rule }) => ({
    ...rule,
    from: minor(fromAmount),
    below: below === null ? null : minor(below),
  }))
}

/** A published set never changes: it is made ready once. The last few are kept. */
const ready = new Map<string, CompiledRules>()
const KEPT = 8

/** The rules that hold today, made ready. */
export async function compiledRules(call: Read): Promise<CompiledRules> {
  const set = await setInForce(call, call.today)
  if (!set) return compileRules([])
  const known = ready.get(set.id)
  if (known) return known
  const compiled = compileRules(await rulesOf(call, set.id))
  ready.set(set.id, compiled)
  if (ready.size > KEPT) ready.delete([...ready.keys()][0]!)
  return compiled
}

/** Everybody who may be asked to decide such documents, with their chain and limits, and who holds which cost centre. */
export async function pathWorld(call: Read, kind: DecidedKind): Promise<PathWorld> {
  const { rows } = await call.trx
    .raw<{ rows: (Omit<PathPerson, 'limits'> & { limits: Record<string, string> | null })[] }>(
      `select p.id, p.name, p.manager_id, p.active and exists (select 1 from person_roles g join roles on roles.code = g.role where g.person_id = p.id and ? = any(permissions)) as able,
         coalesce((select json_agg(json_build_object('role', role, 'costCentre', cost_centre) order by role, cost_centre) from person_roles g where g.person_id = p.id), '[]') as roles,
         (select json_object_agg(l.kind, l.amount::text) from person_limits l where l.person_id = p.id) as limits
       from people p where p.realm = 'team' order by p.name, p.id`,
      [RIGHT_TO_DECIDE[kind]],
    )
    .options({ name: 'path-people' })
  const holders = await call.trx('costCentres').whereNotNull('holderId').select('code', 'holderId')
  return {
    people: new Map(rows.map(row => [row.id, { ...row, limits: limitsIn(row.limits) }])),
    holders: new Map(holders.map(row => [row.code, row.holderId!])),
  }
}

const limitsIn = (kept: Readonly<Record<string, string>> | null): Limits =>
  Object.fromEntries(Object.entries(kept ?? {}).map(([kind, amount]) => [kind, minor(BigInt(amount))]))
