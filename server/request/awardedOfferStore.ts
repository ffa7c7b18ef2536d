import { randomUUID } from 'node:crypto'
import { samePrices } from '#core/request/prices.ts'
import type { Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { keepPrices } from '#server/request/priceStore.ts'

/** A price that an event came to, for an item of the catalogue. */
export interface AwardedPrice {
  readonly itemId: string
  readonly supplierId: string
  readonly unit: string
  readonly currency: string
  readonly price: string
  readonly priceBase: string
  readonly minimum: string
  readonly leadDays: number | null
  /** Its last day; empty: it has none. */
  readonly validUntil: string
  readonly event: string
}

/** Makes prices of an award offers of the catalogue, from today on: the supplier's own offer in that unit and currency gets the price, else a new one is made. */
export async function keepAwardedPrices(call: Write, prices: readonly AwardedPrice[]): Promise<number> {
  for (const one of prices) await keepOne(call, one)
  return prices.length
}

async function keepOne(call: Write, one: AwardedPrice): Promise<void> {
  const tiers = [{ from: '0', price: one.price }]
  const reason = `Awarded in ${one.event}`
  const validTo = one.validUntil === '' ? null : one.validUntil
  const known = await call
    .trx('offers')
    .where({ itemId: one.itemId, supplierId: one.supplierId, unit: one.unit, currency: one.currency, agreement: '' })
    .orderBy('supplierItem')
    .forUpdate()
    .first()
  if (known) {
    await call
      .trx('offers')
      .where({ id: known.id })
      .update({ validTo } as never)
    if (samePrices(known, { priceBase: one.priceBase, tiers })) return
    await keepPrices(call, [{ offerId: known.id, fromDay: call.today, priceBase: one.priceBase, tiers }], { origin: 'entered', reason }) // prettier-ignore
    await record(call, { kind: 'offer', id: known.id, action: 'changed', changes: { price: one.price }, reason })
    return
  }
  const id = randomUUID()
  await call.trx('offers').insert({
    id,
    itemId: one.itemId,
    supplierId: one.supplierId,
    supplierItem: one.event,
    currency: one.currency,
    unit: one.unit,
    priceBase: one.priceBase,
    minimum: one.minimum === '' ? '1' : one.minimum,
    multiple: '0',
    leadTimeDays: one.leadDays ?? 0,
    validFrom: call.today,
    validTo,
    tiers: json(tiers),
    agreement: '',
    changedAt: call.now,
  } as never)
  await record(call, { kind: 'offer', id, action: 'created', changes: { price: one.price }, reason })
  await keepPrices(call, [{ offerId: id, fromDay: call.today, priceBase: one.priceBase, tiers }], { origin: 'entered', reason }) // prettier-ignore
}
