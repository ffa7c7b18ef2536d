import type { PriceTier } from '#core/request/offer.ts'
import { type DatedPrices, pricesOn } from '#core/request/prices.ts'
import type { Read, Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'

export type PriceOrigin = 'entered' | 'file' | 'change' | 'list'
export interface OfferPriceRow extends DatedPrices {
  readonly offerId: string
  readonly origin: PriceOrigin
  readonly reason: string
  readonly byId: string | null
  readonly at: string
  /** They are, or were, what the offer itself says. */
  readonly begun: boolean
}
declare module 'knex/types/tables.js' {
  interface Tables {
    offerPrices: OfferPriceRow
  }
}
export interface NewPrices extends DatedPrices {
  readonly offerId: string
}
const AT_ONCE = 1000

/** Keeps prices with the day from which they hold; those that hold already are what the offers say from now on. */
export async function keepPrices(
  call: Write,
  all: readonly NewPrices[],
  { origin, reason }: { readonly origin: PriceOrigin; readonly reason: string },
): Promise<void> {
  const rows = all.map(({ offerId, fromDay, priceBase, tiers }) => ({
    offerId,
    fromDay,
    priceBase,
    tiers: json([...tiers]),
    origin,
    reason,
    byId: call.actor.id,
    at: call.now,
    begun: false,
  }))
  for (let start = 0; start < rows.length; start += AT_ONCE)
    await call
      .trx('offerPrices')
      .insert(rows.slice(start, start + AT_ONCE) as never)
      .onConflict(['offerId', 'fromDay'])
      .merge()
  await beginPrices(call)
}

/** Prices whose day has come become what their offers say. Answers of how many offers. */
export async function beginPrices(call: Write): Promise<number> {
  const due = await call.trx('offerPrices').where({ begun: false }).where('fromDay', '<=', call.today).select('offerId')
  const ids = [...new Set(due.map(row => row.offerId))].sort()
  for (let start = 0; start < ids.length; start += AT_ONCE) await beginSome(call, ids.slice(start, start + AT_ONCE))
  return ids.length
}

async function beginSome(call: Write, ids: readonly string[]): Promise<void> {
  await call
    .trx('offers')
    .whereIn('id', [...ids])
    .orderBy('id')
    .forNoKeyUpdate()
    .select('id')
  const rows = await call.trx('offerPrices').whereIn('offerId', [...ids])
  const inForce = ids.flatMap(
    id =>
      pricesOn(
        rows.filter(row => row.offerId === id),
        call.today,
      ) ?? [],
  )
  await call.trx.raw(
    `update offers set price_base = now.price_base, tiers = now.tiers, version = version + 1, changed_at = ?
     from jsonb_to_recordset(?::jsonb) as now (id uuid, price_base numeric, tiers jsonb) where offers.id = now.id`,
    [
      call.now,
      JSON.stringify(inForce.map(({ offerId: id, priceBase, tiers }) => ({ id, price_base: priceBase, tiers }))),
    ],
  )
  await call
    .trx('offerPrices')
    .whereIn('offerId', [...ids])
    .where('fromDay', '<=', call.today)
    .update({ begun: true })
}

/** The next prices of offers that do not hold yet. */
export async function pricesToCome(
  call: Read,
  offerIds: readonly string[],
): Promise<Map<string, { fromDay: string; price: string; priceBase: string }>> {
  const rows = await call
    .trx('offerPrices')
    .whereIn('offerId', [...offerIds])
    .where('fromDay', '>', call.today)
    .orderBy('fromDay', 'desc')
    .select('offerId', 'fromDay', 'priceBase', 'tiers')
  return new Map(
    rows.map(({ offerId, fromDay, priceBase, tiers }) => [offerId, { fromDay, price: tiers[0]!.price, priceBase }]),
  )
}

/** Every price of an offer, the latest first. */
export async function pricesOf(
  call: Read,
  offerId: string,
): Promise<
  {
    fromDay: string
    priceBase: string
    tiers: PriceTier[]
    origin: PriceOrigin
    reason: string
    at: string
    by: string
  }[]
> {
  const rows = await call
    .trx('offerPrices')
    .leftJoin('people', 'people.id', 'offerPrices.byId')
    .where({ offerId })
    .orderBy('fromDay', 'desc')
    .limit(200)
    .select<(OfferPriceRow & { name: string | null })[]>('offerPrices.*', 'people.name')
  return rows.map(({ fromDay, priceBase, tiers, origin, reason, at, name }) => ({
    fromDay,
    priceBase,
    tiers: [...tiers],
    origin,
    reason,
    at,
    by: name ?? '',
  }))
}
