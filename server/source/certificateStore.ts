import type { Reason } from '#core/reasons.ts'
import { type Certificate, lapseReasons, type Standing, standingPeriods } from '#core/source/certificates.ts'
import type { Read, Write } from '#server/call.ts'
import { insertMany } from '#server/database/insert.ts'
import { groupBy, someIds } from '#server/database/rows.ts'
import { categoriesOf, certificateRules } from '#server/source/categoryStore.ts'

export interface CertificateRow {
  id: string
  supplierId: string
  kind: string
  category: string
  issuer: string
  number: string
  validFrom: string
  validTo: string | null
  fileId: string | null
  state: 'current' | 'replaced' | 'withdrawn'
  reminded: number[]
  lapseTold: boolean
  byId: string
  at: string
}
declare module 'knex/types/tables.js' {
  interface Tables {
    supplierCertificates: CertificateRow
    supplierStandings: { supplierId: string; standing: Standing; fromDay: string | null; toDay: string | null }
  }
}

export const readCertificates = (
  call: Read,
  supplierId: string,
): Promise<(CertificateRow & { fileName: string | null })[]> =>
  call
    .trx('supplierCertificates')
    .leftJoin('files', 'files.id', 'supplierCertificates.fileId')
    .where({ supplierId })
    .orderByRaw("state = 'current' desc, kind, valid_from desc")
    .select<(CertificateRow & { fileName: string | null })[]>('supplierCertificates.*', 'files.name as fileName')

export const currentOf = (rows: readonly CertificateRow[]): Certificate[] => rows.filter(row => row.state === 'current')

/** What the supplier's certificates say about an order for these items' categories; lines without an item count for all that the supplier sells. */
export async function certificateReasons(
  call: Read,
  supplierId: string,
  itemIds: readonly (string | null)[],
): Promise<Reason[]> {
  const items = await call.trx('items').whereIn('id', someIds(itemIds)).distinct<{ category: string }[]>('category')
  const supplier = await call.trx('suppliers').where({ id: supplierId }).first('categories')
  const all = itemIds.some(id => id === null) ? (supplier?.categories ?? []) : []
  const categories = [...new Set([...items.map(item => item.category), ...all])]
  const rules = certificateRules(await categoriesOf(call, categories))
  if (rules.length === 0) return []
  return lapseReasons(rules, currentOf(await readCertificates(call, supplierId)), categories, call.today)
}

/** Keeps how the certificates of suppliers stand, on whatever day it is asked; lists filter by it. */
export async function keepStandings(call: Write, supplierIds: readonly string[]): Promise<void> {
  const ids = [...new Set(supplierIds)]
  if (ids.length === 0) return
  const suppliers = await call.trx('suppliers').whereIn('id', ids).select('id', 'categories')
  const rows = await call.trx('supplierCertificates').whereIn('supplierId', ids).where({ state: 'current' })
  const certificates = groupBy(rows, row => row.supplierId)
  const categories = await categoriesOf(call, [...new Set(suppliers.flatMap(supplier => supplier.categories))])
  const rules = certificateRules(categories)
  await call.trx('supplierStandings').whereIn('supplierId', ids).delete()
  await insertMany(
    call.trx,
    'supplierStandings',
    suppliers.flatMap(supplier =>
      standingPeriods(rules, certificates.get(supplier.id) ?? [], supplier.categories).map(period => ({
        supplierId: supplier.id,
        standing: period.standing,
        fromDay: period.from,
        toDay: period.to,
      })),
    ),
  )
}
