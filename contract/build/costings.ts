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
import { LIST_FIELDS } from '#core/build/listColumns.ts'
import { MATCH_REASONS } from '#core/build/matchPart.ts'
import { PACKINGS } from '#core/build/offers.ts'
import { MOST_PART_LINES } from '#core/build/readParts.ts'
import { ALTERNATE_RULES, MOST_BUILDS, POLICIES } from '#core/build/settings.ts'

const Key = z.string().min(1).max(400)
const Held = DecimalText.refine(text => !text.startsWith('-'), { error: 'not below zero' })
const WastageJson = z.strictObject({ percent: Held, pieces: Held })
const limits = {
  policy: z.enum(POLICIES),
  preferred: z.array(Uuid).max(200),
  countries: z.array(z.string().regex(/^[A-Z]{2}$/)).max(250),
  packing: z.enum(['any', ...PACKINGS]),
  excess: z.boolean(),
  stockedOnly: z.boolean(),
  inBy: z.union([z.literal(''), Day]),
}
export const BuildSettingsJson = z.strictObject({
  ...limits,
  wastage: WastageJson,
  builds: z.int().min(1).max(MOST_BUILDS),
  currency: Currency,
  wastageByCategory: z.record(Line, WastageJson),
  alternates: z.enum(ALTERNATE_RULES),
  ownStock: z.boolean(),
})
/** What is said for one part alone. */
export const PartSettingsJson = z.strictObject({
  policy: limits.policy.optional(),
  preferred: limits.preferred.optional(),
  countries: limits.countries.optional(),
  packing: limits.packing.optional(),
  excess: z.boolean().optional(),
  stockedOnly: z.boolean().optional(),
  inBy: limits.inBy.optional(),
  wastage: WastageJson.optional(),
  offerId: Uuid.optional(),
  itemId: Uuid.optional(),
  onHand: Held.optional(),
  alternates: z.array(Uuid).max(20).optional(),
  made: z.boolean().optional(),
})
/** Other settings to hold beside, by the name that somebody gave them. */
const BesideJson = z.strictObject({ name: Line.min(1), settings: BuildSettingsJson })
const Parts = z.record(Key, PartSettingsJson)

const ItemJson = z.strictObject({
  id: Uuid,
  number: z.string(),
  name: z.string(),
  unit: z.string(),
  category: z.string(),
  packs: z.array(z.strictObject({ unit: z.string(), holds: z.string() })),
  discontinued: z.boolean(),
  replacedBy: Uuid.nullable(),
})
const OfferJson = z.strictObject({
  id: Uuid,
  itemId: Uuid,
  supplierId: Uuid,
  unit: z.string(),
  holds: z.string(),
  currency: z.string(),
  priceBase: z.string(),
  minimum: z.string(),
  multiple: z.string(),
  leadTimeDays: z.int(),
  validFrom: Day,
  validTo: Day.nullable(),
  tiers: z.array(TierJson),
  fee: z.string(),
  stock: z.string(),
  country: z.string(),
})
/** What was known on the day that a costing is priced on. */
export const KnownJson = z.strictObject({
  items: z.array(ItemJson),
  offers: z.array(OfferJson),
  suppliers: z.array(z.strictObject({ id: Uuid, name: z.string(), score: z.string() })),
  rates: z.record(z.string(), z.string()),
  calendar: z.strictObject({ restDays: z.array(z.int()), holidays: z.array(Day) }),
})
const MatchJson = z.strictObject({ itemId: Uuid, likeness: z.int(), reasons: z.array(z.enum(MATCH_REASONS)) })
const LineJson = z.strictObject({
  parent: z.int().nullable(),
  number: z.string(),
  maker: z.string(),
  makerNumber: z.string(),
  gtin: z.string(),
  description: z.string(),
  quantity: z.string().nullable(),
  unit: z.string(),
  places: z.string(),
  remarks: z.string(),
  itemId: Uuid.nullable(),
  row: z.int(),
  matched: z.enum(['none', 'sure', 'said']),
  offered: z.array(MatchJson.extend({ number: z.string(), name: z.string() })),
})
const ChangeJson = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('price'), itemId: Uuid, supplierId: Uuid, percent: z.string() }),
  z.strictObject({ kind: z.enum(['terms', 'newOffer', 'offerGone']), itemId: Uuid, supplierId: Uuid }),
  z.strictObject({ kind: z.literal('discontinued'), itemId: Uuid }),
  z.strictObject({ kind: z.literal('rate'), currency: z.string(), percent: z.string() }),
])

export const Costings = defineList('costings', '/build-costings', 'build.write', ['costing'])

