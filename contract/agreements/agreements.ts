import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  ById,
  Currency,
  Day,
  DecimalText,
  Done,
  Line,
  ReasonJson,
  SheetFrame,
  Text,
  Uuid,
  Version,
} from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'
import { TierJson } from '#contract/request/catalogue.ts'
import { CONSUMPTION_KINDS } from '#core/agreements/consumption.ts'
import { WHEN_OVER } from '#core/agreements/content.ts'
import { OPEN_ORDERS } from '#core/agreements/next.ts'

const Figure = z.union([z.literal(''), DecimalText])
const PricingJson = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('tiers'), tiers: z.array(TierJson).max(20) }),
  z.strictObject({
    kind: z.literal('periods'),
    periods: z.array(z.strictObject({ from: Day, tiers: z.array(TierJson).max(20) })).max(60),
  }),
  z.strictObject({
    kind: z.literal('index'),
    index: Line,
    basePrice: DecimalText,
    fixedShare: DecimalText,
    baseValue: DecimalText,
    lowest: Figure,
    highest: Figure,
  }),
])
export const AgreementLineJson = z.strictObject({
  id: Uuid,
  itemId: Uuid.nullable(),
  description: Line,
  category: Line,
  unit: z.string().max(3),
  currency: Currency,
  pricing: PricingJson,
  priceBase: DecimalText,
  listPrice: Figure,
  minimum: DecimalText,
  multiple: DecimalText,
  leadTimeDays: z.int().min(0).max(730),
  incoterm: z.string().max(3),
  incotermPlace: Line,
})
export const CeilingJson = z.strictObject({
  scope: z.enum(['whole', 'category', 'line']),
  category: Line,
  lineId: Uuid.nullable(),
  amount: Figure,
  quantity: Figure,
})
/** All that an agreement says. */
export const AgreementContentJson = z.strictObject({
  title: Line,
  currency: Currency,
  startsOn: Day,
  endsOn: Day,
  warnPercent: z.int().min(1).max(100),
  whenOver: z.enum(WHEN_OVER),
  ceilings: z.array(CeilingJson).max(200),
  callers: z.strictObject({
    costCentres: z.array(z.string().max(40)).max(200),
    addressIds: z.array(Uuid).max(200),
    personIds: z.array(Uuid).max(500),
  }),
  incoterm: z.string().max(3),
  incotermPlace: Line,
  serviceLevel: Text,
  terms: Text,
  lines: z.array(AgreementLineJson).max(500),
})

const ConsumedJson = z.strictObject({ amount: z.string(), quantity: z.string() })
const UseJson = z.strictObject({
  scope: z.enum(['whole', 'category', 'line']),
  of: z.string(),
  unit: z.string(),
  amount: z.string(),
  quantity: z.string(),
  taken: ConsumedJson,
  byKind: z.record(z.enum(CONSUMPTION_KINDS), ConsumedJson),
  percent: z.string(),
  full: z.boolean(),
  /** The day on which it is used up at the pace of the last half year; null where nothing says so. */
  usedUpOn: Day.nullable(),
  perDay: z.string(),
})
const LineNowJson = z.strictObject({
  id: Uuid,
  itemNumber: z.string(),
  description: z.string(),
  unit: z.string(),
  currency: z.string(),
  priceBase: z.string(),
  tiers: z.array(TierJson),
  /** Where it follows an index: the month it stands on, whether a value is still missing, whether it is kept within a limit. */
  index: z
    .strictObject({
      code: z.string(),
      month: z.string(),
      provisional: z.boolean(),
      held: z.enum(['lowest', 'highest']).nullable(),
    })
    .nullable(),
  /** The first price a year ago, empty where it was not agreed then. */
  yearAgo: z.string(),
  listPrice: z.string(),
  consumed: z.record(z.enum(CONSUMPTION_KINDS), ConsumedJson),
  /** What calling off has saved against the list, in the agreement's currency; empty where no list price is known. */
  saved: z.string(),
  leadTimeDays: z.int(),
  full: z.boolean(),
})
const HangingJson = z.strictObject({
  kind: z.enum(['order', 'requisition', 'invoice']),
  id: Uuid,
  number: z.string(),
  title: z.string(),
  state: z.string(),
  path: z.string(),
  deed: z.enum(['seal', 'closeAndSeal', 'cancel', 'person', 'told', 'done']),
  reasons: z.array(ReasonJson),
})
const OrderUnderJson = z.strictObject({
  id: Uuid,
  number: z.string(),
  title: z.string(),
  state: z.string(),
  path: z.string(),
  amount: z.string(),
  currency: z.string(),
  on: z.string(),
})
export const AgreementSheetJson = SheetFrame.extend({
  supplierId: Uuid,
  supplier: z.string(),
  ownerId: Uuid,
  owner: z.string(),
  revision: z.int(),
  amendment: z.enum(['none', 'writing', 'waiting']),
  content: AgreementContentJson,
  wanted: AgreementContentJson.nullable(),
  /** What is wrong with what it, or its amendment, would say. */
  faults: z.array(ReasonJson),
  askedReason: z.string(),
  openOrders: z.enum(OPEN_ORDERS),
  uses: z.array(UseJson),
  lines: z.array(LineNowJson),
  /** How much had been called off by the end of each day on which something was. */
  points: z.array(z.strictObject({ day: Day, total: z.string() })),
  consumed: z.string(),
  saved: z.string(),
  orders: z.array(OrderUnderJson),
  moreOrders: z.int(),
  revisions: z.array(
    z.strictObject({
      revision: z.int(),
      reason: z.string(),
      by: z.string(),
      at: z.string(),
      differences: z.array(
        z.strictObject({ field: z.string(), of: z.string(), before: z.string(), after: z.string() }),
      ),
    }),
  ),
  /** Of an amendment: what it would change. */
  differences: z.array(z.strictObject({ field: z.string(), of: z.string(), before: z.string(), after: z.string() })),
  names: z.record(z.string(), z.string()),
  event: z.strictObject({ number: z.string(), path: z.string() }).nullable(),
  windDown: z.array(
    z.strictObject({
      position: z.int(),
      kind: z.enum(['order', 'end', 'seal']),
      number: z.string(),
      path: z.string(),
      state: z.enum(['todo', 'done', 'person']),
      reasons: z.array(ReasonJson),
      at: z.string().nullable(),
    }),
  ),
})

