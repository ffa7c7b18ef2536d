import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  AmountText,
  ById,
  Day,
  DecimalText,
  Done,
  GaugeJson,
  GivenReason,
  Line,
  QueryRevision,
  ReasonJson,
  Revision,
  SheetFrame,
  Stamp,
  Text,
  Uuid,
  Version,
} from '#contract/fields.ts'
import { ImportBody, ImportResult } from '#contract/files/endpoints.ts'
import { defineList } from '#contract/lists/list.ts'
import { MOST_DELIVERIES } from '#core/order/schedule.ts'
import { TOLD_BY } from '#core/source/invitedActs.ts'
import { CHARGE_KINDS, type ChargeKind, MOST_CHARGES } from '#core/order/charges.ts'
import { SplitJson } from '#contract/request/lines.ts'
import { DefaultsJson, EffectiveJson } from '#contract/source/record.ts'

export const DifferenceJson = z.strictObject({
  lineId: Uuid,
  position: z.int(),
  kind: z.enum(['added', 'removed', 'changed']),
  fields: z.array(z.strictObject({ field: z.string(), before: z.string(), after: z.string() })),
})
const DatedQuantityJson = z.strictObject({ quantity: DecimalText, date: Day })
/** `parts`: what comes on which day, where it comes on several; `date` is then the last of them. */
export const ResponseLineJson = z.strictObject({
  lineId: Uuid,
  quantity: DecimalText,
  price: DecimalText,
  date: Day,
  parts: z.array(DatedQuantityJson).max(MOST_DELIVERIES).readonly().optional(),
})
/** A delivery of a line, and what became of it. */
export const DeliveryJson = z.strictObject({
  quantity: DecimalText,
  date: z.string(),
  place: z.string(),
  promised: z.string().nullable(),
  open: DecimalText,
})
export const OrderLineJson = z.strictObject({
  id: Uuid,
  position: z.int(),
  kind: z.string(),
  description: z.string(),
  itemNumber: z.string().nullable(),
  quantity: DecimalText,
  unit: z.string(),
  price: DecimalText,
  priceBase: DecimalText,
  amount: AmountText,
  needBy: z.string().nullable(),
  address: z.string().nullable(),
  addressId: Uuid.nullable(),
  /** Its deliveries, where it comes in several. */
  schedule: z.array(DeliveryJson.extend({ addressId: Uuid.nullable() })),
  requisitionNumber: z.string().nullable(),
  requisitionPath: z.string().nullable(),
  promisedDate: z.string().nullable(),
  /** What has come in or is billed: it cannot be undercut. */
  done: DecimalText,
  terms: z.string(),
  proof: z.string(),
  gauge: GaugeJson,
})
export const OrderResponseJson = z.strictObject({
  id: Uuid,
  revision: z.int(),
  state: z.string(),
  at: Stamp,
  by: z.string(),
  /** Who said it, where somebody of ours typed it in. */
  told: z.strictObject({ who: z.string(), on: Day, how: z.string() }).nullable(),
  note: z.string(),
  differences: z.array(DifferenceJson),
  lines: z.array(ResponseLineJson),
})
export const RevisionJson = z.strictObject({
  revision: z.int(),
  issuedAt: Stamp,
  by: z.string(),
  reason: z.string(),
  total: AmountText,
  differences: z.array(DifferenceJson),
})
/** A charge or discount of an order; `splits`: the accounts that pay for it alone, without them those of the lines do. */
export const ChargeBody = z.strictObject({
  kind: z.enum(Object.keys(CHARGE_KINDS) as [ChargeKind, ...ChargeKind[]]),
  words: Line,
  percent: DecimalText.nullable(),
  amount: AmountText,
  splits: z.array(SplitJson).max(50),
})
/** The same as its supplier sees it. */
export const ChargeShown = ChargeBody.omit({ splits: true })
export const OrderLineBody = z.strictObject({
  id: Uuid,
  quantity: DecimalText,
  price: DecimalText,
  needBy: Day.nullable(),
  description: Line,
  /** Where it goes; without a word where it went before. */
  addressId: Uuid.nullable().optional(),
  /** Its deliveries; none is all at once, without a word they follow quantity and day. */
  schedule: z
    .array(DatedQuantityJson.extend({ addressId: Uuid.nullable() }))
    .max(MOST_DELIVERIES)
    .optional(),
})
/** How somebody wants an order to read. */
export const WantedOrderBody = z.strictObject({
  title: Line.min(1),
  message: Text,
  charges: z.array(ChargeBody).max(MOST_CHARGES),
  /** The place of the supplier that it goes to; without a word where it went before. */
  locationId: Uuid.nullable().optional(),
  lines: z.array(OrderLineBody).min(1).max(500),
})
export type WantedOrderBody = z.output<typeof WantedOrderBody>
/** The last question about what an order costs above what was approved. */
export const ExcessJson = z.strictObject({
  state: z.string(),
  askedBy: z.string(),
  askedAt: Stamp,
  reason: z.string(),
  /** In the base currency, as all of this. */
  amount: AmountText,
  currency: z.string(),
  lines: z.array(z.strictObject({ id: Uuid, position: z.int(), approved: AmountText, upTo: AmountText })),
  /** The change that it was asked for, as long as it can still be made. */
  wanted: WantedOrderBody.nullable(),
  answer: z.strictObject({ who: z.string(), reason: z.string() }).nullable(),
})
/** A change of an issued order that somebody is still writing, kept beside the order in force. */
const ChangeBody = z.strictObject({ wanted: WantedOrderBody, reason: Text, needRemains: z.boolean() })
export const KeptChangeJson = ChangeBody.extend({
  by: z.string(),
  mine: z.boolean(),
  at: Stamp,
  /** The revision that it was begun on. */
  revision: z.int(),
})
/** What is paid before anything comes, and held back of work; empty where that is nothing. */
export const AheadJson = z.array(
  z.strictObject({ key: z.enum(['prepaid', 'retained']), percent: z.string(), amount: AmountText }),
)
/** A clause as it stands on an order, with what it is for where it is not for all orders. */
export const ClauseJson = z.strictObject({
  clauseId: Uuid,
  version: z.int(),
  name: z.string(),
  text: z.string(),
  because: z.array(z.string()),
})
export const OrderSheet = SheetFrame.extend({
  keptChange: KeptChangeJson.nullable(),
  excess: ExcessJson.nullable(),
  supplierId: Uuid,
  supplier: z.string(),
  supplierPath: z.string(),
  buyer: z.string(),
  /** The framework agreement that it calls off, or nothing. */
  agreement: z.string(),
  /** Where it is read; null where it is no document of ours, or not for this person. */
  agreementPath: z.string().nullable(),
  currency: z.string(),
  revision: z.int(),
  total: AmountText,
  charges: z.array(ChargeBody),
  /** The accounts of charges that are paid by accounts of their own, by name. */
  chargeAccounts: z.array(z.strictObject({ id: Uuid, label: z.string() })),
  message: z.string(),
  /** The place of the supplier that it goes to, and those that it could go to. */
  location: z.string(),
  locationId: Uuid.nullable(),
  locations: z.array(z.strictObject({ id: Uuid, label: z.string() })),
  clauses: z.array(ClauseJson),
  ahead: AheadJson,
  terms: z.string(),
  conditions: DefaultsJson,
  effective: z.array(EffectiveJson),
  supplierReasons: z.array(ReasonJson),
  address: z.string().nullable(),
  issuedAt: Stamp.nullable(),
  lines: z.array(OrderLineJson),
  revisions: z.array(RevisionJson),
  responses: z.array(OrderResponseJson),
  delivery: z.array(
    z.strictObject({
      kind: z.string(),
      state: z.string(),
      attempts: z.int(),
      lastError: z.string().nullable(),
      at: Stamp,
    }),
  ),
})
export const ToBuy = defineList('toBuy', '/to-buy', 'order.write', ['requisition'])
export const Orders = defineList('orders', '/orders', 'order.read', ['order'])
export const DraftOrders = defineEndpoint({
  name: 'order.draft',
  method: 'post',
  path: '/orders/draft',
  permission: 'order.write',
  body: z.strictObject({ lineIds: z.array(Uuid).min(1).max(500), route: z.enum(['orderNow', 'callOff']).optional() }),
  response: z.strictObject({ orders: z.array(Done.extend({ number: z.string() })) }),
})
export const ReadOrder = defineEndpoint({
  name: 'order.read',
  method: 'get',
  path: '/orders/:id',
  permission: 'order.read',
  params: ById,
  response: OrderSheet,
})
/** Edits a draft, or makes the next revision of an issued order (then `reason` is needed). */
/** Gives a charge of a draft, by its place among the charges, a line of its own. */
export const ChargeAsLine = defineEndpoint({
  name: 'order.chargeAsLine',
  method: 'post',
  path: '/orders/:id/charges/line',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({ version: Version, at: z.int().min(0).max(MOST_CHARGES) }),
  response: Done,
})
export const ChangeOrder = defineEndpoint({
  name: 'order.change',
  method: 'put',
  path: '/orders/:id',
  permission: 'order.write',
  params: ById,
  body: WantedOrderBody.extend({
    version: Version,
    reason: Text,
    conditions: DefaultsJson.optional(),
    /** What is cancelled on lines is still needed. */
    needRemains: z.boolean().optional(),
  }),
  response: Done,
})
/** Keeps a change that is being written; whoever writes on what somebody else has kept since is told. */
export const KeepChange = defineEndpoint({
  name: 'order.keepChange',
  method: 'put',
  path: '/orders/:id/change',
  permission: 'order.write',
  params: ById,
  /** `revision`: the one in force where it is written; `seen`: the state of what is kept that this person knows. */
  body: ChangeBody.extend({ revision: Revision, seen: Stamp.nullable() }),
  response: z.strictObject({ at: Stamp }),
})
export const DropChange = defineEndpoint({
  name: 'order.dropChange',
  method: 'delete',
  path: '/orders/:id/change',
  permission: 'order.write',
  params: ById,
  response: z.strictObject({ dropped: z.boolean() }),
})
/** What a change of an issued order would do: line by line, to money, budgets and what was approved. */
export const LookAtChange = defineEndpoint({
  name: 'order.lookAtChange',
  method: 'post',
  path: '/orders/:id/change/look',
  permission: 'order.write',
  safe: true,
  params: ById,
  body: z.strictObject({ wanted: WantedOrderBody, needRemains: z.boolean() }),
  response: z.strictObject({
    differences: z.array(DifferenceJson),
    before: AmountText,
    after: AmountText,
    moves: z.array(
      z.strictObject({
        accountId: Uuid,
        label: z.string(),
        reserved: AmountText,
        committed: AmountText,
        /** What is left on the account now, and would be. */
        left: AmountText,
        then: AmountText,
      }),
    ),
    base: z.string(),
    reasons: z.array(ReasonJson),
    same: z.boolean(),
  }),
})
/** Asks whether an order may cost more than was approved: as it is, as it would be after a change, or after the supplier's answer. */
export const AskExcess = defineEndpoint({
  name: 'order.askExcess',
  method: 'post',
  path: '/orders/:id/excess',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({ version: Version, reason: GivenReason, wanted: WantedOrderBody.nullable() }),
  response: Done,
})
export const AnswerExcess = defineEndpoint({
  name: 'order.answerExcess',
  method: 'post',
  path: '/orders/:id/excess/answer',
  permission: 'order.read',
  params: ById,
  body: z.strictObject({ version: Version, answer: z.enum(['approve', 'reject', 'withdraw']), reason: Text }),
  response: Done,
})
export const IssueOrder = defineEndpoint({
  name: 'order.issue',
  method: 'post',
  path: '/orders/:id/issue',
  permission: 'order.write',
  params: ById,
  /** `checkReason`: why it is issued although something should be looked at. */
  body: z.strictObject({ version: Version, checkReason: z.string().max(500).optional() }),
  response: Done,
})
export const ActOnOrder = defineEndpoint({
  name: 'order.act',
  method: 'post',
  path: '/orders/:id/act',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    action: z.enum(['cancel', 'close', 'reopen', 'seal']),
    reason: GivenReason,
    needRemains: z.boolean(),
  }),
  response: Done,
})
export const ChaseOrder = defineEndpoint({
  name: 'order.chase',
  method: 'post',
  path: '/orders/:id/chase',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({ version: Version, note: Text }),
  response: Done,
})
export const AnswerResponse = defineEndpoint({
  name: 'order.answerResponse',
  method: 'post',
  path: '/orders/:id/responses/:responseId',
  permission: 'order.write',
  params: z.strictObject({ id: Uuid, responseId: Uuid }),
  /** `only`: the lines on which it is accepted; without it on all. */
  body: z.strictObject({
    version: Version,
    answer: z.enum(['accept', 'refuse']),
    reason: Text,
    only: z.array(Uuid).max(500).optional(),
  }),
  response: Done,
})
/** Who told us, when and how, what a supplier answered. */
export const ToldJson = z.strictObject({
  who: Line,
  on: Day,
  how: z.enum(TOLD_BY),
})
/** Types in what a supplier answered by telephone or mail. */
export const RecordAnswer = defineEndpoint({
  name: 'order.recordAnswer',
  method: 'post',
  path: '/orders/:id/answer',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    revision: Revision,
    lines: z.array(ResponseLineJson).min(1).max(500),
    note: Text,
    told: ToldJson,
  }),
  response: z.strictObject({ state: z.string() }),
})
/** Says that the supplier was told of the revision in force: by word, or that it was handed on. */
export const TellSupplier = defineEndpoint({
  name: 'order.tell',
  method: 'post',
  path: '/orders/:id/told',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({ version: Version, note: Text, told: ToldJson }),
  response: Done,
})
export const AnswerFile = z.strictObject({ text: z.string().min(1).max(2_000_000) })
/** A supplier's answer as its UBL file says it; nothing is kept by reading it. */
export const AnswerReadJson = z.strictObject({
  revision: z.int().nullable(),
  lines: z.array(ResponseLineJson),
  note: z.string(),
  left: z.array(
    z.strictObject({
      row: z.int(),
      code: z.string(),
      details: z.record(z.string(), z.union([z.string(), z.number()])),
    }),
  ),
  unsaid: z.array(z.int()),
})
export const ReadAnswerFile = defineEndpoint({
  name: 'order.answerFile',
  method: 'post',
  path: '/orders/:id/answer/file',
  permission: 'order.write',
  safe: true,
  params: ById,
  body: AnswerFile,
  response: AnswerReadJson,
})
export const RevisionFile = z.strictObject({ id: Uuid, revision: QueryRevision })
export const OrderPdf = defineEndpoint({
  name: 'order.pdf',
  method: 'get',
  path: '/orders/:id/revisions/:revision/pdf',
  permission: 'order.read',
  params: RevisionFile,
  answers: 'file',
})
export const OrderUbl = defineEndpoint({
  name: 'order.ubl',
  method: 'get',
  path: '/orders/:id/revisions/:revision/ubl',
  permission: 'order.read',
  params: RevisionFile,
  answers: 'file',
})

/** Takes over open orders from before: a row for each line, with what is still to come. */
export const ImportOrders = defineEndpoint({
  name: 'orders.import',
  method: 'post',
  path: '/orders-import',
  permission: 'order.write',
  body: ImportBody,
  response: ImportResult,
})
