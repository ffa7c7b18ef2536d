import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  AmountText,
  ById,
  Currency,
  DecimalText,
  Done,
  GivenReason,
  Line,
  ReasonJson,
  Uuid,
  Version,
} from '#contract/fields.ts'

import { ROUTES } from '#core/request/routes.ts'

const Lines = z.array(Uuid).min(1).max(500)
/** What a buyer does with approved lines: take them, hand them on, put them together, mark them for a quote request. */
export const ActOnPool = defineEndpoint({
  name: 'pool.act',
  method: 'post',
  path: '/to-buy/act',
  permission: 'order.write',
  body: z.strictObject({
    lineIds: Lines,
    action: z.enum(['take', 'handOn', 'leave', 'bundle', 'mark', 'unmark']),
    personId: Uuid.nullable(),
    text: Line,
    marked: z.enum(['askForQuotes', 'setUpAgreement']).nullable(),
  }),
  response: z.strictObject({ lines: z.int() }),
})
export const AskRequester = defineEndpoint({
  name: 'pool.ask',
  method: 'post',
  path: '/to-buy/ask',
  permission: 'order.write',
  body: z.strictObject({ lineIds: Lines, question: GivenReason }),
  response: z.strictObject({ asked: z.int() }),
})
/** Sends requests back for changes (nothing of them is bought yet), or lets single lines go that will not be bought. */
export const ReturnLines = defineEndpoint({
  name: 'pool.return',
  method: 'post',
  path: '/to-buy/return',
  permission: 'order.write',
  body: z.strictObject({ lineIds: Lines, how: z.enum(['returnRequest', 'dropLines']), reason: GivenReason }),
  response: z.strictObject({ requests: z.array(z.string()) }),
})
/** Cuts a quantity off a line for another supplier. */
export const SplitLine = defineEndpoint({
  name: 'pool.split',
  method: 'post',
  path: '/to-buy/:id/split',
  permission: 'order.write',
  params: ById,
  body: z.strictObject({
    quantity: DecimalText,
    offerId: Uuid.nullable(),
    supplierId: Uuid.nullable(),
    price: DecimalText.nullable(),
    currency: Currency.nullable(),
  }),
  response: Done,
})
export const PoolLine = defineEndpoint({
  name: 'pool.line',
  method: 'get',
  path: '/to-buy/:id',
  permission: 'order.write',
  params: ById,
  response: z.strictObject({
    id: Uuid,
    version: Version,
    description: z.string(),
    open: DecimalText,
    unit: z.string(),
    routes: z.array(z.string()),
    routeReason: z.string(),
    reason: z.string(),
    question: z.string().nullable(),
    answer: z.string().nullable(),
    offers: z.array(
      z.strictObject({
        id: Uuid,
        supplier: z.string(),
        agreement: z.string(),
        price: DecimalText,
        currency: z.string(),
        unit: z.string(),
        earliest: z.string(),
      }),
    ),
    reasons: z.array(ReasonJson),
  }),
})

const Rules = z.strictObject({
  byPlace: z.boolean(),
  byIncoterm: z.boolean(),
  windowDays: z.int().min(0).max(365).nullable(),
})
/** Lines that wait and can be bought, with what decides into which order they go; the drafts are proposed from them by the core. */
export const ReadProposals = defineEndpoint({
  name: 'pool.proposals',
  method: 'get',
  path: '/to-buy-proposals',
  permission: 'order.write',
  response: z.strictObject({
    rules: Rules,
    lines: z.array(
      z.strictObject({
        id: Uuid,
        requisition: z.string(),
        requisitionPath: z.string(),
        description: z.string(),
        quantity: DecimalText,
        unit: z.string(),
        amount: AmountText,
        currency: z.string(),
        supplierId: Uuid,
        supplier: z.string(),
        addressId: Uuid.nullable(),
        place: z.string(),
        incoterm: z.string().nullable(),
        incotermPlace: z.string(),
        needBy: z.string().nullable(),
        agreement: z.string(),
        routes: z.array(z.enum(ROUTES)),
      }),
    ),
    /** Lines that wait and cannot be bought yet. */
    left: z.array(
      z.strictObject({ id: Uuid, requisition: z.string(), description: z.string(), reasons: z.array(ReasonJson) }),
    ),
    limits: z.array(
      z.strictObject({
        supplierId: Uuid,
        currency: z.string(),
        minimumOrder: AmountText.nullable(),
        freight: AmountText.nullable(),
        freightFrom: AmountText.nullable(),
      }),
    ),
  }),
})
/** Keeps by what the team keeps orders apart. */
export const KeepPoolRules = defineEndpoint({
  name: 'pool.keepRules',
  method: 'put',
  path: '/to-buy-proposals/rules',
  permission: 'order.write',
  body: Rules,
  response: Rules,
})
/** Drafts each group of lines as one order, all or none. */
export const DraftGroups = defineEndpoint({
  name: 'pool.draftGroups',
  method: 'post',
  path: '/to-buy-proposals/orders',
  permission: 'order.write',
  body: z.strictObject({
    groups: z
      .array(z.strictObject({ route: z.enum(['orderNow', 'callOff']), lineIds: z.array(Uuid).min(1).max(500) }))
      .min(1)
      .max(200),
  }),
  response: z.strictObject({ orders: z.array(Done.extend({ number: z.string() })) }),
})
