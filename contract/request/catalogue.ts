import { z } from 'zod'
import { defineEndpoint } from '#contract/endpoint.ts'
import { ToldTerms } from '#contract/receivingTerms.ts'
import { AmountText, ById, Currency, DecimalText, Done, Line, Uuid, Version, VersionOrNew } from '#contract/fields.ts'
import { ImportBody, ImportResult } from '#contract/files/endpoints.ts'
import { defineList } from '#contract/lists/list.ts'
import { LineBody } from '#contract/request/lines.ts'

export const TierJson = z.strictObject({ from: DecimalText, price: DecimalText })
export const OfferJson = z.strictObject({
  id: Uuid,
  supplierId: Uuid,
  supplier: z.string(),
  supplierState: z.string(),
  supplierItem: z.string(),
  currency: Currency,
  unit: z.string(),
  priceBase: DecimalText,
  minimum: DecimalText,
  multiple: DecimalText,
  leadTimeDays: z.int(),
  validFrom: z.string(),
  validTo: z.string().nullable(),
  tiers: z.array(TierJson),
  earliest: z.string(),
  agreement: z.string(),
  /** Whether it is made of an agreement in force: what it says changes by an amendment only. */
  agreed: z.boolean(),
  agreementPath: z.string().nullable(),
  incoterm: z.string(),
  incotermPlace: z.string(),
  buyerPaysCarriage: z.boolean(),
  freight: DecimalText.nullable(),
  /** What the supplier has lying there; null: not known. */
  inStock: DecimalText.nullable(),
  countries: z.array(z.string()),
  /** Its own term; null: the supplier's holds. */
  ownIncoterm: z.string().nullable(),
  ownPlace: z.string(),
  version: z.int(),
  /** The next prices that are known already. */
  next: z.strictObject({ fromDay: z.string(), price: DecimalText, priceBase: DecimalText }).nullable(),
  /** To the base currency, at today's dated rate; null where there is none. */
  rate: z.string().nullable(),
})
export type OfferJson = z.output<typeof OfferJson>
const ItemName = z.strictObject({ id: Uuid, number: z.string(), name: z.string() })
export const ItemJson = z.strictObject({
  id: Uuid,
  number: z.string(),
  name: z.string(),
  description: z.string(),
  category: z.string(),
  unit: z.string(),
  gtin: z.string(),
  picture: z.string().nullable(),
  maker: z.string(),
  makerNumber: z.string(),
  alsoCalled: z.string(),
  packs: z.array(z.strictObject({ unit: z.string(), holds: DecimalText })),
  stocked: z.boolean(),
  certified: z.boolean(),
  receiving: ToldTerms,
  discontinuedOn: z.string().nullable(),
  replacedBy: ItemName.nullable(),
  version: z.int(),
  baseCurrency: z.string(),
  offers: z.array(OfferJson),
  /** What was paid, newest first: the price of one unit in its currency. */
  paid: z.array(
    z.strictObject({
      day: z.string(),
      supplier: z.string(),
      quantity: DecimalText,
      unit: z.string(),
      price: DecimalText,
      priceBase: DecimalText,
      currency: z.string(),
      baseUnitPrice: z.string(),
    }),
  ),
  askedBy: z.array(
    z.strictObject({
      person: z.string(),
      day: z.string(),
      quantity: DecimalText,
      unit: z.string(),
      number: z.string(),
    }),
  ),
})
export type ItemJson = z.output<typeof ItemJson>

export const Items = defineList('items', '/items', 'catalogue.read', [])
export const CatalogueQuery = z.strictObject({
  q: z.string().max(200).optional(),
  category: z.string().max(100).optional(),
  supplier: z.union([Uuid, z.literal('')]).optional(),
  agreement: z.enum(['yes', '']).optional(),
  stocked: z.enum(['yes', '']).optional(),
  certified: z.enum(['yes', '']).optional(),
  country: z.string().max(2).optional(),
  /** At most this much for one unit, in the base currency. */
  upTo: z.union([DecimalText, z.literal('')]).optional(),
  /** At most this many working days. */
  within: z.union([z.string().regex(/^\d{1,3}$/), z.literal('')]).optional(),
})
export type CatalogueQuery = z.output<typeof CatalogueQuery>
export const FoundItem = z.strictObject({
  id: Uuid,
  number: z.string(),
  name: z.string(),
  category: z.string(),
  unit: z.string(),
  picture: z.string().nullable(),
  bestPrice: z.string().nullable(),
  priceBase: z.string().nullable(),
  currency: z.string().nullable(),
  supplier: z.string().nullable(),
  agreement: z.string().nullable(),
  leadTimeDays: z.int().nullable(),
  offers: z.int(),
  stocked: z.boolean(),
  certified: z.boolean(),
  discontinued: z.boolean(),
  replacedBy: z.string().nullable(),
})
export type FoundItem = z.output<typeof FoundItem>
export const SearchCatalogue = defineEndpoint({
  name: 'catalogue.search',
  method: 'get',
  path: '/catalogue',
  permission: 'catalogue.read',
  query: CatalogueQuery,
  response: z.strictObject({
    items: z.array(FoundItem),
    /** Set when a scanned or typed code is exactly one item's. */
    exact: Uuid.nullable(),
    /** Words that were taken for others, as they occur here. */
    takenFor: z.array(z.strictObject({ typed: z.string(), taken: z.array(z.string()) })),
    /** Nothing has all the words; these have some of them. */
    relaxed: z.boolean(),
    more: z.boolean(),
  }),
})
/** What the catalogue can be narrowed by: categories as a tree, suppliers with offers, countries delivered to. */
export const CatalogueFacts = defineEndpoint({
  name: 'catalogue.facts',
  method: 'get',
  path: '/catalogue-facts',
  permission: 'catalogue.read',
  response: z.strictObject({
    categories: z.array(z.strictObject({ name: z.string(), parent: z.string().nullable(), count: z.int() })),
    suppliers: z.array(z.strictObject({ id: Uuid, name: z.string() })),
    countries: z.array(z.string()),
  }),
})
/** Pictures of items, for the search by picture, which is computed where the person sits. */
export const CataloguePictures = defineEndpoint({
  name: 'catalogue.pictures',
  method: 'get',
  path: '/catalogue-pictures',
  permission: 'catalogue.read',
  response: z.strictObject({
    pictures: z.array(
      z.strictObject({ id: Uuid, number: z.string(), name: z.string(), category: z.string(), picture: z.string() }),
    ),
    left: z.int(),
  }),
})
export const ReadItem = defineEndpoint({
  name: 'item.read',
  method: 'get',
  path: '/items/:id',
  permission: 'catalogue.read',
  params: ById,
  response: ItemJson,
})
/** The whole catalogue as the file that `item.import` takes in. */
export const ExportItems = defineEndpoint({
  name: 'item.export',
  method: 'get',
  path: '/items-export',
  permission: 'catalogue.write',
  answers: 'file',
})
export const ImportItems = defineEndpoint({
  name: 'item.import',
  method: 'post',
  path: '/items-import',
  permission: 'catalogue.write',
  body: ImportBody,
  response: ImportResult,
})