const Source = z.strictObject({
  /** Who sent it, as far as that is known: what is confirmed of a list is remembered for its sender. */
  sender: Line,
  fileId: Uuid.nullable(),
  pasted: z.string().max(2_000_000),
})
const Columns = z.partialRecord(z.enum(LIST_FIELDS), z.int().min(0).max(200))
const How = z.strictObject({ columns: Columns, firstRow: z.int().min(0).max(1000) })
/** Reads a parts list and says what was understood, without keeping anything. */
export const ReadPartsList = defineEndpoint({
  name: 'partsList.read',
  method: 'post',
  path: '/parts-lists/read',
  permission: 'build.write',
  safe: true,
  body: Source.extend({ how: How.nullable() }),
  response: z.strictObject({
    columns: Columns,
    firstRow: z.int(),
    headings: z.array(z.string()),
    /** Columns as this sender's lists were confirmed before. */
    remembered: z.boolean(),
    examples: z.array(z.array(z.string())),
    lines: z.int(),
    deepest: z.int(),
    skipped: z.array(z.strictObject({ row: z.int(), why: z.enum(['total', 'heading', 'empty']) })),
    reasons: z.array(ReasonJson),
    more: z.int(),
  }),
})
export const KnownSenders = defineEndpoint({
  name: 'partsList.senders',
  method: 'get',
  path: '/parts-lists/senders',
  permission: 'build.write',
  response: z.strictObject({ senders: z.array(z.string()) }),
})
/** Makes a costing of a list whose columns somebody has confirmed; its lines are matched to items at once. */
export const CreateCosting = defineEndpoint({
  name: 'costing.create',
  method: 'post',
  path: '/build-costings',
  permission: 'build.write',
  body: Source.extend({ title: Line.min(1), how: How, builds: z.int().min(1).max(MOST_BUILDS) }),
  response: Done,
})
export const CostingJson = SheetFrame.extend({
  state: z.enum(['open', 'putAway']),
  owner: z.string(),
  mine: z.boolean(),
  sender: z.string(),
  pricedOn: Day,
  settings: BuildSettingsJson,
  parts: Parts,
  beside: z.array(BesideJson),
  lines: z.array(LineJson).max(MOST_PART_LINES),
  known: KnownJson,
  /** What is otherwise today. */
  changes: z.array(ChangeJson),
  moreChanges: z.int(),
  links: z.array(z.strictObject({ id: Uuid, endsOn: Day, by: z.string(), readers: z.array(z.string()) })),
  /** Items and suppliers that only the changes name. */
  names: z.record(z.string(), z.string()),
})
export const ReadCosting = defineEndpoint({
  name: 'costing.read',
  method: 'get',
  path: '/build-costings/:id',
  permission: 'build.write',
  params: ById,
  response: CostingJson,
})
/** Keeps how a build is reckoned. */
export const ChangeCosting = defineEndpoint({
  name: 'costing.change',
  method: 'put',
  path: '/build-costings/:id',
  permission: 'build.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    title: Line.min(1),
    settings: BuildSettingsJson,
    parts: Parts,
    beside: z.array(BesideJson).max(4),
  }),
  response: Done,
})
/** Says what item lines are (or that they are none), and how many of them; with a new item everything is priced as of today. */
export const ChangeLines = defineEndpoint({
  name: 'costing.lines',
  method: 'post',
  path: '/build-costings/:id/lines',
  permission: 'build.write',
  params: ById,
  body: z.strictObject({
    version: Version,
    lines: z
      .array(
        z.strictObject({
          position: z.int().min(0).max(MOST_PART_LINES),
          itemId: Uuid.nullable(),
          quantity: Held.nullable(),
          unit: z.string().max(3),
        }),
      )
      .min(1)
      .max(MOST_PART_LINES),
  }),
  response: Done,
})
/** Names items that may take the place of a part, or takes one in its place: their offers become known as of today. */
export const AddAlternate = defineEndpoint({
  name: 'costing.alternate',
  method: 'post',
  path: '/build-costings/:id/alternates',
  permission: 'build.write',
  params: ById,
  body: z.strictObject({ version: Version, key: Key, itemId: Uuid, take: z.boolean() }),
  response: Done,
})
/** Takes offers and rates as they are today. */
export const PriceAgain = defineEndpoint({
  name: 'costing.priceAgain',
  method: 'post',
  path: '/build-costings/:id/price',
  permission: 'build.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: Done,
})
export const MoveCosting = defineEndpoint({
  name: 'costing.move',
  method: 'post',
  path: '/build-costings/:id/move',
  permission: 'build.write',
  params: ById,
  body: z.strictObject({ version: Version, to: z.enum(['putAway', 'takeUp']) }),
  response: Done,
})
/** Makes a link by which colleagues read it until a day. The link is said once. */
export const ShareCosting = defineEndpoint({
  name: 'costing.share',
  method: 'post',
  path: '/build-costings/:id/links',
  permission: 'build.write',
  params: ById,
  body: z.strictObject({ version: Version, endsOn: Day }),
  response: Done.extend({ path: z.string() }),
})
export const EndLink = defineEndpoint({
  name: 'costing.endLink',
  method: 'post',
  path: '/build-costings/:id/links/:linkId/end',
  permission: 'build.write',
  params: ById.extend({ linkId: Uuid }),
  response: Done,
})
/** Opens a link: from now on whoever opened it reads the costing, until its last day. */
export const OpenLink = defineEndpoint({
  name: 'costing.open',
  method: 'post',
  path: '/build-links/open',
  permission: 'signedIn',
  body: z.strictObject({ token: z.string().min(20).max(100) }),
  response: z.strictObject({ id: Uuid }),
})
/** Makes a draft of an event about what has no price. */
export const AskUnpriced = defineEndpoint({
  name: 'costing.ask',
  method: 'post',
  path: '/build-costings/:id/ask',
  permission: 'event.write',
  params: ById,
  body: z.strictObject({ version: Version, kindId: Uuid, title: Line.min(1) }),
  response: Done.extend({ lines: z.int() }),
})
/** Makes draft requests of what is bought: one, or one by supplier. */
export const RequestParts = defineEndpoint({
  name: 'costing.request',
  method: 'post',
  path: '/build-costings/:id/requests',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ version: Version, reason: Text, bySupplier: z.boolean() }),
  response: z.strictObject({ requests: z.array(z.strictObject({ id: Uuid, number: z.string(), lines: z.int() })) }),
})
export const ExportCosting = defineEndpoint({
  name: 'costing.export',
  method: 'get',
  path: '/build-costings/:id/export/:format',
  permission: 'build.write',
  params: ById.extend({ format: z.enum(['csv', 'xlsx', 'pdf']) }),
  answers: 'file',
})
