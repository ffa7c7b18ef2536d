import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { AmountText, ById, Day, Done, Line, ReasonJson, Stamp, Text, Uuid, Version } from '#contract/fields.ts'
import { ImportBody, ImportResult } from '#contract/files/endpoints.ts'
import { Changed } from '#contract/setup/people.ts'
import { RULE_FACT_KEYS, DECIDED_KINDS } from '#core/rules/facts.ts'
import { MEASURES, MOST_LEVELS, MOST_STAGES, NEEDS, SCOPES } from '#core/rules/rule.ts'

const Code = z.string().min(1).max(200)
export const ConditionJson = z.strictObject({
  fact: z.enum(RULE_FACT_KEYS),
  not: z.boolean(),
  values: z.array(z.union([Code, z.strictObject({ from: Code, to: Code })])).max(500),
})
export const WhoJson = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('people'), personIds: z.array(Uuid).max(50) }),
  z.strictObject({ kind: z.literal('role'), role: z.string().max(40), inCentre: z.boolean() }),
  z.strictObject({ kind: z.literal('holder') }),
  z.strictObject({ kind: z.literal('chain'), levels: z.int().min(1).max(MOST_LEVELS) }),
])
export const RuleJson = z.strictObject({
  id: Uuid,
  name: Line,
  kinds: z.array(z.enum(DECIDED_KINDS)),
  conditions: z.array(ConditionJson).max(20),
  measure: z.enum(MEASURES),
  from: AmountText,
  below: AmountText.nullable(),
  stage: z.int().min(1).max(MOST_STAGES),
  who: WhoJson,
  need: z.enum(NEEDS),
  /** What is decided: the whole document, or only the lines that match. */
  scope: z.enum(SCOPES),
  /** Working hours within which it is decided; null: no end. */
  hours: z.int().min(1).max(2000).nullable(),
  note: Text,
})
export type RuleJson = z.output<typeof RuleJson>

export const RuleSetHead = z.strictObject({
  id: Uuid,
  number: z.int(),
  state: z.enum(['draft', 'published']),
  fromDay: Day.nullable(),
  note: z.string(),
  by: z.string(),
  at: Stamp.nullable(),
  count: z.int(),
  version: z.int(),
})
export type RuleSetHead = z.output<typeof RuleSetHead>
export const RuleSetJson = RuleSetHead.extend({
  rules: z.array(RuleJson),
  /** What stands against it, rule by rule. */
  faults: z.array(ReasonJson),
})
export type RuleSetJson = z.output<typeof RuleSetJson>

/** All versions of the rules, the one in force, and what conditions can name. */
export const ReadRules = defineEndpoint({
  name: 'rules.read',
  method: 'get',
  path: '/setup/rules',
  permission: 'setup.read',
  response: z.strictObject({
    currency: z.string(),
    sets: z.array(RuleSetHead),
    inForce: Uuid.nullable(),
    people: z.array(z.strictObject({ id: Uuid, name: z.string(), open: z.boolean() })),
    roles: z.array(z.string()),
    /** Values that a fact can have, where there are few: code and what it is called. */
    values: z.record(z.string(), z.array(z.strictObject({ value: z.string(), label: z.string() }))),
  }),
})
export const ReadRuleSet = defineEndpoint({
  name: 'rules.readSet',
  method: 'get',
  path: '/setup/rules/:id',
  permission: 'setup.read',
  params: ById,
  response: RuleSetJson,
})
/** Begins a draft as a copy of the rules in force; answers the one that is there. */
export const BeginRules = defineEndpoint({
  name: 'rules.begin',
  method: 'post',
  path: '/setup/rules/begin',
  permission: 'setup.write',
  response: Done,
})
export const SaveRules = defineEndpoint({
  name: 'rules.save',
  method: 'put',
  path: '/setup/rules/:id',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ version: Version, rules: z.array(RuleJson).max(5000) }),
  response: Done,
})
export const DropRules = defineEndpoint({
  name: 'rules.drop',
  method: 'post',
  path: '/setup/rules/:id/drop',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ version: Version }),
})
/** Puts a draft in force from a day on: at once, or when a second person has agreed. */
export const PublishRules = defineEndpoint({
  name: 'rules.publish',
  method: 'post',
  path: '/setup/rules/:id/publish',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ version: Version, fromDay: Day, note: Text }),
  response: Changed,
})
const Asked = z.array(z.array(z.string()))
/** What a version would have done with the requests of a time, beside the one in force. */
export const TryRules = defineEndpoint({
  name: 'rules.try',
  method: 'get',
  path: '/setup/rules/:id/try',
  permission: 'setup.read',
  params: ById,
  query: z.strictObject({ fromDay: Day, toDay: Day }),
  response: z.strictObject({
    tried: z.int(),
    /** More were asked for in that time than are tried at once. */
    more: z.int(),
    others: z.array(
      z.strictObject({
        id: Uuid,
        number: z.string(),
        title: z.string(),
        /** Nothing, as the title and the path, where the reader may not see the request. */
        amount: AmountText.nullable(),
        path: z.string().nullable(),
        before: Asked,
        after: Asked,
      }),
    ),
    people: z.array(z.strictObject({ name: z.string(), before: z.int(), after: z.int() })),
    undecided: z.array(
      z.strictObject({ id: Uuid, number: z.string(), title: z.string(), path: z.string().nullable() }),
    ),
    stuck: z.array(
      z.strictObject({
        id: Uuid,
        number: z.string(),
        title: z.string(),
        path: z.string().nullable(),
        rule: z.string(),
        code: z.string(),
      }),
    ),
    overlaps: z.array(z.strictObject({ rules: z.array(z.string()), documents: z.int() })),
    idle: z.array(z.string()),
  }),
})
/** A version as CSV or JSON; both are taken in again. */
export const ExportRules = defineEndpoint({
  name: 'rules.export',
  method: 'get',
  path: '/setup/rules/:id/export',
  permission: 'setup.read',
  params: ById,
  query: z.strictObject({ as: z.enum(['csv', 'json']) }),
  answers: 'file',
})
/** Takes rules in as the draft, in place of what stands there. */
export const ImportRules = defineEndpoint({
  name: 'rules.import',
  method: 'post',
  path: '/setup/rules/import',
  permission: 'setup.write',
  body: ImportBody,
  response: ImportResult,
})

export const LimitsJson = z
  .array(z.strictObject({ kind: z.enum(DECIDED_KINDS), amount: AmountText }))
  .max(DECIDED_KINDS.length)
  .refine(all => new Set(all.map(one => one.kind)).size === all.length, { error: 'each kind once' })
/** Up to which amount somebody decides alone; a kind that is missing has no limit. */
export const ReadLimits = defineEndpoint({
  name: 'limits.read',
  method: 'get',
  path: '/setup/people/:id/limits',
  permission: 'setup.read',
  params: ById,
  response: z.strictObject({ currency: z.string(), limits: LimitsJson, version: z.int() }),
})
/** Lower limits hold at once; higher ones when a second person has agreed. */
export const SaveLimits = defineEndpoint({
  name: 'limits.save',
  method: 'put',
  path: '/setup/people/:id/limits',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ limits: LimitsJson, version: Version }),
  response: Changed,
})
