import type { PackConversion } from '#core/units/units.ts'
import type { Read } from '#server/call.ts'

/** An offer of the catalogue with its supplier and what its item is counted in. */
export interface OfferFact {
  id: string
  itemId: string
  supplierId: string
  supplier: string
  score: string | null
  country: string | null
  unit: string
  itemUnit: string
  packs: PackConversion[]
  currency: string
  priceBase: string
  minimum: string
  multiple: string
  leadTimeDays: number
  validFrom: string
  validTo: string | null
  tiers: { from: string; price: string }[]
  freight: string | null
  inStock: string | null
}

/** Offers that may be ordered from: of active suppliers, ended ones left out; the country is where the supplier ships from. */
const OFFERS = `
  select o.id, o.item_id, o.supplier_id, s.name as supplier, s.country, g.figure as score, o.unit, i.unit as item_unit, i.packs, o.currency, o.price_base, o.minimum,
    o.multiple, o.lead_time_days, o.valid_from, o.valid_to, o.tiers, o.freight, o.in_stock
  from offers o join items i on i.id = o.item_id
    join lateral (select suppliers.name, suppliers.state, (select l.country from supplier_locations l where l.supplier_id = suppliers.id order by ('shipsFrom' = any(l.roles)) desc, l.position limit 1) as country
      from suppliers where suppliers.id = o.supplier_id) s on s.state = 'active'
    left join supplier_signals g on g.supplier_id = o.supplier_id and g.key = 'onTimeInFull'
  where o.item_id = any(:ids) and (o.valid_to is null or o.valid_to >= :today)
  order by (o.agreement = ''), s.name, o.supplier_item, o.id`

/** Offers of some items that may be ordered from today, those of agreements first. */
export async function openOffers(call: Read, itemIds: readonly string[]): Promise<OfferFact[]> {
  const { rows } = await call.trx.raw<{ rows: OfferFact[] }>(OFFERS, { ids: itemIds, today: call.today } as never)
  return rows
}
