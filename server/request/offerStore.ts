import type { Offer } from '#core/request/offer.ts'
import type { ToldTerms } from '#contract/receivingTerms.ts'
import type { PackConversion } from '#core/units/units.ts'
import type { Read } from '#server/call.ts'
import { byId } from '#server/database/rows.ts'
import type { SeenOffer } from '#server/request/requisitionStore.ts'

export interface OfferRow extends Offer {
  readonly id: string
  readonly itemId: string
  readonly supplierId: string
  readonly unit: string
  readonly supplierItem: string
  readonly agreement: string
  /** The line of the agreement in force that it is made of. */
  readonly agreementLineId: string | null
  readonly incoterm: string | null
  readonly incotermPlace: string
  readonly countries: string[]
  readonly freight: string | null
  /** What the supplier has lying there, in the offer's unit; null where that is not known. */
  readonly inStock: string | null
  readonly version: number
  readonly changedAt: string
}
export interface ItemRow {
  version: number
  changedAt: string
  id: string
  number: string
  name: string
  description: string
  category: string
  unit: string
  gtin: string
  picture: string | null
  createdAt: string
  maker: string
  makerNumber: string
  alsoCalled: string
  packs: PackConversion[]
  stocked: boolean
  certified: boolean
  discontinuedOn: string | null
  replacedBy: string | null
  /** What it says of how it is received. */
  receiving: ToldTerms
}
declare module 'knex/types/tables.js' {
  interface Tables {
    offers: OfferRow
    items: ItemRow
    basketLines: {
      personId: string
      itemId: string
      offerId: string
      quantity: string
      position: number
      unit: string | null
    }
  }
}

/** What a line keeps of the offer that it was made from. */
export const seenOffer = (offer: OfferRow): SeenOffer => ({
  tiers: offer.tiers,
  priceBase: offer.priceBase,
  currency: offer.currency,
  minimum: offer.minimum,
  multiple: offer.multiple,
  validFrom: offer.validFrom,
  validTo: offer.validTo,
  leadTimeDays: offer.leadTimeDays,
  unit: offer.unit,
  agreement: offer.agreement,
})

export const offersById = async (call: Read, ids: readonly string[]): Promise<Map<string, OfferRow>> =>
  ids.length === 0 ? new Map() : byId(await call.trx('offers').whereIn('id', [...ids]))
