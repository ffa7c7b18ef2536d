import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReadRules, ReadRuleSet, RuleJson, RuleSetHead, SaveRules } from '#contract/rules/endpoints.ts'
import { formatAmount, parseAmount } from '#core/money/amount.ts'
import { type Reason, RuleBroken, stop } from '#core/reasons.ts'
import { LINE_KINDS } from '#core/request/kinds.ts'
import { DECIDED_KINDS } from '#core/rules/facts.ts'
import { type Rule, ruleFaults } from '#core/rules/rule.ts'
import { SUPPLIER_STATES } from '#core/source/states.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { reasonsJson } from '#server/documents/sheetParts.ts'
import { move } from '#server/documents/move.ts'
import { rulesOf, type RuleSetRow, setInForce } from '#server/rules/ruleStore.ts'

/** All versions, the one in force, and what conditions can name. */
export async function readRules(call: Read): Promise<ResponseOf<typeof ReadRules>> {
  const inForce = await setInForce(call, call.today)
  return {
    currency: call.base,
    sets: await heads(call),
    inForce: inForce?.id ?? null,
    people: (await call.trx('people').where({ realm: 'team' }).orderBy('name').select('id', 'name', 'active')).map(
      ({ active, ...person }) => ({ ...person, open: active }),
    ),
    roles: await call.trx('roles').orderBy('code').pluck<string[]>('code'),
    values: await valuesOf(call),
  }
}

async function heads(call: Read, id?: string): Promise<RuleSetHead[]> {
  const { rows } = await call.trx.raw<{ rows: RuleSetHead[] }>(
    `select s.id, s.number, s.state, s.from_day::text, s.note, coalesce(p.name, '') as by, s.published_at as at, (select count(*)::int from rules r where r.set_id = s.id) as count, s.version
     from rule_sets s left join people p on p.id = s.published_by where ? = '' or s.id::text = ? order by s.number desc`,
    [id ?? '', id ?? ''],
  )
  return rows
}

/** Values of the facts that have few: code and what it is called. */
async function valuesOf(call: Read): Promise<ResponseOf<typeof ReadRules>['values']> {
  const { rows } = await call.trx.raw<{ rows: { fact: string; value: string; label: string }[] }>(
    `select 'costCentre' as fact, code as value, code || ' ' || name as label from cost_centres
     union all select 'account', code, code || ' ' || name from natural_accounts
     union all select 'project', code, code || ' ' || name from projects
     union all select 'category', name, name from supply_categories
     union all select 'supplier', number, name from (select number, name from suppliers where state <> 'merged' order by name limit 1000) s
     union all select 'site', code, name from addresses
     order by 1, 3`,
  )
  const values: Record<string, { value: string; label: string }[]> = {
    lineKind: LINE_KINDS.map(value => ({ value, label: value })),
    supplierState: Object.keys(SUPPLIER_STATES).map(value => ({ value, label: value })),
  }
  for (const { fact, value, label } of rows) values[fact] = [...(values[fact] ?? []), { value, label }]
  return values
}

const toJson = (call: Read, { from, below, ...rule }: Rule): RuleJson => ({
  ...rule,
  kinds: DECIDED_KINDS.filter(kind => rule.kinds.includes(kind)),
  conditions: rule.conditions.map(one => ({ ...one, values: [...one.values] })),
  who: rule.who.kind === 'people' ? { ...rule.who, personIds: [...rule.who.personIds] } : rule.who,
  from: formatAmount(from, call.base),
  below: below === null ? null : formatAmount(below, call.base),
})
const fromJson = (call: Read, rule: RuleJson): Rule => ({
  ...rule,
  from: parseAmount(rule.from, call.base),
  below: rule.below === null ? null : parseAmount(rule.below, call.base),
})

/** One version with its rules, and what stands against them. */
export async function readRuleSet(call: Read, id: string): Promise<ResponseOf<typeof ReadRuleSet>> {
  const [head] = await heads(call, id)
  const rules = await rulesOf(call, found(head, 'rule').id)
  return { ...head!, rules: rules.map(rule => toJson(call, rule)), faults: reasonsJson(await faultsOf(call, rules)) }
}

/** What stands against rules: each by itself, and names that are there twice. */
export async function faultsOf(call: Read, rules: readonly Rule[]): Promise<Reason[]> {
  const people = await call.trx('people').where({ active: true, realm: 'team' }).pluck<string[]>('id')
  const roles = await call.trx('personRoles').join('people', 'people.id', 'personRoles.personId').where('people.active', true).distinct<{ role: string }[]>('role') // prettier-ignore
  const known = { people: new Set(people), roles: new Set(roles.map(row => row.role)) }
  const names = new Set<string>()
  const twice = rules.filter(rule => names.size === names.add(rule.name.trim().toLowerCase()).size)
  return [
    ...rules.flatMap(rule => ruleFaults(rule, known)),
    ...twice.map(rule => stop('rule.nameTwice', { rule: rule.name }, { place: `${rule.id}.name` })),
  ]
}

