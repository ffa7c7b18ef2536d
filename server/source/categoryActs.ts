import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ListCategories, SaveCategory } from '#contract/source/onboarding.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import { whyNotTerms } from '#core/receive/terms.ts'
import { whyNotHang } from '#core/source/categories.ts'
import { found, type Read, type Write } from '#server/call.ts'
import { json } from '#server/database/json.ts'
import { record } from '#server/documents/history.ts'
import { refuse } from '#server/documents/obey.ts'
import { HOUSE, writeSetting } from '#server/house/house.ts'
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
  await call.trx.raw(`select pg_advisory_xact_lock(hashtext('categories'))`)
  const all = await call.trx('supplyCategories').select('name', 'parent')
  refuse([...whyNotHang(body.name, body.parent ?? null, all), ...whyNotTerms(body.receiving ?? {})])
  const columns = {
    ...category,
    certificates: json(category.certificates),
    thresholds: json(category.thresholds),
    ...(category.proof ? { proof: json(category.proof) } : {}),
    ...(category.receiving ? { receiving: json(category.receiving) } : {}),
  }
  const known = await call.trx('supplyCategories').where({ name: body.name }).forUpdate().first()
  if (!known) await call.trx('supplyCategories').insert(columns)
  else if (known.version !== version)
    throw new RuleBroken(stop('document.changed', { by: '', at: '', action: '', version: known.version }))
  else
    await call
      .trx('supplyCategories')
      .where({ name: body.name })
      .update({ ...columns, version: version + 1 })
  const was = known && Object.fromEntries(Object.entries(known).filter(([key]) => key in category))
  await record(call, {
    kind: 'house',
    id: HOUSE,
    action: 'changed',
    changes: { ...(was ? { before: { category: was } } : {}), after: { category } },
  })
  return { name: body.name, version: version + 1 }
}