const BasketLine = z.strictObject({
  itemId: Uuid,
  offerId: Uuid,
  quantity: DecimalText,
  unit: z.string().max(3).optional(),
})
export const ReadBasket = defineEndpoint({
  name: 'basket.read',
  method: 'get',
  path: '/basket',
  permission: 'requisition.write',
  response: z.strictObject({
    lines: z.array(
      BasketLine.required().extend({
        name: z.string(),
        supplier: z.string(),
        /** Units that convert exactly to the offer's. */
        units: z.array(z.string()),
        offerUnit: z.string(),
        price: z.string(),
        priceBase: z.string(),
        currency: z.string(),
        amount: AmountText,
      }),
    ),
  }),
})
export const SaveBasket = defineEndpoint({
  name: 'basket.save',
  method: 'put',
  path: '/basket',
  permission: 'requisition.write',
  body: z.strictObject({ lines: z.array(BasketLine).max(500) }),
  response: z.strictObject({ lines: z.int() }),
})
export const RequestBasket = defineEndpoint({
  name: 'basket.request',
  method: 'post',
  path: '/basket/request',
  permission: 'requisition.write',
  response: Done,
})

/** Lines as they are kept to be used again: without day, place and accounts, which belong to the one request. */
export const ListLine = LineBody.pick({
  kind: true,
  itemId: true,
  offerId: true,
  description: true,
  quantity: true,
  unit: true,
  price: true,
  priceBase: true,
  currency: true,
  supplierId: true,
  category: true,
})
export type ListLine = z.output<typeof ListLine>
const RepeatListBody = z.strictObject({
  name: Line.min(1),
  sharedWith: z.array(Uuid).max(50),
  sharedWithAll: z.boolean(),
  lines: z.array(ListLine).max(500),
})
export const RepeatLists = defineEndpoint({
  name: 'repeatLists.list',
  method: 'get',
  path: '/repeat-lists',
  permission: 'requisition.write',
  response: z.strictObject({
    lists: z.array(
      RepeatListBody.extend({
        id: Uuid,
        owner: z.string(),
        mine: z.boolean(),
        version: z.int(),
        changedAt: z.string(),
        usedAt: z.string().nullable(),
      }),
    ),
    people: z.array(z.strictObject({ id: Uuid, name: z.string() })),
  }),
})
export const SaveRepeatList = defineEndpoint({
  name: 'repeatLists.save',
  method: 'post',
  path: '/repeat-lists',
  permission: 'requisition.write',
  body: RepeatListBody.extend({ id: Uuid.nullable(), version: VersionOrNew }),
  response: Done,
})
export const EndRepeatList = defineEndpoint({
  name: 'repeatLists.end',
  method: 'delete',
  path: '/repeat-lists/:id',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ version: Version }),
  response: z.strictObject({ id: Uuid }),
})
/** Makes a list of what is in the basket or in a request, or adds it to one. */
export const KeepAsList = defineEndpoint({
  name: 'repeatLists.keep',
  method: 'post',
  path: '/repeat-lists/keep',
  permission: 'requisition.write',
  body: z.strictObject({ name: Line.min(1), from: z.union([z.literal('basket'), Uuid]), listId: Uuid.nullable() }),
  response: Done,
})
/** Uses a list again: a new draft, the basket, or more lines of a draft. */
export const UseRepeatList = defineEndpoint({
  name: 'repeatLists.use',
  method: 'post',
  path: '/repeat-lists/:id/use',
  permission: 'requisition.write',
  params: ById,
  body: z.strictObject({ to: z.enum(['request', 'basket']) }),
  response: z.strictObject({ id: Uuid.nullable(), lines: z.int(), left: z.array(z.string()) }),
})
