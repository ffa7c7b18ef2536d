import { randomUUID } from 'node:crypto'
import { type DatedPrices, pricesOn, samePrices } from '#core/request/prices.ts'
import type { Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { keepPrices } from '#server/request/priceStore.ts'

/** What a line of an agreement in force offers for an item of the catalogue. */
export interface AgreedOffer {
  readonly agreementLineId: string
  readonly agreement: string
  readonly itemId: string
  readonly supplierId: string
  /** What the supplier itself calls it, where that is known. */
  readonly supplierItem: string
  /** Where it is sold; none: everywhere. */
  readonly countries: readonly string[]
  readonly unit: string
  readonly currency: string
  readonly minimum: string
  readonly multiple: string
  readonly leadTimeDays: number
  readonly incoterm: string
  readonly incotermPlace: string
  readonly validFrom: string
  readonly validTo: string
  /** Those that hold first, then those that begin later. */
  readonly prices: readonly DatedPrices[]
}

/** Makes lines of an agreement offers of the catalogue, or brings those along that are there already. */
export async function keepAgreedOffers(call: Write, offers: readonly AgreedOffer[]): Promise<void> {
  for (const offer of offers) await keepOne(call, offer)
}

async function keepOne(call: Write, { prices, agreementLineId, ...offer }: AgreedOffer): Promise<void> {
  const first = prices[0]!
  const known = await call.trx('offers').where({ agreementLineId }).forUpdate().first()
  const said = {
    ...offer,
    countries: [...offer.countries],
    incoterm: offer.incoterm === '' ? null : offer.incoterm,
    changedAt: call.now,
  }
  if (known) {
    await call
      .trx('offers')
      .where({ id: known.id })
      .update(said as never)
    const there = await call.trx('offerPrices').where({ offerId: known.id })
    const fresh = prices.filter(one => !samePrices(pricesOn(there, one.fromDay) ?? known, one))
    if (fresh.length === 0) return
    await keepPrices(
      call,
      fresh.map(one => ({ offerId: known.id, ...one })),
      { origin: 'change', reason: `Agreement ${offer.agreement}` },
    )
    await record(call, { kind: 'offer', id: known.id, action: 'changed', changes: { price: fresh[0]!.tiers[0]!.price }, reason: offer.agreement }) // prettier-ignore
    return
  }
  const id = randomUUID()
  await call.trx('offers').insert({
    ...said,
    id,
    agreementLineId,
    priceBase: first.priceBase,
    tiers: json([...first.tiers]),
  } as never)
  await record(call, { kind: 'offer', id, action: 'created', changes: { price: first.tiers[0]!.price }, reason: offer.agreement }) // prettier-ignore
  await keepPrices(
    call,
    prices.map(one => ({ offerId: id, ...one })),
    { origin: 'entered', reason: `Agreement ${offer.agreement}` },
  )
}

/** Says the last day of what lines of an agreement offer, where it is another; those that are no longer in force end yesterday. */
export async function endAgreedOffers(call: Write, days: ReadonlyMap<string, string>): Promise<void> {
  if (days.size === 0) return
  await call.trx
    .raw(
      `update offers o set valid_to = d.day, changed_at = ? from jsonb_to_recordset(?::jsonb) as d (line uuid, day date) where o.agreement_line_id = d.line and o.valid_to is distinct from d.day`,
      [call.now, JSON.stringify([...days].map(([line, day]) => ({ line, day })))],
    )
    .options({ name: 'end-agreed-offers' })
}
