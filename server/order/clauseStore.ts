import { clausesFor, clauseText, type ClauseVersion } from '#core/order/clauses.ts'
import type { LineKind } from '#core/request/kinds.ts'
import type { Read } from '#server/call.ts'
import { parentCategories } from '#server/source/categoryStore.ts'
import { orderPlace } from '#server/order/placeStore.ts'
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
