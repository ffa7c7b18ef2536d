import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  ById,
  DecimalText,
  Done,
  GivenReason,
  Line,
  ReasonJson,
  Stamp,
  Text,
  Uuid,
  Version,
  VersionOrNew,
} from '#contract/fields.ts'
import { ASKED_KINDS, EVENT_FORMATS, OUTCOMES_TOLD, PRICE_MODELS } from '#core/source/eventKind.ts'
import { MESSAGE_MOMENTS, MESSAGE_READERS } from '#core/source/eventMessages.ts'
import { PRICE_FORMULAS } from '#core/source/scores.ts'

export const Key = z.string().regex(/^[A-Za-z][A-Za-z0-9]{0,39}$/)
export const MaybeDecimal = z.union([z.literal(''), DecimalText])
const InLanguages = z.strictObject({ en: Text.optional(), de: Text.optional() })
const Seconds = z.int().min(0).max(86_400)

export const LotStepJson = z.strictObject({
  kind: z.enum(['none', 'amount', 'percent']),
  value: MaybeDecimal,
  against: z.enum(['own', 'best']),
})
export const ExtensionJson = z.strictObject({
  withinSeconds: Seconds,
  bySeconds: Seconds,
  from: z.enum(['bid', 'end']),
  places: z.int().min(1).max(1000).nullable(),
  most: z.int().min(1).max(1000).nullable(),
})
export const ShownJson = z.strictObject({ place: z.boolean(), best: z.boolean(), bidders: z.boolean() })
export const CriterionJson = z.strictObject({ key: Key, weight: DecimalText })
export const LandedJson = z.strictObject({
  insurancePercent: DecimalText,
  insured: z.enum(['1', '1.1']),
  dutyOn: z.enum(['goods', 'goodsFreightInsurance']),
  interestPercent: DecimalText,
  interest: z.enum(['simple', 'compound']),
})
export const AskedQuestionJson = z.strictObject({
  key: Key,
  label: Line,
  kind: z.enum(ASKED_KINDS),
  choices: z.array(Line).max(30),
  must: Line,
  required: z.boolean(),
  scoredBy: z.enum(['rule', 'people', 'nobody']),
  points: z.record(z.string().max(300), DecimalText),
  most: DecimalText,
  weight: DecimalText,
})
export const EventKindJson = z.strictObject({
  format: z.enum(EVENT_FORMATS),
  pricing: z.enum(PRICE_MODELS),
  components: z
    .array(
      z.strictObject({
        key: Key,
        name: Line,
        basis: z.enum(['perUnit', 'perLine', 'perLot']),
        kind: z.enum(['freight', 'other']),
      }),
    )
    .max(20),
  bought: z.enum(['goods', 'work']),
  open: z.boolean(),
  supplierLines: z.boolean(),
  alternatives: z.boolean(),
  partQuantity: z.boolean(),
  sealed: z.boolean(),
  texts: z
    .array(
      z.strictObject({
        key: Key,
        name: Line,
        place: z.enum(['head', 'line']),
        seenBy: z.enum(['us', 'suppliers', 'both']),
        writtenBy: z.enum(['us', 'suppliers']),
        carried: z.boolean(),
        words: InLanguages,
      }),
    )
    .max(20),
  sections: z.array(z.strictObject({ title: Line, weight: DecimalText, questions: z.array(AskedQuestionJson).max(60) })).max(20), // prettier-ignore
  terms: InLanguages,
  messages: z
    .array(
      z.strictObject({
        key: Key,
        moment: z.enum(MESSAGE_MOMENTS),
        hours: z.int().min(0).max(2160),
        to: z.enum(MESSAGE_READERS),
        words: InLanguages,
      }),
    )
    .max(12),
  tells: z.enum(OUTCOMES_TOLD),
  daysOpen: z.int().min(1).max(365),
  lot: z.strictObject({
    minutes: z.int().min(1).max(10_080),
    step: LotStepJson,
    extension: ExtensionJson.nullable(),
    shows: ShownJson,
  }),
  landed: LandedJson,
  criteria: z.array(CriterionJson).max(10),
  formula: z.enum(PRICE_FORMULAS),
})

export const RangeJson = z.strictObject({
  prefix: Line.min(1).max(12),
  digits: z.int().min(0).max(12),
  next: z.string().regex(/^\d{1,12}$/),
  last: z.string().regex(/^\d{1,12}$/),
})

export const ListEventKinds = defineEndpoint({
  name: 'eventKinds.list',
  method: 'get',
  path: '/event-kinds',
  permission: 'event.read',
  response: z.strictObject({
    kinds: z.array(
      z.strictObject({
        id: Uuid,
        code: Uuid,
        number: z.int(),
        name: z.string(),
        state: z.enum(['draft', 'live', 'retired']),
        version: z.int(),
        settings: EventKindJson,
        range: RangeJson.extend({ shown: z.string() }),
        outside: RangeJson.extend({ shown: z.string() }).nullable(),
        /** Events that began with it. */
        used: z.array(z.string()),
        usedCount: z.int(),
        changedBy: z.string(),
        changedAt: Stamp,
      }),
    ),
  }),
})
/** Keeps the draft of a kind, faults and all; they come back and stop its being put to use. */
export const SaveEventKind = defineEndpoint({
  name: 'eventKinds.save',
  method: 'post',
  path: '/event-kinds',
  permission: 'setup.write',
  body: z.strictObject({
    code: Uuid,
    version: VersionOrNew,
    name: Line.min(1),
    settings: EventKindJson,
    range: RangeJson,
    outside: RangeJson.nullable(),
  }),
  response: Done.extend({ reasons: z.array(ReasonJson) }),
})
export const PublishEventKind = defineEndpoint({
  name: 'eventKinds.publish',
  method: 'post',
  path: '/event-kinds/:id/publish',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
/** A draft goes; what is in use is refused with what uses it, and can only be given up for new events. */
export const DropEventKind = defineEndpoint({
  name: 'eventKinds.drop',
  method: 'post',
  path: '/event-kinds/:id/drop',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
export const RetireEventKind = defineEndpoint({
  name: 'eventKinds.retire',
  method: 'post',
  path: '/event-kinds/:id/retire',
  permission: 'setup.write',
  params: ById,
  body: z.strictObject({ version: Version, reason: GivenReason }),
  response: Done,
})