/** Begins a draft as a copy of the rules in force; the one that is there goes on. */
export async function beginRules(call: Write): Promise<Done> {
  const draft = await call.trx('ruleSets').where({ state: 'draft' }).first('id', 'version')
  if (draft) return draft
  const inForce = await setInForce(call, call.today)
  const id = await newDraft(call)
  await putRules(call, id, inForce ? await rulesOf(call, inForce.id) : [])
  return { id, version: 1 }
}

async function newDraft(call: Write): Promise<string> {
  const id = randomUUID()
  const last = await call.trx('ruleSets').max<{ max: number | null }>('number as max').first()
  await call.trx('ruleSets').insert({ id, number: (last?.max ?? 0) + 1, state: 'draft' })
  await record(call, { kind: 'rule', id, action: 'created' })
  return id
}

/** Writes the rules of a set in place of those that it has. Every rule gets an id of its own, so that steps keep saying which version asked. */
export async function putRules(call: Write, setId: string, rules: readonly Rule[]): Promise<void> {
  await call.trx('rules').where({ setId }).del()
  await insertMany(
    call.trx,
    'rules',
    rules.map(({ from, below, ...rule }, index) => ({
      ...rule,
      id: randomUUID(),
      setId,
      position: index + 1,
      fromAmount: from,
      below,
      kinds: [...rule.kinds],
      conditions: json(rule.conditions),
      who: json(rule.who),
    })),
  )
}

async function holdDraft(call: Write, id: string, version: number): Promise<RuleSetRow> {
  const set = await hold(call, 'rule', id, version)
  if (set.state !== 'draft') throw new RuleBroken(stop('rule.published', { number: set.number }))
  return set
}

/** Keeps a draft, faults and all: it is judged when it is put in force. */
export async function saveRules(call: Write, id: string, { version, rules }: BodyOf<typeof SaveRules>): Promise<Done> {
  const set = await holdDraft(call, id, version)
  await putRules(
    call,
    id,
    rules.map(rule => fromJson(call, rule)),
  )
  return await move(call, 'rule', set, {}, { action: 'changed', changes: { rules: rules.length }, reason: null })
}

/** Rules taken in from a file, as the draft. */
export async function takeRules(call: Write, rules: readonly Rule[]): Promise<void> {
  const { id, version } = await beginRules(call)
  const set = await holdDraft(call, id, version)
  await putRules(call, id, rules)
  await move(call, 'rule', set, {}, { action: 'imported', changes: { rules: rules.length }, reason: null })
}

export async function dropRules(call: Write, id: string, version: number): Promise<void> {
  await holdDraft(call, id, version)
  await call.trx('ruleSets').where({ id }).del()
  await record(call, { kind: 'rule', id, action: 'dropped' })
}

/** What stands against putting a draft in force from a day on. @throws RuleBroken */
export async function checkPublish(call: Write, id: string, version: number, fromDay: string): Promise<RuleSetRow> {
  const set = await holdDraft(call, id, version)
  const rules = await rulesOf(call, id)
  const faults = [
    ...(fromDay < call.today ? [stop('rule.pastDay', { today: call.today }, { place: 'fromDay' })] : []),
    ...(rules.length === 0 ? [stop('rule.noRules')] : []),
    ...(await faultsOf(call, rules)),
  ]
  if (faults.length > 0) throw new RuleBroken(faults)
  return set
}

/** Puts a draft in force from a day on. What waits keeps its path; what is submitted from that day on follows the new rules. */
export async function publishRules(
  call: Write,
  id: string,
  { version, fromDay, note }: { version: number; fromDay: string; note: string },
  askedBy?: string,
): Promise<Done> {
  const set = await checkPublish(call, id, version, fromDay)
  return await move(
    call,
    'rule',
    set,
    { state: 'published', fromDay, note, publishedBy: call.actor.id, publishedAt: call.now },
    {
      action: 'published',
      changes: { from: fromDay, ...(askedBy === undefined ? {} : { askedBy }) },
      reason: note || null,
    },
  )
}

/** The rules that a house begins with, in force from the beginning. */
export async function firstRules(call: Write, rules: readonly Rule[]): Promise<void> {
  const id = randomUUID()
  const published = { state: 'published' as const, fromDay: '2000-01-01', publishedBy: call.actor.id, publishedAt: call.now } // prettier-ignore
  await call.trx('ruleSets').insert({ id, number: 1, note: '', ...published })
  await putRules(call, id, rules)
  await record(call, { kind: 'rule', id, action: 'published', changes: { rules: rules.length } })
}
