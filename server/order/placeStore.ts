import { type SupplierPlace, sentTo } from '#core/order/supplierPlace.ts'
import type { SupplierDefaults } from '#core/source/defaults.ts'
import type { Read } from '#server/call.ts'
import { groupBy } from '#server/database/rows.ts'

export interface KnownPlace extends SupplierPlace {
  readonly supplierId: string
  readonly defaults: SupplierDefaults
}

/** The places of suppliers, each in its supplier's order. */
export async function placesOf(call: Read, supplierIds: readonly string[]): Promise<Map<string, KnownPlace[]>> {
  const { rows } = await call.trx
    .raw<{ rows: KnownPlace[] }>(
      'select id, supplier_id, name, street, postal_code, city, country, roles, defaults from supplier_locations where supplier_id = any(?) order by supplier_id, position',
      [[...new Set(supplierIds)]],
    )
    .options({ name: 'places-of-suppliers' })
  return groupBy(rows, row => row.supplierId)
}

export const supplierPlaces = async (call: Read, supplierId: string): Promise<KnownPlace[]> =>
  (await placesOf(call, [supplierId])).get(supplierId) ?? []

/** The place of its supplier that an order goes to. */
export const orderPlace = async (
  call: Read,
  { supplierId, locationId }: { readonly supplierId: string; readonly locationId: string | null },
): Promise<KnownPlace | undefined> => sentTo(await supplierPlaces(call, supplierId), locationId)
