import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { GivenReason, Line, ReasonJson, Stamp, Text, Uuid } from '#contract/fields.ts'
import { CountBody } from '#contract/receive/endpoints.ts'
import { ASKED, BECOMES } from '#core/receive/terms.ts'

const DeviceLineJson = z.strictObject({
  lineId: Uuid,
  orderId: Uuid,
  position: z.int(),
  order: z.string(),
  supplier: z.string(),
  description: z.string(),
  item: z.string(),
  supplierItem: z.string(),
  makerNumber: z.string(),
  gtins: z.array(z.string()),
  tracking: z.array(z.string()),
  ssccs: z.array(z.string()),
  unit: z.string(),
  units: z.array(z.string()),
  ordered: z.string(),
  open: z.string(),
  blind: z.boolean(),
  becomes: z.enum(BECOMES),
  serial: z.enum(ASKED),
  batch: z.enum(ASKED),
  bestBefore: z.enum(ASKED),
  tagRange: z.string(),
  expectedOn: z.string().nullable(),
  despatchId: Uuid.nullable(),
})
/** As many lines as a device loads. */
export const MOST_LINES = 2000
/** What a dock expects, with all that is needed to count it without a network. */
export const LoadDock = defineEndpoint({
  name: 'handheld.load',
  method: 'get',
  path: '/handheld/load',
  permission: 'delivery.receive',
  query: z.strictObject({ placeId: Uuid.optional() }),
  response: z.strictObject({
    person: z.strictObject({ id: Uuid, name: z.string() }),
    placeId: Uuid,
    places: z.array(z.strictObject({ id: Uuid, label: z.string() })),
    lines: z.array(DeviceLineJson),
    more: z.boolean(),
    nextTags: z.record(z.string(), z.string().nullable()),
    today: z.string(),
  }),
})
/** What a scan means among everything that is open, for what was not loaded. */
export const LookUp = defineEndpoint({
  name: 'receive.lookup',
  method: 'get',
  path: '/receive-lookup',
  permission: 'delivery.read',
  query: z.strictObject({ q: Line.min(1).max(80) }),
  response: z.strictObject({
    found: z.array(
      z.strictObject({
        orderId: Uuid,
        lineId: Uuid.nullable(),
        number: z.string(),
        supplier: z.string(),
        description: z.string(),
        open: z.string(),
        unit: z.string(),
        path: z.string(),
      }),
    ),
    reasons: z.array(ReasonJson),
  }),
})
const ActJson = z.strictObject({
  key: Uuid,
  sequence: z.int().min(0),
  madeAt: z.iso.datetime(),
  personId: Uuid,
  orderId: Uuid,
  placeId: Uuid,
  count: CountBody,
  pieces: z.array(z.strictObject({ tag: Line.max(40), serial: Line.max(40) })).max(500),
  note: Text,
  checkReason: Text,
  despatchId: Uuid.optional(),
})
const AnswerJson = z.strictObject({
  key: Uuid,
  state: z.enum(['taken', 'settle', 'dropped']),
  number: z.string(),
  reasons: z.array(ReasonJson),
})
/** Sends what a device did; each act is taken once, whatever is repeated, and answered one by one. */
export const SendActs = defineEndpoint({
  name: 'handheld.send',
  method: 'post',
  path: '/handheld/acts',
  permission: 'signedIn',
  body: z.strictObject({ deviceId: Uuid, deviceNow: z.iso.datetime(), acts: z.array(ActJson).min(1).max(200) }),
  response: z.strictObject({ answers: z.array(AnswerJson) }),
})
/** What could not be taken as it stands. */
export const ToSettle = defineEndpoint({
  name: 'handheld.toSettle',
  method: 'get',
  path: '/handheld/to-settle',
  permission: 'order.read',
  response: z.strictObject({
    acts: z.array(
      z.strictObject({
        key: Uuid,
        by: z.string(),
        madeAt: Stamp,
        order: z.string(),
        path: z.string(),
        what: z.string(),
        quantity: z.string(),
        unit: z.string(),
        reasons: z.array(ReasonJson),
        maySettle: z.boolean(),
      }),
    ),
  }),
})
/** Tries one again as things are now, in the name of whoever does it, or lets it go with the reason. */
export const SettleAct = defineEndpoint({
  name: 'handheld.settle',
  method: 'post',
  path: '/handheld/acts/:key/settlement',
  permission: 'order.read',
  params: z.strictObject({ key: Uuid }),
  body: z.strictObject({ how: z.enum(['again', 'drop']), reason: GivenReason }),
  response: AnswerJson,
})
