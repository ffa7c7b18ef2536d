import type { AgreementContent, AgreementLine } from '#core/agreements/content.ts'
import { type IndexValue, tiersOn } from '#core/agreements/prices.ts'
import type { PriceTier } from '#core/request/offer.ts'
import type { Read } from '#server/call.ts'

declare module 'knex/types/tables.js' {
  interface Tables {
    priceIndices: { id: string; code: string; name: string; source: string; version: number; changedAt: string }
    indexValues: { indexCode: string; month: string; value: string; byId: string; at: string }
  }
}

/** Values of indices, of each month the one that was published last. */
export async function indexValues(call: Read, codes: readonly string[]): Promise<IndexValue[]> {
  if (codes.length === 0) return []
  const { rows } = await call.trx
    .raw<{ rows: IndexValue[] }>(
      'select distinct on (index_code, month) index_code as index, month, value from index_values where index_code = any(?) order by index_code, month, at desc',
      [[...new Set(codes)]],
    )
    .options({ name: 'index-values' })
  return rows
}

/** The indices that lines of an agreement follow. */
export const indicesOf = (lines: readonly Pick<AgreementLine, 'pricing'>[]): string[] => [
  ...new Set(lines.flatMap(line => (line.pricing.kind === 'index' ? [line.pricing.index] : []))),
]

/** What a line of an agreement in force says of whoever calls it off without an item of the catalogue. */
export interface AgreedLine {
  readonly number: string
  readonly supplierId: string
  readonly itemId: string | null
  readonly unit: string
  readonly currency: string
  readonly priceBase: string
  readonly category: string
  readonly tiers: readonly PriceTier[]
}

/** Lines of agreements in force with their prices of today; one that is no longer in force is missing. */
export async function agreedLines(call: Read, ids: readonly string[]): Promise<Map<string, AgreedLine>> {
  if (ids.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: { id: string; number: string; supplierId: string; content: AgreementContent }[] }>(
      `select l.id, a.number, a.supplier_id, a.content from agreement_lines l join agreements a on a.id = l.agreement_id where l.id = any(?) and l.in_force and a.state = 'active'`,
      [[...new Set(ids)]],
    )
    .options({ name: 'agreed-lines' })
  const found = rows.flatMap(row => {
    const line = row.content.lines.find(one => one.id === row.id)
    return line ? [{ ...row, line }] : []
  })
  const values = await indexValues(call, indicesOf(found.map(one => one.line)))
  return new Map(
    found.map(({ id, number, supplierId, line }) => [
      id,
      {
        number,
        supplierId,
        itemId: line.itemId,
        unit: line.unit,
        currency: line.currency,
        priceBase: line.priceBase,
        category: line.category,
        tiers: tiersOn(line.pricing, values, call.today),
      },
    ]),
  )
}

/** Numbers of agreements by their lines, whatever their state. */
export async function agreementNumbers(call: Read, lineIds: readonly string[]): Promise<Map<string, string>> {
  if (lineIds.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: { id: string; number: string }[] }>(
      'select l.id, a.number from agreement_lines l join agreements a on a.id = l.agreement_id where l.id = any(?)',
      [[...lineIds]],
    )
    .options({ name: 'agreement-numbers' })
  return new Map(rows.map(row => [row.id, row.number]))
}
