import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import {
  ById,
  Currency,
  Day,
  DecimalText,
  Done,
  GivenReason,
  Line,
  Text,
  Uuid,
  Version,
  VersionOrNew,
} from '#contract/fields.ts'
import { ToldTerms } from '#contract/receivingTerms.ts'
import { ImportRow } from '#contract/files/endpoints.ts'
import { TierJson } from '#contract/request/catalogue.ts'

const Pack = z.strictObject({ unit: z.string().max(3), holds: DecimalText })
/** An item as whoever keeps the catalogue writes it down. */
export const ItemBody = z.strictObject({
  number: Line.max(40),
  name: Line,
  description: Text,
  category: Line,
  unit: z.string().max(3),
  gtin: z.string().max(14),
  maker: Line,
  makerNumber: Line,
  alsoCalled: Line,
  packs: z.array(Pack).max(20),
  stocked: z.boolean(),
  certified: z.boolean(),
  discontinuedOn: Day.nullable(),
  replacedBy: Uuid.nullable(),
  /** What it says of how it is received. */
  receiving: ToldTerms.optional(),
})
export type ItemBody = z.output<typeof ItemBody>
/** Adds an item, or changes the one with this id. */
export const SaveItem = defineEndpoint({
  name: 'item.save',
  method: 'post',
  path: '/items',
  permission: 'catalogue.write',
  body: ItemBody.extend({ id: Uuid.nullable(), version: VersionOrNew }),
  response: Done,
})
/** Gives an item a picture that was uploaded before, or takes its picture away. */
export const SetPicture = defineEndpoint({
  name: 'item.picture',
  method: 'post',
  path: '/items/:id/picture',
  permission: 'catalogue.write',
  params: ById,
  body: z.strictObject({ fileId: Uuid.nullable(), version: Version }),
  response: Done,
})

const OfferBody = z.strictObject({
  supplierId: Uuid,
  supplierItem: Line,
  currency: Currency,
  unit: z.string().max(3),
  priceBase: DecimalText,
  minimum: DecimalText,
  multiple: DecimalText,
  leadTimeDays: z.int().min(0).max(999),
  validFrom: Day,
  validTo: Day.nullable(),
  tiers: z.array(TierJson).max(50),
  agreement: Line,
  incoterm: z.string().max(3).nullable(),
  incotermPlace: Line,
  countries: z.array(z.string().max(2)).max(60),
  freight: DecimalText.nullable(),
  /** What the supplier has lying there; null: not known. */
  inStock: DecimalText.nullable(),
})
export type OfferBody = z.output<typeof OfferBody>
/** Adds an offer of an item, or changes the one with this id; prices that change hold from `pricesFrom` on. */
export const SaveOffer = defineEndpoint({
  name: 'offer.save',
  method: 'post',
  path: '/items/:id/offers',
  permission: 'catalogue.write',
  params: ById,
  body: OfferBody.extend({ offerId: Uuid.nullable(), version: VersionOrNew, pricesFrom: Day }),
  response: Done,
})

const Prices = z.strictObject({ priceBase: DecimalText, tiers: z.array(TierJson) })
const Change = z.strictObject({
  supplierId: Uuid,
  /** Only offers of items of this category; empty: of all. */
  category: Line,
  percent: DecimalText,
  places: z.int().min(0).max(6),
})
const DifferenceJson = z.strictObject({
  kind: z.enum(['dearer', 'cheaper', 'tiers', 'same', 'missing', 'unknown', 'agreed']),
  row: z.int().nullable(),
  offerId: Uuid.nullable(),
  number: z.string(),
  name: z.string(),
  supplierItem: z.string(),
  unit: z.string(),
  currency: z.string(),
  agreement: z.string(),
  before: Prices.nullable(),
  after: Prices.nullable(),
  percent: z.string().nullable(),
})
export type DifferenceJson = z.output<typeof DifferenceJson>
/** Differences as they were seen: whoever counts on them sends the stamp back. */
const Differences = z.strictObject({
  differences: z.array(DifferenceJson),
  /** How many of each kind there are, also of those that are not shown. */
  counts: z.record(z.string(), z.int()),
  faults: z.array(ImportRow),
  faultCount: z.int(),
  stamp: z.string(),
})
export type PriceDifferences = z.output<typeof Differences>
const Counts = { stamp: z.string().max(100), from: Day, reason: GivenReason }
export const PricesChanged = z.strictObject({ offers: z.int(), ended: z.int() })

/** What a change of all prices of a supplier would do. */
export const PreviewPrices = defineEndpoint({
  name: 'prices.preview',
  method: 'post',
  path: '/prices/preview',
  permission: 'catalogue.write',
  safe: true,
  body: Change,
  response: Differences,
})
export const ChangePrices = defineEndpoint({
  name: 'prices.change',
  method: 'post',
  path: '/prices/change',
  permission: 'catalogue.write',
  body: Change.extend(Counts),
  response: PricesChanged,
})
/** What a supplier's price list says about their offers. */
export const ReadPriceList = defineEndpoint({
  name: 'priceList.read',
  method: 'post',
  path: '/price-lists/read',
  permission: 'catalogue.write',
  safe: true,
  body: z.strictObject({ supplierId: Uuid, fileId: Uuid }),
  response: Differences,
})
/** Lets a price list count from a day on; offers that it lacks end the day before, if so wished. */
export const TakePriceList = defineEndpoint({
  name: 'priceList.take',
  method: 'post',
  path: '/price-lists/take',
  permission: 'catalogue.write',
  body: z.strictObject({ supplierId: Uuid, fileId: Uuid, endMissing: z.boolean(), ...Counts }),
  response: PricesChanged,
})
/** Every price of an offer: those that were, the one in force, and those to come. */
export const ReadPrices = defineEndpoint({
  name: 'offer.prices',
  method: 'get',
  path: '/offers/:id/prices',
  permission: 'catalogue.read',
  params: ById,
  response: z.strictObject({
    prices: z.array(
      Prices.extend({
        fromDay: Day,
        origin: z.enum(['entered', 'file', 'change', 'list']),
        by: z.string(),
        at: z.string(),
        reason: z.string(),
      }),
    ),
  }),
})
