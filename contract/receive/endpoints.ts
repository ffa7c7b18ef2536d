import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  ById,
  Day,
  DecimalText,
  Done,
  GaugeJson,
  GivenReason,
  Line,
  SheetFrame,
  Stamp,
  Text,
  Uuid,
  Version,
} from '#contract/fields.ts'
import { DeliveryJson } from '#contract/order/endpoints.ts'
import { defineList } from '#contract/lists/list.ts'
import { DespatchJson } from '#contract/receive/despatch.ts'
import { TermsJson } from '#contract/receivingTerms.ts'
import { CONDITIONS } from '#core/receive/counts.ts'
import { MOST_SERIALS } from '#core/receive/serials.ts'
import { BECOMES, TERM_KEYS } from '#core/receive/terms.ts'
import { UNIT_CODES } from '#core/units/units.ts'

export const RECEIPT_SOURCES = ['desk', 'handheld', 'import', 'invoice', 'workReport'] as const

/** A count on a receipt. */
const PartJson = z.strictObject({
  id: Uuid,
  position: z.int(),
  lineId: Uuid,
  quantity: DecimalText,
  unit: z.string(),
  enteredQuantity: DecimalText,
  enteredUnit: z.string(),
  /** What of it was taken back. */
  reversed: DecimalText,
  /** What of it went back to the supplier. */
  returned: DecimalText,
  bin: z.string(),
  batch: z.string(),
  bestBefore: z.string().nullable(),
  condition: z.enum(CONDITIONS),
  serials: z.array(z.string()),
  note: z.string(),
  becomes: z.enum([...BECOMES, 'work']),
  inspection: z.strictObject({ id: Uuid, number: z.string(), state: z.string() }).nullable(),
  /** Its pieces that still stand, by tag and serial number. */
  pieces: z.array(z.strictObject({ id: Uuid, label: z.string() })),
})

export const DeliverySheet = SheetFrame.extend({
  supplier: z.string(),
  orderPath: z.string().nullable(),
  /** The first day of the period that is open. */
  openFrom: z.string().nullable(),
  places: z.array(z.strictObject({ id: Uuid, label: z.string() })),
  usualPlaceId: Uuid.nullable(),
  today: z.string(),
  lines: z.array(
    z.strictObject({
      id: Uuid,
      position: z.int(),
      kind: z.string(),
      description: z.string(),
      itemNumber: z.string().nullable(),
      /** Numbers by which a scan finds it: ours, the supplier's, the maker's, GTINs of 14 digits. */
      codes: z.array(z.string()),
      itemId: Uuid.nullable(),
      unit: z.string(),
      /** Units in which it can be counted. */
      units: z.array(z.string()),
      /** Hidden where they are counted without being seen. */
      ordered: DecimalText.nullable(),
      done: DecimalText.nullable(),
      open: DecimalText.nullable(),
      /** How it is received, and where each part of that is said. */
      terms: TermsJson,
      termsFrom: z.partialRecord(z.enum(TERM_KEYS as [string, ...string[]]), z.string()),
      inspects: z.boolean(),
      proof: z.string(),
      instalments: z.array(z.strictObject({ title: z.string(), amount: z.string(), due: z.string() })),
      needBy: z.string().nullable(),
      promisedDate: z.string().nullable(),
      /** Its deliveries, where it comes in several. */
      schedule: z.array(DeliveryJson),
      address: z.string().nullable(),
      mayProve: z.boolean(),
      gauge: GaugeJson,
    }),
  ),
  /** What the supplier announced and was not received. */
  announced: z.array(DespatchJson),
  receipts: z.array(
    z.strictObject({
      id: Uuid,
      number: z.string(),
      state: z.string(),
      receivedOn: z.string(),
      place: z.string(),
      by: z.string(),
      at: Stamp,
      note: z.string(),
      source: z.enum(RECEIPT_SOURCES),
      reason: z.string(),
      mayReverse: z.boolean(),
      /** Somebody else has to say yes to it, and whether that is whoever reads this. */
      mayAnswer: z.boolean(),
      mayWithdraw: z.boolean(),
      /** A bill was posted on the strength of it. */
      parts: z.array(PartJson),
    }),
  ),
})
export const Deliveries = defineList('deliveries', '/deliveries', 'delivery.read', ['order'])
export const ReadDelivery = defineEndpoint({
  name: 'delivery.read',
  method: 'get',
  path: '/deliveries/:id',
  permission: 'delivery.read',
  params: ById,
  response: DeliverySheet,
})
export const CountBody = z.strictObject({
  lineId: Uuid,
  quantity: DecimalText,
  unit: z.enum(UNIT_CODES as [string, ...string[]]).optional(),
  bin: Line.max(40).optional(),
  batch: Line.max(40).optional(),
  bestBefore: Day.nullable().optional(),
  condition: z.enum(CONDITIONS).optional(),
  serials: z.array(Line.min(1)).max(MOST_SERIALS).optional(),
  note: Text.optional(),
  again: DecimalText.optional(),
})
export type CountBody = z.output<typeof CountBody>

/** Goods are counted in by a receiver, work is accepted by its requester; both make a receipt. */
export const Receive = defineEndpoint({
  name: 'delivery.receive',
  method: 'post',
  path: '/deliveries/:id/receipts',
  permission: 'delivery.read',
  params: ById,
  body: z.strictObject({
    receivedOn: Day,
    placeId: Uuid,
    note: Text,
    checkReason: Text.optional(),
    /** The announcement that came. */
    despatchId: Uuid.optional(),
    lines: z.array(CountBody).min(1).max(500),
  }),
  response: Done.extend({ number: z.string(), state: z.string() }),
})
export const ReverseReceipt = defineEndpoint({
  name: 'receipt.reverse',
  method: 'post',
  path: '/receipts/:id/reverse',
  permission: 'delivery.read',
  params: ById,
  body: z.strictObject({
    reason: GivenReason,
    /** Some of its counts, or parts of them; all that stands where nothing is said. */
    parts: z
      .array(z.strictObject({ partId: Uuid, quantity: DecimalText, pieces: z.array(Uuid).max(MOST_SERIALS) }))
      .max(500)
      .optional(),
  }),
  response: Done.extend({ unproven: z.int() }),
})
/** Says yes or no to a count above the tolerance that somebody else made, or takes it back. */
export const AnswerReceipt = defineEndpoint({
  name: 'receipt.answer',
  method: 'post',
  path: '/receipts/:id/answer',
  permission: 'delivery.read',
  params: ById,
  body: z.strictObject({ answer: z.enum(['approve', 'reject', 'withdraw']), reason: Text }),
  response: Done,
})
/** Says of one line what its goods become, otherwise than its item and category; null: as they say. */
export const SetBecomes = defineEndpoint({
  name: 'delivery.becomes',
  method: 'post',
  path: '/deliveries/:id/lines/:lineId/becomes',
  permission: 'proof.change',
  params: z.strictObject({ id: Uuid, lineId: Uuid }),
  body: z.strictObject({ version: Version, becomes: z.enum(BECOMES).nullable() }),
  response: Done,
})
