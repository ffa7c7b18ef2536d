import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ListCategories, SaveCategory } from '#contract/source/onboarding.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { writeSetting } from '#server/house/house.ts'
import type { CategoryRow, SourceSettings } from '#server/source/categoryStore.ts'

export async function saveSourceSettings(call: Write, settings: SourceSettings): Promise<SourceSettings> {
  await writeSetting(call, 'source', settings)
  return settings
}

export async function listCategories(call: Read): Promise<ResponseOf<typeof ListCategories>> {
  const categories = await call
    .trx('supplyCategories')
    .leftJoin('people', 'people.id', 'supplyCategories.ownerId')
    .orderBy('supplyCategories.name')
    .select<(CategoryRow & { owner: string | null; suppliers: number })[]>(
      'supplyCategories.*',
      'people.name as owner',
      call.trx.raw(
        '(select count(*)::int from suppliers where supply_categories.name = any(categories) and merged_into is null) as suppliers',
      ),
    )
  const people = await call.trx('people').where({ realm: 'team', active: true }).orderBy('name').select('id', 'name')
  return { categories, people }
}

export async function saveCategory(
  call: Write,
  body: BodyOf<typeof SaveCategory>,
): Promise<{ name: string; version: number }> {
  const { version, ...category } = body
  if (category.ownerId)
    found(await call.trx('people').where({ id: category.ownerId, realm: 'team', active: true }).first('id'), 'person')
  await refuseCircle(call, body.name, body.parent ?? null)
  const columns = {
    ...category,
    certificates: json(category.certificates),
    thresholds: json(category.thresholds),
    ...(category.proof ? { proof: json(category.proof) } : {}),
  }
  const known = await call.trx('supplyCategories').where({ name: body.name }).forUpdate().first('version')
  if (!known) await call.trx('supplyCategories').insert(columns)
  else if (known.version !== version)
    throw new RuleBroken(stop('document.changed', { by: '', at: '', action: '', version: known.version }))
  else
    await call
      .trx('supplyCategories')
      .where({ name: body.name })
      .update({ ...columns, version: version + 1 })
  return { name: body.name, version: version + 1 }
}

/** A category hangs under another one, but never under itself or under what hangs under it. */
async function refuseCircle(call: Read, name: string, parent: string | null): Promise<void> {
  const rows = await call.trx('supplyCategories').select('name', 'parent')
  const parents = new Map(rows.map(row => [row.name, row.parent]))
  if (parent !== null && !parents.has(parent))
    throw new RuleBroken(stop('category.noParent', { parent }, { place: 'parent' }))
  for (let above = parent; above; above = parents.get(above) ?? null)
    if (above === name) throw new RuleBroken(stop('category.circle', { name }, { place: 'parent' }))
}
