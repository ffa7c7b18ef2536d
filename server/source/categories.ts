import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ListCategories, ReadSourceSettings, SaveCategory } from '#contract/source/onboarding.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { CertificateRule } from '#core/source/certificates.ts'
import type { LineKind, Proof } from '#core/request/kinds.ts'
import { USUAL_NAMING } from '#core/source/naming.ts'
import { type Call, found } from '#server/call.ts'

type Settings = ResponseOf<typeof ReadSourceSettings>

/** How names are written and which fields suppliers change without asking. */
export async function readSourceSettings(call: Call): Promise<Settings> {
  const row = (await call.trx('settings').where({ key: 'source' }).first('value')) as { value: Partial<Settings> } | undefined
  return { naming: row?.value.naming ?? USUAL_NAMING, harmless: row?.value.harmless ?? ['contactPhone', 'web'] }
}

export async function saveSourceSettings(call: Call, settings: Settings): Promise<Settings> {
  await call
    .trx('settings')
    .insert({ key: 'source', value: JSON.stringify(settings) })
    .onConflict('key')
    .merge()
  return settings
}

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
  version: number
}

export async function listCategories(call: Call): Promise<ResponseOf<typeof ListCategories>> {
  const rows = (await call
    .trx('supplyCategories')
    .leftJoin('people', 'people.id', 'supplyCategories.ownerId')
    .orderBy('supplyCategories.name')
    .select(
      'supplyCategories.*',
      'people.name as owner',
      call.trx.raw('(select count(*)::int from suppliers where supply_categories.name = any(categories) and merged_into is null) as suppliers'),
    )) as (CategoryRow & {
    owner: string | null
    suppliers: number
  })[]
  const people = (await call.trx('people').where({ realm: 'team', active: true }).orderBy('name').select('id', 'name')) as { id: string; name: string }[]
  return { categories: rows, people }
}

export async function saveCategory(call: Call, body: BodyOf<typeof SaveCategory>): Promise<{ name: string; version: number }> {
  const { version, ...category } = body
  if (category.ownerId) found(await call.trx('people').where({ id: category.ownerId, realm: 'team', active: true }).first('id'), 'person')
  await refuseCircle(call, body.name, body.parent ?? null)
  const columns = {
    ...category,
    certificates: JSON.stringify(category.certificates),
    thresholds: JSON.stringify(category.thresholds),
    ...(category.proof ? { proof: JSON.stringify(category.proof) } : {}),
  }
  const known = (await call.trx('supplyCategories').where({ name: body.name }).forUpdate().first('version')) as { version: number } | undefined
  if (!known) await call.trx('supplyCategories').insert(columns)
  else if (known.version !== version) throw new RuleBroken(stop('document.changed', { by: '', at: '', action: '', version: known.version }))
  else
    await call
      .trx('supplyCategories')
      .where({ name: body.name })
      .update({ ...columns, version: version + 1 })
  return { name: body.name, version: version + 1 }
}

/** A category hangs under another one, but never under itself or under what hangs under it. */
async function refuseCircle(call: Call, name: string, parent: string | null): Promise<void> {
  const parents = new Map(((await call.trx('supplyCategories').select('name', 'parent')) as { name: string; parent: string | null }[]).map(row => [row.name, row.parent]))
  if (parent !== null && !parents.has(parent)) throw new RuleBroken(stop('category.noParent', { parent }, { place: 'parent' }))
  for (let above = parent; above; above = parents.get(above) ?? null) if (above === name) throw new RuleBroken(stop('category.circle', { name }, { place: 'parent' }))
}

/** The categories of these names. */
export const categoriesOf = async (call: Call, names: readonly string[]): Promise<CategoryRow[]> =>
  (await call
    .trx('supplyCategories')
    .whereIn('name', [...names])
    .orderBy('name')) as CategoryRow[]

export const certificateRules = (categories: readonly CategoryRow[]): CertificateRule[] =>
  categories.flatMap(category => category.certificates.map(one => ({ category: category.name, kind: one.kind, lapse: one.lapse })))
