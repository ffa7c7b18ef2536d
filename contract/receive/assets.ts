import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  AmountText,
  ById,
  Day,
  Done,
  GivenReason,
  Line,
  ReasonJson,
  SheetFrame,
  Text,
  Uuid,
  Version,
} from '#contract/fields.ts'
import { defineList } from '#contract/lists/list.ts'

export const LABEL_SYMBOLS = ['code128', 'qrcode', 'datamatrix'] as const
export const LABEL_LAYOUTS = ['sheet', 'roll'] as const

const AssetBody = z.strictObject({
  tag: Line.max(40),
  serial: Line.max(40),
  description: Line.min(1),
  placeId: Uuid.nullable(),
  bin: Line.max(40),
  personId: Uuid.nullable(),
  warrantyTo: Day.nullable(),
  serviceMonths: z.int().min(0).max(600),
  parentId: Uuid.nullable(),
  note: Text,
})
const Named = z.strictObject({ id: Uuid, label: z.string() })

export const Assets = defineList('assets', '/assets', 'order.read', ['asset'])
export const ReadAsset = defineEndpoint({
  name: 'asset.read',
  method: 'get',
  path: '/assets/:id',
  permission: 'order.read',
  params: ById,
  response: SheetFrame.extend({
    entry: AssetBody,
    needsSerial: z.boolean(),
    tagRange: z.string(),
    /** What is missing before it is finished. */
    missing: z.array(ReasonJson),
    item: Named.nullable(),
    cost: AmountText,
    currency: z.string(),
    account: z.string(),
    nextService: z.string().nullable(),
    /** Where it came from: order, receipt, invoices and when they were paid. */
    cameFrom: z.array(
      z.strictObject({
        kind: z.string(),
        number: z.string(),
        path: z.string().nullable(),
        day: z.string(),
        state: z.string(),
      }),
    ),
    parts: z.array(Named),
    parent: Named.nullable(),
    mayTell: z.boolean(),
    places: z.array(Named),
    people: z.array(Named),
  }),
})
/** Tells what there is to tell of a piece; with all it needs it is finished. */
export const TellAsset = defineEndpoint({
  name: 'asset.tell',
  method: 'post',
  path: '/assets/:id',
  permission: 'delivery.receive',
  params: ById,
  body: AssetBody.partial().extend({ version: Version }),
  response: Done.extend({ state: z.string(), missing: z.array(ReasonJson), nextTag: z.string().nullable() }),
})
export const DisposeAsset = defineEndpoint({
  name: 'asset.dispose',
  method: 'post',
  path: '/assets/:id/end',
  permission: 'delivery.receive',
  params: ById,
  body: z.strictObject({ version: Version, reason: GivenReason }),
  response: Done,
})
/** The pieces of an order, or of all orders, that nobody has finished, with the tag that comes next. */
export const ReadPieces = defineEndpoint({
  name: 'asset.pieces',
  method: 'get',
  path: '/assets-unfinished',
  permission: 'order.read',
  query: z.strictObject({ orderId: Uuid.optional() }),
  response: z.strictObject({
    pieces: z.array(
      z.strictObject({
        id: Uuid,
        version: z.int(),
        number: z.string(),
        description: z.string(),
        order: z.string(),
        tag: z.string(),
        serial: z.string(),
        needsSerial: z.boolean(),
        tagRange: z.string(),
      }),
    ),
    /** By range: the tag that nobody has; under '' that of any. */
    nextTags: z.record(z.string(), z.string().nullable()),
    more: z.boolean(),
  }),
})
/** Labels of pieces with their tags, to print on sheets or on a roll. */
export const AssetLabels = defineEndpoint({
  name: 'asset.labels',
  method: 'get',
  path: '/asset-labels',
  permission: 'order.read',
  query: z.strictObject({
    ids: z.string().regex(/^[0-9a-f-]{36}(,[0-9a-f-]{36}){0,199}$/),
    symbol: z.enum(LABEL_SYMBOLS),
    layout: z.enum(LABEL_LAYOUTS),
  }),
  answers: 'file',
})
