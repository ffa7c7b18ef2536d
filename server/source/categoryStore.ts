import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadSourceSettings } from '#contract/source/onboarding.ts'
import type { ToldTerms } from '#contract/receivingTerms.ts'
import type { LineKind, Proof } from '#core/request/kinds.ts'
import type { CertificateRule } from '#core/source/certificates.ts'
import { USUAL_NAMING } from '#core/source/naming.ts'
import type { Read } from '#server/call.ts'
import { readSetting } from '#server/house/house.ts'

export type SourceSettings = ResponseOf<typeof ReadSourceSettings>

export interface CategoryRow {
  name: string
  ownerId: string | null
  needsFinance: boolean
  certificates: { kind: string; lapse: CertificateRule['lapse'] }[]
  thresholds: Record<string, string>
  parent: string | null
  naturalAccount: string | null
  proof: Partial<Record<LineKind, Proof>>
  buyers: string[]
  /** What it says of how its goods are received. */
  receiving: ToldTerms
  version: number
}
declare module 'knex/types/tables.js' {
  interface Tables {
    supplyCategories: CategoryRow
  }
}
declare module '#server/house/house.ts' {
  interface SettingValues {
    source: Partial<SourceSettings>
  }
}

/** How names are written and which fields suppliers change without asking. */
export async function readSourceSettings(call: Read): Promise<SourceSettings> {
  const set = await readSetting(call, 'source')
  return { naming: set?.naming ?? USUAL_NAMING, harmless: set?.harmless ?? ['contactPhone', 'web'] }
}

/** The categories of these names. */
export const categoriesOf = (call: Read, names: readonly string[]): Promise<CategoryRow[]> =>
  call
    .trx('supplyCategories')
    .whereIn('name', [...names])
    .orderBy('name')

export const certificateRules = (categories: readonly CategoryRow[]): CertificateRule[] =>
  categories.flatMap(category =>
    category.certificates.map(one => ({ category: category.name, kind: one.kind, lapse: one.lapse })),
  )

/** Which category each one stands below. */
export async function parentCategories(call: Read): Promise<Map<string, string | null>> {
  const rows = await call.trx('supplyCategories').select('name', 'parent')
  return new Map(rows.map(row => [row.name, row.parent]))
}
