import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ById, Day, DecimalText, Done, Line, ReasonJson, Revision, Text, Uuid, VersionOrNew } from '#contract/fields.ts'
import { PACKAGE_KINDS } from '#core/receive/despatch.ts'
import { MOST_SERIALS } from '#core/receive/serials.ts'

/** As many files as hang on one paper of a supplier. */
export const MOST_FILES = 20
/** Which files hang on it from now on; not named: those that do. */
export const FileIds = z.array(Uuid).max(MOST_FILES).optional()
export const FileNames = z.array(z.strictObject({ id: Uuid, name: z.string() }))

const PackageJson = z.strictObject({
  kind: z.enum(PACKAGE_KINDS),
  sscc: Line.max(20),
  weight: z.union([z.literal(''), DecimalText]),
  size: Line.max(40),
})
export const DespatchLineJson = z.strictObject({
  lineId: Uuid,
  quantity: DecimalText,
  batch: Line.max(40),
  bestBefore: Day.nullable(),
  serials: z.array(Line.min(1).max(40)).max(MOST_SERIALS),
  package: z.int().min(0).max(500).nullable(),
})
export const DespatchBody = z.strictObject({
  number: Line.max(40),
  despatchedOn: Day,
  arrivesOn: Day,
  carrier: Line,
  tracking: Line.max(80),
  note: Text,
  packages: z.array(PackageJson).max(200),
  lines: z.array(DespatchLineJson).max(500),
  fileIds: FileIds,
})
export type DespatchBody = z.output<typeof DespatchBody>
export const DespatchJson = DespatchBody.omit({ fileIds: true }).extend({
  id: Uuid,
  files: FileNames,
  ours: z.string(),
  state: z.enum(['draft', 'sent', 'received', 'withdrawn']),
  version: z.int(),
})
/** The announcements of an order, as its supplier sees them, and what is open to be announced. */
export const OwnDespatches = defineEndpoint({
  name: 'supplierPages.despatches',
  method: 'get',
  path: '/supplier-pages/orders/:id/despatches',
  permission: 'supplierPages.orders',
  params: ById,
  response: z.strictObject({
    despatches: z.array(DespatchJson),
    open: z.array(DespatchLineJson),
    why: z.array(ReasonJson),
  }),
})
/** Writes an announcement, or sends it; sent again it corrects what was announced. */
export const SaveDespatch = defineEndpoint({
  name: 'supplierPages.saveDespatch',
  method: 'post',
  path: '/supplier-pages/orders/:id/despatches',
  permission: 'supplierPages.orders',
  params: ById,
  body: z.strictObject({
    despatchId: Uuid.nullable(),
    version: VersionOrNew,
    revision: Revision,
    send: z.boolean(),
    entry: DespatchBody,
  }),
  response: Done.extend({ number: z.string() }),
})
export const WithdrawDespatch = defineEndpoint({
  name: 'supplierPages.withdrawDespatch',
  method: 'post',
  path: '/supplier-pages/despatches/:id/withdrawal',
  permission: 'supplierPages.orders',
  params: ById,
  body: z.strictObject({}),
  response: Done,
})
export const OwnDespatchFile = defineEndpoint({
  name: 'supplierPages.despatchFile',
  method: 'post',
  path: '/supplier-pages/orders/:id/despatch-file',
  permission: 'supplierPages.orders',
  safe: true,
  params: ById,
  body: z.strictObject({ text: z.string().max(2_000_000) }),
  response: z.strictObject({
    entry: DespatchBody,
    left: z.array(z.strictObject({ row: z.int(), code: z.string(), details: ReasonJson.shape.details })),
  }),
})
/** Takes a file of a supplier; its id is then named in what it hangs on. */
export const UploadOrderFile = defineEndpoint({
  name: 'supplierPages.upload',
  method: 'post',
  path: '/supplier-pages/files',
  permission: 'supplierPages.orders',
  takes: 'file',
  response: z.strictObject({ id: Uuid, name: z.string(), mediaType: z.string(), size: z.int() }),
})
/** A file that hangs on an announcement or a work report of an order: for its supplier, and for us. */
export const OwnOrderFile = defineEndpoint({
  name: 'supplierPages.orderFile',
  method: 'get',
  path: '/supplier-pages/orders/:id/files/:fileId',
  permission: 'supplierPages.orders',
  answers: 'file',
  params: ById.extend({ fileId: Uuid }),
})
export const DeliveryFile = defineEndpoint({
  name: 'delivery.file',
  method: 'get',
  path: '/deliveries/:id/files/:fileId',
  permission: 'delivery.read',
  answers: 'file',
  params: ById.extend({ fileId: Uuid }),
})
/** An announcement as a UBL 2.1 DespatchAdvice. */
export const DespatchUbl = defineEndpoint({
  name: 'despatch.ubl',
  method: 'get',
  path: '/despatches/:id/ubl',
  permission: 'order.read',
  params: ById,
  answers: 'file',
})
/** What is expected where on which day: orders by their days, announcements by theirs, and who unloads. */
export const ReadExpected = defineEndpoint({
  name: 'receive.expected',
  method: 'get',
  path: '/receive-expected',
  permission: 'delivery.read',
  query: z.strictObject({ from: Day.optional(), weeks: z.coerce.number().int().min(1).max(12).optional() }),
  response: z.strictObject({
    from: z.string(),
    today: z.string(),
    days: z.array(z.strictObject({ day: z.string(), rests: z.boolean() })),
    docks: z.array(z.strictObject({ id: Uuid.nullable(), label: z.string() })),
    coming: z.array(
      z.strictObject({
        dockId: Uuid.nullable(),
        day: z.string(),
        orderId: Uuid,
        despatchId: Uuid.nullable(),
        number: z.string(),
        supplier: z.string(),
        what: z.string(),
        packages: z.int(),
        late: z.boolean(),
        unloader: z.string().nullable(),
        unloaderId: Uuid.nullable(),
      }),
    ),
    people: z.array(z.strictObject({ id: Uuid, label: z.string() })),
    mayPlan: z.boolean(),
  }),
})
/** Says who unloads an announced delivery. */
export const SetUnloader = defineEndpoint({
  name: 'despatch.unloader',
  method: 'post',
  path: '/despatches/:id/unloader',
  permission: 'delivery.receive',
  params: ById,
  body: z.strictObject({ personId: Uuid.nullable() }),
  response: Done,
})
