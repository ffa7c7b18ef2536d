import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ChangePerson, CreateRule, ListPeople, ListRules } from '#contract/setup/endpoints.ts'
import type { Asked } from '#core/decide/path.ts'
import { formatAmount, parseAmount } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Call, type Done, found, guardVersion } from '#server/call.ts'
import { record } from '#server/ledger/history.ts'

interface RuleRow {
  id: string
  name: string
  costCentres: string[]
  fromAmount: bigint
  upTo: bigint | null
  stage: number
  asked: Asked
  active: boolean
  version: number
}

export async function listRules(call: Call): Promise<ResponseOf<typeof ListRules>> {
  const rules = (await call.trx('approvalRules').orderBy(['stage', 'fromAmount', 'name'])) as RuleRow[]
  const people = new Map(((await call.trx('people').select('id', 'name', 'active')) as { id: string; name: string; active: boolean }[]).map(person => [person.id, person]))
  return {
    currency: call.base,
    rules: rules.map(rule => {
      const person = rule.asked.kind === 'person' ? people.get(rule.asked.personId) : undefined
      return {
        ...rule,
        fromAmount: formatAmount(rule.fromAmount, call.base),
        upTo: rule.upTo === null ? null : formatAmount(rule.upTo, call.base),
        askedLabel: rule.asked.kind === 'person' ? (person?.name ?? '') : rule.asked.kind === 'role' ? rule.asked.role : 'holder',
        stalled: rule.active && rule.asked.kind === 'person' && !person?.active,
      }
    }),
  }
}

type RuleInput = BodyOf<typeof CreateRule>

async function ruleColumns(call: Call, body: RuleInput) {
  const fromAmount = parseAmount(body.fromAmount, call.base)
  const upTo = body.upTo === null ? null : parseAmount(body.upTo, call.base)
  if (fromAmount < 0n || (upTo !== null && upTo <= fromAmount)) throw new RuleBroken(stop('rule.band', {}, { place: 'upTo' }))
  if (body.asked.kind === 'person') found(await call.trx('people').where({ id: body.asked.personId, active: true, realm: 'team' }).first('id'), 'person')
  const known = (await call.trx('costCentres').whereIn('code', body.costCentres).pluck('code')) as string[]
  if (known.length !== new Set(body.costCentres).size) throw new RuleBroken(stop('rule.costCentre', {}, { place: 'costCentres' }))
  return { name: body.name, costCentres: body.costCentres, fromAmount, upTo, stage: body.stage, asked: JSON.stringify(body.asked), active: body.active }
}

export async function createRule(call: Call, body: RuleInput): Promise<Done> {
  const id = randomUUID()
  await call.trx('approvalRules').insert({ id, ...(await ruleColumns(call, body)) })
  await record(call, { kind: 'rule', id, action: 'created', changes: { after: body } })
  return { id, version: 1 }
}

/** Changes a rule for what is submitted from now on; requests that already wait keep their path. */
export async function changeRule(call: Call, id: string, body: RuleInput, version: number): Promise<Done> {
  const rule = found((await call.trx('approvalRules').where({ id }).forNoKeyUpdate().first()) as RuleRow | undefined, 'rule')
  await guardVersion(call, rule, version)
  await call
    .trx('approvalRules')
    .where({ id })
    .update({ ...(await ruleColumns(call, body)), version: version + 1 })
  await record(call, {
    kind: 'rule',
    id,
    action: 'changed',
    changes: { before: { ...rule, fromAmount: rule.fromAmount.toString(), upTo: rule.upTo?.toString() ?? null }, after: body },
  })
  return { id, version: version + 1 }
}

export async function listPeople(call: Call): Promise<ResponseOf<typeof ListPeople>> {
  const people = (await call
    .trx('people')
    .leftJoin('people as manager', 'manager.id', 'people.managerId')
    .where('people.realm', 'team')
    .orderBy('people.name')
    .select(
      'people.id',
      'people.name',
      'people.email',
      'people.active',
      'people.version',
      'manager.name as manager',
      call.trx.raw(
        `(select coalesce(json_agg(json_build_object('role', role, 'costCentre', cost_centre) order by role), '[]') from person_roles where person_id = people.id) as roles`,
      ),
    )) as ResponseOf<typeof ListPeople>['people']
  return { people, roles: (await call.trx('roles').whereNot('code', 'like', 'supplier%').orderBy('code')) as { code: string; permissions: string[] }[] }
}

/** Opens or closes a person's account and sets their roles. Nobody takes away their own stewardship. */
export async function changePerson(call: Call, id: string, body: BodyOf<typeof ChangePerson>): Promise<Done> {
  const person = found((await call.trx('people').where({ id, realm: 'team' }).forNoKeyUpdate().first()) as { id: string; active: boolean; version: number } | undefined, 'person')
  await guardVersion(call, person, body.version)
  if (id === call.actor.id && (!body.active || !body.roles.some(one => one.role === 'steward'))) throw new RuleBroken(stop('person.ownStewardship'))
  const known = (await call
    .trx('roles')
    .whereIn(
      'code',
      body.roles.map(one => one.role),
    )
    .whereNot('code', 'like', 'supplier%')
    .pluck('code')) as string[]
  if (body.roles.some(one => !known.includes(one.role))) throw new RuleBroken(stop('person.role'))
  const before = await call.trx('personRoles').where({ personId: id }).select('role', 'costCentre')
  await call.trx('personRoles').where({ personId: id }).delete()
  if (body.roles.length > 0)
    await call
      .trx('personRoles')
      .insert(body.roles.map(one => ({ personId: id, ...one })))
      .onConflict()
      .ignore()
  await call
    .trx('people')
    .where({ id })
    .update({ active: body.active, version: body.version + 1 })
  if (!body.active) await call.trx('sessions').where({ personId: id }).delete()
  await record(call, { kind: 'person', id, action: 'changed', changes: { before: { active: person.active, roles: before }, after: { active: body.active, roles: body.roles } } })
  return { id, version: body.version + 1 }
}
