import { randomUUID } from 'node:crypto'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { CreateRule, ListRules } from '#contract/setup/endpoints.ts'
import { formatAmount, parseAmount } from '#core/money/amount.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { type Done, found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { byId } from '#server/database/rows.ts'
import { record } from '#server/documents/history.ts'
import { hold } from '#server/documents/hold.ts'
import { move } from '#server/documents/move.ts'

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

export async function ruleColumns(call: Read, body: RuleInput) {
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

export async function createRule(call: Write, body: RuleInput, askedBy?: string): Promise<Done> {
  const id = randomUUID()
  await call.trx('approvalRules').insert({ id, ...(await ruleColumns(call, body)) })
  await record(call, {
    kind: 'rule',
    id,
    action: 'created',
    changes: { after: body, ...(askedBy === undefined ? {} : { askedBy }) },
  })
  return { id, version: 1 }
}

/** Changes a rule for what is submitted from now on; requests that already wait keep their path. */
export async function changeRule(
  call: Write,
  id: string,
  body: RuleInput,
  version: number,
  askedBy?: string,
): Promise<Done> {
  const rule = await hold(call, 'rule', id, version)
  const before = { ...rule, fromAmount: rule.fromAmount.toString(), upTo: rule.upTo?.toString() ?? null }
  const did = {
    action: 'changed',
    changes: { before, after: body, ...(askedBy === undefined ? {} : { askedBy }) },
    reason: null,
  }
  return await move(call, 'rule', rule, await ruleColumns(call, body), did)
}

/** What stands against a rule, before anybody is asked about it. @throws RuleBroken rule.band | rule.costCentre | document.changed */
export async function checkRule(
  call: Write,
  body: RuleInput,
  changed?: { id: string; version: number },
): Promise<void> {
  if (changed) await hold(call, 'rule', changed.id, changed.version)
  await ruleColumns(call, body)
}