export const Agreements = defineList('agreements', '/agreements', 'agreement.read', ['agreement'])
export const ReadAgreement = defineEndpoint({
  name: 'agreement.read',
  method: 'get',
  path: '/agreements/:id',
  permission: 'signedIn',
  params: ById,
  response: AgreementSheetJson,
})
export const CreateAgreement = defineEndpoint({
  name: 'agreement.create',
  method: 'post',
  path: '/agreements',
  permission: 'agreement.write',
  body: z.strictObject({
    supplierId: Uuid,
    title: Line.min(1),
    /** Begin with what the supplier's offers in the catalogue say. */
    fromOffers: z.boolean(),
  }),
  response: Done.extend({ number: z.string() }),
})
/** A draft for each supplier of an award. */
export const DraftFromAward = defineEndpoint({
  name: 'agreement.fromAward',
  method: 'post',
  path: '/agreements/from-award',
  permission: 'agreement.write',
  body: z.strictObject({ eventId: Uuid, version: Version }),
  response: z.strictObject({ made: z.array(z.strictObject({ id: Uuid, number: z.string() })) }),
})
export const WriteAgreement = defineEndpoint({
  name: 'agreement.write',
  method: 'put',
  path: '/agreements/:id',
  permission: 'agreement.write',
  params: ById,
  body: z.strictObject({ version: Version, content: AgreementContentJson }),
  response: Done,
})
export const ActOnAgreement = defineEndpoint({
  name: 'agreement.act',
  method: 'post',
  path: '/agreements/:id/acts',
  permission: 'signedIn',
  params: ById,
  body: z.strictObject({
    version: Version,
    act: z.enum([
      'putForward',
      'approve',
      'refuse',
      'withdraw',
      'amend',
      'dropAmendment',
      'cancel',
      'windDown',
      'goOn',
    ]),
    reason: Text,
    /** What becomes of open orders whose prices an amendment changes. */
    openOrders: z.enum(OPEN_ORDERS).optional(),
    /** The number, typed by whoever winds it down. */
    number: Line.optional(),
  }),
  response: Done,
})
/** Open orders under it whose prices would be others. */
export const PreviewAmendment = defineEndpoint({
  name: 'agreement.previewAmendment',
  method: 'get',
  path: '/agreements/:id/amendment',
  permission: 'agreement.read',
  params: ById,
  response: z.strictObject({
    orders: z.array(
      z.strictObject({
        number: z.string(),
        state: z.string(),
        line: z.string(),
        quantity: z.string(),
        unit: z.string(),
        currency: z.string(),
        before: z.string(),
        after: z.string(),
      }),
    ),
  }),
})
export const PreviewWindDown = defineEndpoint({
  name: 'agreement.previewWindDown',
  method: 'get',
  path: '/agreements/:id/wind-down',
  permission: 'agreement.read',
  params: ById,
  response: z.strictObject({ hanging: z.array(HangingJson) }),
})
/** Lines that can be called off without an item of the catalogue: work, or what only words say. */
export const CallableLines = defineEndpoint({
  name: 'agreement.callableLines',
  method: 'get',
  path: '/callable-lines',
  permission: 'requisition.write',
  response: z.strictObject({
    lines: z.array(
      z.strictObject({
        id: Uuid,
        number: z.string(),
        supplierId: Uuid,
        supplier: z.string(),
        description: z.string(),
        category: z.string(),
        unit: z.string(),
        currency: z.string(),
        price: z.string(),
        priceBase: z.string(),
        left: z.string(),
      }),
    ),
  }),
})

const IndexJson = z.strictObject({
  code: z.string(),
  name: z.string(),
  source: z.string(),
  version: z.int(),
  values: z.array(
    z.strictObject({ month: Day, value: z.string(), at: z.string(), by: z.string(), replaced: z.boolean() }),
  ),
})
export const PriceIndices = defineEndpoint({
  name: 'priceIndex.list',
  method: 'get',
  path: '/price-indices',
  permission: 'agreement.read',
  response: z.strictObject({ indices: z.array(IndexJson) }),
})
export const SaveIndex = defineEndpoint({
  name: 'priceIndex.save',
  method: 'put',
  path: '/price-indices/:code',
  permission: 'agreement.write',
  params: z.strictObject({ code: z.string().regex(/^[A-Z0-9-]{2,24}$/) }),
  body: z.strictObject({
    name: Line.min(1),
    source: Line,
    values: z.array(z.strictObject({ month: Day, value: DecimalText })).max(240),
  }),
  response: z.strictObject({ code: z.string(), kept: z.int() }),
})
