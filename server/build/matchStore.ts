import { bestMatches, type MatchItem, type PartMatch } from '#core/build/matchPart.ts'
import { type PartLine, partKey } from '#core/build/partsList.ts'
import type { Read } from '#server/call.ts'
import { senderKey } from '#server/build/costingStore.ts'

/** What a line was matched to: an item that is sure, one that was said for this sender before, or some to choose from. */
export interface Matched {
  readonly itemId: string | null
  readonly matched: 'none' | 'sure' | 'said'
  readonly offered: readonly PartMatch[]
}

const AT_ONCE = 500
/** Items that the words of one line are held against. */
const PER_LINE = 12
/** Lines whose words are looked up; for those beyond, somebody looks by hand. */
const MOST_BY_WORDS = 2000

/** By any number that a line gives, written in whatever way: ours, the maker's, a supplier's, a GTIN. */
const BY_CODE = `
  with asked as (select * from unnest(:numbers::text[], :makers::text[], :gtins::text[]) with ordinality as a (number, maker_number, gtin, at))
  select distinct a.at::int - 1 as at, i.id from asked a join items i on
    (a.number <> '' and lower(i.number) = a.number) or (a.gtin <> '' and i.gtin = a.gtin)
    or (i.maker_number <> '' and lower(i.maker_number) in (nullif(a.number, ''), nullif(a.maker_number, '')))
  union
  select distinct a.at::int - 1, o.item_id from asked a join offers o on o.supplier_item <> '' and lower(o.supplier_item) in (nullif(a.number, ''), nullif(a.maker_number, ''))`

/** By words: those items whose texts share most with the line's. */
const BY_WORDS = `
  with asked as (select * from unnest(:texts::text[], :places::int[]) as a (text, at))
  select a.at, i.id from asked a cross join lateral (
    select items.id from items where items.terms @@ to_tsquery('simple', a.text) order by ts_rank(items.terms, to_tsquery('simple', a.text)) desc, items.id limit ${PER_LINE}) i`

/** Matches lines to items; lines of the same part once. */
export async function matchLines(call: Read, sender: string, lines: readonly PartLine[]): Promise<Matched[]> {
  const keys = lines.map(partKey)
  const firsts = [...new Map(keys.map((key, at) => [key, at]).reverse() as [string, number][])].map(([, at]) => at)
  const said = await saidBefore(call, sender, firsts.map(at => keys[at]!)) // prettier-ignore
  const open = firsts.filter(at => !said.has(keys[at]!))
  const candidates = new Map<number, string[]>()
  const worded = (at: number): string => wordQuery(`${lines[at]!.number} ${lines[at]!.description}`)
  let asked = 0
  const note = (at: number, id: string): void =>
    void candidates.set(at, [...new Set([...(candidates.get(at) ?? []), id])])
  for (let from = 0; from < open.length; from += AT_ONCE) {
    const some = open.slice(from, from + AT_ONCE)
    const text = (of: (line: PartLine) => string): string[] => some.map(at => of(lines[at]!).trim().toLowerCase())
    const { rows } = await call.trx.raw<{ rows: { at: number; id: string }[] }>(BY_CODE, { numbers: text(one => one.number), makers: text(one => one.makerNumber), gtins: text(one => one.gtin) } as never) // prettier-ignore
    for (const { at, id } of rows) note(some[at]!, id)
    const wordy = some
      .filter(at => !candidates.has(at) && worded(at) !== '')
      .slice(0, Math.max(0, MOST_BY_WORDS - asked))
    asked += wordy.length
    const found = await call.trx.raw<{ rows: { at: number; id: string }[] }>(BY_WORDS, { texts: wordy.map(worded), places: wordy } as never) // prettier-ignore
    for (const { at, id } of found.rows) note(at, id)
  }
  const items = await matchItems(call, [...candidates.values()].flat())
  const byKey = new Map<string, Matched>(
    [...said].map(([key, itemId]) => [key, { itemId, matched: 'said' as const, offered: [] }]),
  )
  for (const at of open) {
    const own = (candidates.get(at) ?? []).flatMap(id => items.get(id) ?? [])
    const { sure, offered } = bestMatches(lines[at]!, own)
    byKey.set(keys[at]!, { itemId: sure?.itemId ?? null, matched: sure ? 'sure' : 'none', offered })
  }
  return keys.map(key => byKey.get(key)!)
}

/** The words of a description as a question: any of them, by their beginnings. */
const wordQuery = (text: string): string =>
  [
    ...new Set(
      text
        .toLowerCase()
        .normalize('NFKD')
        .replace(/\p{M}/gu, '')
        .match(/[\p{L}\p{N}]{2,}/gu) ?? [],
    ),
  ]
    .slice(0, 8)
    .map(word => `${word}:*`)
    .join(' | ')

async function saidBefore(call: Read, sender: string, keys: readonly string[]): Promise<Map<string, string>> {
  if (senderKey(sender) === '') return new Map()
  const rows = await call.trx('listMatches').where({ sender: senderKey(sender) }).whereIn('part', [...keys]).select('part', 'itemId') // prettier-ignore
  return new Map(rows.map(row => [row.part, row.itemId]))
}

async function matchItems(call: Read, ids: readonly string[]): Promise<Map<string, MatchItem>> {
  const wanted = [...new Set(ids)]
  const rows = await call.trx('items').whereIn('id', wanted)
  const numbers = await call.trx('offers').whereIn('itemId', wanted).whereNot({ supplierItem: '' }).select('itemId', 'supplierItem') // prettier-ignore
  const byItem = new Map<string, string[]>()
  for (const { itemId, supplierItem } of numbers) byItem.set(itemId, [...(byItem.get(itemId) ?? []), supplierItem])
  return new Map(rows.map(row => [row.id, { ...row, supplierNumbers: byItem.get(row.id) ?? [] }]))
}
