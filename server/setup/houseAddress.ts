import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { LANGUAGES } from '#contract/messages/languages.ts'
import type { ReadHouse, SaveHouse } from '#contract/setup/house.ts'
import { RuleBroken, stop } from '#core/reasons.ts'
import type { Read, Write } from '#server/call.ts'
import { record, sha256 } from '#server/documents/history.ts'
import { HOUSE, readSetting, writeSetting } from '#server/house/house.ts'

/** Who we are on documents. */
export async function readHouseAddress(call: Read): Promise<ResponseOf<typeof ReadHouse>> {
  const company = await readSetting(call, 'company')
  const { street = '', postalCode = '', city = '' } = company ?? {}
  const { name, country, vat, zone, base } = call.house
  const languages = LANGUAGES.filter(one => call.house.languages.includes(one)).sort(
    (one, other) => call.house.languages.indexOf(one) - call.house.languages.indexOf(other),
  )
  const shown = { name, street, postalCode, city, country, vat, zone, languages, base }
  return { ...shown, seen: sha256(JSON.stringify(shown)) }
}

/** Changes it from now on: what was issued before keeps what it said. */
export async function saveHouseAddress(
  call: Write,
  { seen, zone, languages, ...company }: BodyOf<typeof SaveHouse>,
): Promise<Record<string, never>> {
  await call.trx('settings').whereIn('key', ['house', 'company']).forNoKeyUpdate().select('key')
  const house = (await readSetting(call, 'house')) ?? call.house
  const before = await readHouseAddress({ ...call, house })
  if (before.seen !== seen) throw new RuleBroken(stop('house.changed'))
  const { name, country, vat } = company
  await writeSetting(call, 'house', { ...house, name, country, vat, zone, languages: [...new Set(languages)] })
  await writeSetting(call, 'company', company)
  const { seen: _, base: __, ...was } = before
  await record(call, {
    kind: 'house',
    id: HOUSE,
    action: 'changed',
    changes: { before: was, after: { ...company, zone, languages } },
  })
  return {}
}
