import { randomUUID } from 'node:crypto'
import type { AgreementLine } from '#core/agreements/content.ts'
import { hasEnded } from '#core/request/offer.ts'
import type { Read } from '#server/call.ts'
import type { OfferRow } from '#server/request/offerStore.ts'

type Found = OfferRow & { name: string; category: string }

/** Lines of what a supplier offers in the catalogue today; what it offers is the list price that savings are measured by. */
export async function linesOfOffers(call: Read, supplierId: string): Promise<AgreementLine[]> {
  const rows = await call
    .trx('offers')
    .join('items', 'items.id', 'offers.itemId')
    .where({ supplierId, agreement: '' })
    .orderBy(['items.number', 'offers.supplierItem'])
    .limit(500)
    .select<Found[]>('offers.*', 'items.name', 'items.category')
  return rows
    .filter(row => !hasEnded(row, call.today))
    .map(row => ({
      id: randomUUID(),
      itemId: row.itemId,
      description: row.name,
      category: row.category,
      unit: row.unit,
      currency: row.currency,
      pricing: { kind: 'tiers', tiers: row.tiers.map(tier => ({ ...tier })) },
      priceBase: row.priceBase,
      listPrice: row.tiers[0]?.price ?? '',
      minimum: row.minimum,
      multiple: row.multiple,
      leadTimeDays: row.leadTimeDays,
      incoterm: row.incoterm ?? '',
      incotermPlace: row.incotermPlace,
    }))
}
