import { clausesFor, clauseText, type ClauseVersion } from '#core/order/clauses.ts'
import type { LineKind } from '#core/request/kinds.ts'
import type { Read } from '#server/call.ts'
import { parentCategories } from '#server/source/categoryStore.ts'
import { documentLanguage } from '#server/mail/recipients.ts'

interface ClauseRow {
  clauseId: string
  version: number
  name: string
  fromDay: string
  ended: boolean
  scope: ClauseVersion['scope']
  categories: string[]
  countries: string[]
  text: Record<string, string>
  byId: string
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    clauses: { id: string; name: string; version: number }
    clauseVersions: ClauseRow
  }
}
/** A clause as it stands on an order: for good, once that is issued. */
export interface OrderClause {
  readonly clauseId: string
  readonly version: number
  readonly name: string
  readonly text: string
  /** What it is for, where it is not for all orders. */
  readonly because: readonly string[]
}

export const versionOf = ({ fromDay, byId: _by, at: _at, ...row }: ClauseRow): ClauseVersion => ({
  ...row,
  from: fromDay,
})

interface OnOrder {
  readonly id: string
  readonly supplierId: string
  readonly locationId: string | null
  readonly clauses: readonly OrderClause[] | null
}

/** The clauses of an order: as they would be for a draft today, as they were frozen for one that is issued. */
export async function orderClauses(call: Read, order: OnOrder): Promise<readonly OrderClause[]> {
  if (order.clauses) return order.clauses
  const versions = await call.trx('clauseVersions').where('fromDay', '<=', call.today)
  if (versions.length === 0) return []
  const { rows: lines } = await call.trx
    .raw<{ rows: { kind: LineKind; category: string }[] }>(
      `select l.kind, coalesce(nullif(i.category, ''), q.category, '') as category from order_lines l left join items i on i.id = l.item_id
       left join requisition_lines q on q.id = l.requisition_line_id where l.order_id = ?`,
      [order.id],
    )
    .options({ name: 'categories-on-order' })
  const place = await orderPlace(call, order)
  const language = await documentLanguage(call, order.supplierId)
  const facts = { day: call.today, country: place?.country ?? '', lines, above: await parentCategories(call) }
  return clausesFor(versions.map(versionOf), facts).map(({ clauseId, version, name, text, because }) => ({
    clauseId,
    version,
    name,
    text: clauseText(text, language, call.house.languages[0] ?? ''),
    because,
  }))
}

export interface OrderPlace {
  readonly id: string
  readonly name: string
  readonly street: string
  readonly postalCode: string
  readonly city: string
  readonly country: string
}

/** The place of its supplier that an order goes to: the one that was chosen, else the first that takes orders, else the first. */
export const orderPlace = (
  call: Read,
  { supplierId, locationId }: { readonly supplierId: string; readonly locationId: string | null },
): Promise<OrderPlace | undefined> =>
  call
    .trx('supplierLocations')
    .where({ supplierId })
    .orderByRaw("id = ? desc nulls last, ('takesOrders' = any(roles)) desc, position", [locationId])
    .first('id', 'name', 'street', 'postalCode', 'city', 'country')

/** The same in words, as the document says it. */
export const placeText = (place: OrderPlace | undefined): string =>
  place
    ? [place.name, place.street, `${place.postalCode} ${place.city}`.trim(), place.country].filter(Boolean).join(', ')
    : ''

/** The places that an order to a supplier could go to. */
export const supplierPlaces = (call: Read, supplierId: string): Promise<OrderPlace[]> =>
  call
    .trx('supplierLocations')
    .where({ supplierId })
    .orderBy('position')
    .select('id', 'name', 'street', 'postalCode', 'city', 'country')
