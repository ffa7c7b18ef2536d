import { randomUUID } from 'node:crypto'
import {
  BeginRules,
  PublishRules,
  ReadRules,
  ReadRuleSet,
  type RuleJson,
  SaveRules,
} from '#contract/rules/endpoints.ts'
import { AnswerPowerChange, ListPowerChanges } from '#contract/setup/people.ts'
import { today } from '#test-helpers/steps.ts'
import type { World } from '#test-helpers/world.ts'

/** A rule of the contract: unless said otherwise, the holder of each cost centre decides requests of any amount. */
export const ruleOf = (name: string, changed: Partial<RuleJson>): RuleJson => ({
  id: randomUUID(),
  name,
  kinds: ['requisition'],
  conditions: [],
  measure: 'document',
  from: '0.00',
  below: null,
  stage: 1,
  who: { kind: 'holder' },
  need: 'all',
  scope: 'document',
  hours: null,
  note: '',
  ...changed,
})

/** The rules in force, but for the one that asks somebody who has left. */
export async function rulesNow(world: World): Promise<RuleJson[]> {
  const wren = await world.as('Wren')
  const { inForce } = await wren.do(ReadRules)
  const { rules } = await wren.do(ReadRuleSet, { params: { id: inForce! } })
  return rules.filter(rule => rule.who.kind !== 'people')
}

/** Drafts rules as Wren; answers where the draft is. */
export async function draftRules(world: World, rules: readonly RuleJson[]): Promise<{ id: string; version: number }> {
  const wren = await world.as('Wren')
  const { id } = await wren.do(BeginRules)
  const { version } = await wren.do(ReadRuleSet, { params: { id } })
  return await wren.do(SaveRules, { params: { id }, body: { version, rules: [...rules] } })
}

/** Puts rules in force today: Wren asks, Adaeze agrees. */
export async function putInForce(world: World, rules: readonly RuleJson[]): Promise<void> {
  const { id, version } = await draftRules(world, rules)
  const wren = await world.as('Wren')
  await wren.do(PublishRules, { params: { id }, body: { version, fromDay: today(), note: '' } })
  await agree(world, 'rules')
}

/** Adaeze agrees to what gives power. */
export async function agree(world: World, what: 'rules' | 'limits'): Promise<void> {
  const adaeze = await world.as('Adaeze')
  const change = (await adaeze.do(ListPowerChanges)).changes.find(one => one.what === what)!
  await adaeze.do(AnswerPowerChange, {
    params: { id: change.id },
    body: { version: change.version, answer: 'agree', reason: '' },
  })
}
