import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type {
  ChangePerson,
  CreateRule,
  ListPeople,
  ListRules,
  ReadOwnAccount,
  SaveOwnAccount,
} from '#contract/setup/endpoints.ts'
import { formatAmount, parseAmount } from '#core/money/amount.ts'
import { refuseStops, RuleBroken, stop } from '#core/reasons.ts'
import { checkIban, normalIdentifier } from '#core/source/identifiers.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { refreshAskedOf } from '#server/consent/consentStore.ts'
import { json } from '#server/database/json.ts'
import { byId } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { guardVersion, hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'
import { SYSTEM_PERSON } from '#server/jobs/parts.ts'
import { readSetting, writeSetting } from '#server/house/house.ts'

export async function listRules(call: Read): Promise<ResponseOf<typeof ListRules>> {
  const rules = await call.trx('approvalRules').orderBy(['stage', 'fromAmount', 'name'])
  const people = byId(await call.trx('people').select('id', 'name', 'active'))
  return {
    currency: call.base,
    rules: rules.map(({ changedAt: _changedAt, ...rule }) => {
      const person = rule.asked.kind === 'person' ? people.get(rule.asked.personId) : undefined
      return {
        ...rule,
        fromAmount: formatAmount(rule.fromAmount, call.base),
        upTo: rule.upTo === null ? null : formatAmount(rule.upTo, call.base),
        askedLabel:
          rule.asked.kind === 'person' ? (person?.name ?? '') : rule.asked.kind === 'role' ? rule.asked.role : 'holder',
        stalled: rule.active && rule.asked.kind === 'person' && !person?.active,
      }
    }),
  }
}

type RuleInput = BodyOf<typeof CreateRule>

async function ruleColumns(call: Read, body: RuleInput) {
  const fromAmount = parseAmount(body.fromAmount, call.base)
  const upTo = body.upTo === null ? null : parseAmount(body.upTo, call.base)
  if (fromAmount < 0n || (upTo !== null && upTo <= fromAmount))
    throw new RuleBroken(stop('rule.band', {}, { place: 'upTo' }))
  if (body.asked.kind === 'person')
    found(
      await call.trx('people').where({ id: body.asked.personId, active: true, realm: 'team' }).first('id'),
      'person',
    )
  const known = await call.trx('costCentres').whereIn('code', body.costCentres).pluck<string[]>('code')
  if (known.length !== new Set(body.costCentres).size)
    throw new RuleBroken(stop('rule.costCentre', {}, { place: 'costCentres' }))
  return {
    name: body.name,
    costCentres: body.costCentres,
    fromAmount,
    upTo,
    stage: body.stage,
    asked: json(body.asked),
    active: body.active,
  }
}

export async function createRule(call: Write, body: RuleInput): Promise<Done> {
  const id = randomUUID()
  await call.trx('approvalRules').insert({ id, ...(await ruleColumns(call, body)) })
  await record(call, { kind: 'rule', id, action: 'created', changes: { after: body } })
  return { id, version: 1 }
}

/** Changes a rule for what is submitted from now on; requests that already wait keep their path. */
export async function changeRule(call: Write, id: string, body: RuleInput, version: number): Promise<Done> {
  const rule = await hold(call, 'rule', id, version)
  const before = { ...rule, fromAmount: rule.fromAmount.toString(), upTo: rule.upTo?.toString() ?? null }
  const did = { action: 'changed', changes: { before, after: body }, reason: null }
  return await move(call, 'rule', rule, await ruleColumns(call, body), did)
}

export async function listPeople(call: Read): Promise<ResponseOf<typeof ListPeople>> {
  const people = await call
    .trx('people')
    .leftJoin('people as manager', 'manager.id', 'people.managerId')
    .where('people.realm', 'team')
    .whereNot('people.id', SYSTEM_PERSON)
    .orderBy('people.name')
    .select<ResponseOf<typeof ListPeople>['people']>(
      'people.id',
      'people.name',
      'people.email',
      'people.active',
      'people.version',
      'manager.name as manager',
      call.trx.raw(
        `(select coalesce(json_agg(json_build_object('role', role, 'costCentre', cost_centre) order by role), '[]') from person_roles where person_id = people.id) as roles`,
      ),
    )
  return {
    people,
    roles: await call.trx('roles').whereNot('code', 'like', 'supplier%').orderBy('code'),
  }
}

/** Opens or closes a person's account and sets their roles. Nobody takes away their own stewardship. */
export async function changePerson(call: Write, id: string, body: BodyOf<typeof ChangePerson>): Promise<Done> {
  const person = await hold(call, 'person', id)
  if (person.realm !== 'team' || id === SYSTEM_PERSON)
    throw new RuleBroken(stop('document.notFound', { kind: 'person' }))
  await guardVersion(call, person, body.version)
  if (id === call.actor.id && (!body.active || !body.roles.some(one => one.role === 'steward')))
    throw new RuleBroken(stop('person.ownStewardship'))
  const known = await call
    .trx('roles')
    .whereIn(
      'code',
      body.roles.map(one => one.role),
    )
    .whereNot('code', 'like', 'supplier%')
    .pluck('code')
  if (body.roles.some(one => !known.includes(one.role))) throw new RuleBroken(stop('person.role'))
  const before = await call.trx('personRoles').where({ personId: id }).select('role', 'costCentre')
  await call.trx('personRoles').where({ personId: id }).delete()
  if (body.roles.length > 0)
    await call
      .trx('personRoles')
      .insert(body.roles.map(one => ({ personId: id, ...one })))
      .onConflict()
      .ignore()
  if (!body.active) await call.trx('sessions').where({ personId: id }).delete()
  const changes = {
    before: { active: person.active, roles: before },
    after: { active: body.active, roles: body.roles },
  }
  const done = await move(call, 'person', person, { active: body.active }, { action: 'changed', changes, reason: null })
  if (person.active !== body.active) await refreshAskedOf(call, id)
  return done
}

/** The account that we pay from. */
export const readOwnAccount = async (call: Read): Promise<ResponseOf<typeof ReadOwnAccount>> => ({
  account: (await readSetting(call, 'payFrom')) ?? null,
})

/** A wrong account would be refused with every run, so it is checked like a supplier's. */
export async function saveOwnAccount(
  call: Write,
  body: BodyOf<typeof SaveOwnAccount>,
): Promise<ResponseOf<typeof SaveOwnAccount>> {
  refuseStops(checkIban(body.iban, 'iban'))
  const before = await readSetting(call, 'payFrom')
  const account = { name: body.name.trim(), iban: normalIdentifier(body.iban), bic: body.bic }
  await writeSetting(call, 'payFrom', account)
  await record(call, {
    kind: 'house',
    id: HOUSE,
    action: 'accountChanged',
    changes: { before: before ?? null, after: account },
  })
  return { account }
}

/** What is set up for the house as a whole has one history. */
const HOUSE = '00000000-0000-4000-8000-000000000002'
