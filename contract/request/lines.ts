import { z } from 'zod'
import { AmountText, Currency, Day, DecimalText, GaugeJson, Line, ReasonJson, Text, Uuid } from '#contract/fields.ts'
import { LINE_KINDS, PROOFS, TAX_STATUSES } from '#core/request/kinds.ts'
import { ROUTES } from '#core/request/routes.ts'
import { SPLIT_BY } from '#core/request/splits.ts'
import { FREIGHT_ANSWERS } from '#core/request/terms.ts'

export const SplitJson = z.strictObject({ accountId: Uuid, share: DecimalText })
export const RouteJson = z.enum(ROUTES)
export const DetailsJson = z.strictObject({
  deliverable: Text.optional(),
  instalments: z
    .array(z.strictObject({ title: Line, amount: z.string().max(24), due: z.string().max(10) }))
    .max(60)
    .optional(),
  expected: z.string().max(24).optional(),
  person: z
    .strictObject({ name: Line, taxStatus: z.union([z.enum(TAX_STATUSES), z.literal('')]), taxNumber: Line })
    .optional(),
  maker: Line.optional(),
  makerNumber: Line.optional(),
})
/** A line as its form has it. What is left out is as usual: parts for splits, order now, the term that the offer or the supplier says. */
export const LineBody = z.strictObject({
  id: Uuid.optional(),
  kind: z.enum(LINE_KINDS),
  itemId: Uuid.nullable(),
  offerId: Uuid.nullable(),
  description: Line,
  quantity: DecimalText,
  unit: z.string().max(3),
  price: DecimalText,
  priceBase: DecimalText,
  currency: Currency,
  supplierId: Uuid.nullable(),
  needBy: Day.nullable(),
  addressId: Uuid.nullable(),
  splits: z.array(SplitJson).max(50),
  category: Line.optional(),
  splitBy: z.enum(SPLIT_BY).optional(),
  incoterm: z.string().max(3).nullable().optional(),
  incotermPlace: Line.optional(),
  routes: z.array(RouteJson).max(4).optional(),
  routeReason: Line.optional(),
  /** How it is proven, where somebody with the right to says so. */
  proof: z.enum(PROOFS).nullable().optional(),
  freight: z.enum(FREIGHT_ANSWERS).optional(),
  details: DetailsJson.optional(),
  /** The line of an agreement that is called off without an item of the catalogue: work, or what only words say. */
  agreementLineId: Uuid.nullable().optional(),
  /** Take the offer as it is now instead of as it was when the line was made. */
  refresh: z.boolean().optional(),
})
export type LineBody = z.output<typeof LineBody>
export type FullLine = Required<Omit<LineBody, 'id' | 'refresh'>>

export const RequisitionBody = z.strictObject({ title: Line, reason: Text, lines: z.array(LineBody).max(500) })
export type RequisitionBody = z.output<typeof RequisitionBody>

/** What is known of a line beside what was typed: shown next to its fields. */
export const LineFacts = z.strictObject({
  id: Uuid,
  price: DecimalText,
  quantity: DecimalText,
  unit: z.string(),
  currency: z.string(),
  amount: AmountText,
  baseAmount: AmountText,
  /** The dated rate to the base currency; null where there is none. */
  rate: z.string().nullable(),
  earliest: z.string().nullable(),
  term: z.strictObject({ incoterm: z.string(), place: z.string(), from: z.string() }),
  freightWanted: z.boolean(),
  proof: z.strictObject({ proof: z.string(), from: z.string() }),
  routes: z.array(z.string()),
  agreement: z.string(),
  /** The offer is another one by now: what this line keeps, and what it would be. */
  offerNow: z
    .strictObject({ kept: DecimalText, now: DecimalText.nullable(), endedOn: z.string().nullable() })
    .nullable(),
})
export type LineFacts = z.output<typeof LineFacts>

export const LineJson = LineBody.required()
  .omit({ refresh: true })
  .extend({
    position: z.int(),
    state: z.string(),
    amount: AmountText,
    baseAmount: AmountText,
    supplier: z.string().nullable(),
    address: z.string().nullable(),
    itemNumber: z.string().nullable(),
    gauge: GaugeJson,
    orderPath: z.string().nullable(),
    orderNumber: z.string().nullable(),
    buyer: z.string().nullable(),
    /** Whoever looks may not see whom it is for. */
    confidential: z.boolean(),
    /** Because of it whoever reads this decides the request; for those who do not, all lines are. */
    mine: z.boolean(),
    /** The same item the last time that it was ordered: when, and by how many per cent it is dearer now. */
    lastTime: z.strictObject({ day: Day, percent: z.int() }).nullable(),
    facts: LineFacts,
  })
export type LineJson = z.output<typeof LineJson>
export const QuestionOfLine = z.strictObject({
  id: Uuid,
  lineId: Uuid.nullable(),
  question: z.string(),
  by: z.string(),
  at: z.string(),
  answer: z.string().nullable(),
  answeredBy: z.string().nullable(),
  answeredAt: z.string().nullable(),
})
export const CodingJson = z.strictObject({ accountId: Uuid, label: z.string(), because: z.string() })
export const Reasons = z.array(ReasonJson)
