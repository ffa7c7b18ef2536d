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
/** Items with its words that are ranked. */
const RANKED = 300
/** Lines whose words are looked up; for those beyond, somebody looks by hand. */
const MOST_BY_WORDS = 500

/** By any number that a line gives, written in whatever way: ours, the maker's, a supplier's, a GTIN. */
const BY_CODE = `
  with asked as (select * from unnest(:numbers::text[], :makers::text[], :gtins::text[]) with ordinality as a (number, maker_number, gtin, at)),
    codes as (select at, number as code from asked where number <> '' union select at, maker_number from asked where maker_number <> '')
  select a.at::int - 1 as at, i.id from asked a join items i on lower(i.number) = a.number where a.number <> ''
  union select a.at::int - 1, i.id from asked a join items i on i.gtin = a.gtin where a.gtin <> ''
  union select c.at::int - 1, i.id from codes c join items i on lower(i.maker_number) = c.code where i.maker_number <> ''
  union select c.at::int - 1, o.item_id from codes c join offers o on lower(o.supplier_item) = c.code where o.supplier_item <> ''`

/** By words: of the items that have them, those whose texts share most with the line's. A word that half the catalogue has does not hold up the others. */
const BY_WORDS = `
  with asked as (select * from unnest(:texts::text[], :places::int[]) as a (text, at))
  select a.at, i.id from asked a cross join lateral (
    select near.id from (select items.id, items.terms from items where items.terms @@ to_tsquery('simple', a.text) limit ${RANKED}) near
    order by ts_rank(near.terms, to_tsquery('simple', a.text)) desc, near.id limit ${PER_LINE}) i`

/** Matches lines to items; lines of the same part once. */
export async function matchLines(call: Read, sender: string, lines: readonly PartLine[]): Promise<Matched[]> {
  const keys = lines.map(partKey)
  const firsts = [...new Map(keys.map((key, at) => [key, at]).reverse() as [string, number][])].map(([, at]) => at)
  const said = await saidBefore(
    call,
    sender,
    firsts.map(at => keys[at]!),
  )
  const open = firsts.filter(at => !said.has(keys[at]!))
  const candidates = new Map<number, string[]>()
  const worded = (at: number): string[] => wordsOf(`${lines[at]!.number} ${lines[at]!.description}`)
  let asked = 0
  const note = (at: number, id: string): void =>
    void candidates.set(at, [...new Set([...(candidates.get(at) ?? []), id])])
  for (let from = 0; from < open.length; from += AT_ONCE) {
    const some = open.slice(from, from + AT_ONCE)
    const text = (of: (line: PartLine) => string): string[] => some.map(at => of(lines[at]!).trim().toLowerCase())
    const { rows } = await call.trx.raw<{ rows: { at: number; id: string }[] }>(BY_CODE, {
      numbers: text(one => one.number),
      makers: text(one => one.makerNumber),
      gtins: text(one => one.gtin),
    } as never)
    for (const { at, id } of rows) note(some[at]!, id)
    const wordy = some.filter(at => !candidates.has(at) && worded(at).length > 0).slice(0, MOST_BY_WORDS - asked)
    asked += wordy.length
    // all of the words first; then, where nothing has all of them, any
    for (const [sign, most] of [
      [' & ', ALL],
      [' | ', ANY],
    ] as const) {
      const places = wordy.filter(at => !candidates.has(at))
      const texts = places.map(at =>
        worded(at)
          .slice(0, most)
          .map(word => `${word}:*`)
          .join(sign),
      )
      const found = await call.trx.raw<{ rows: { at: number; id: string }[] }>(BY_WORDS, { texts, places } as never)
      for (const { at, id } of found.rows) note(at, id)
    }
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

/** Words that are asked for where all are, and where any may be. */
const ALL = 4
const ANY = 8
/** The words of a text, the longest and most telling first. */
function wordsOf(text: string): string[] {
  const plain = text.toLowerCase().normalize('NFKD').replace(/\p{M}/gu, '')
  return [...new Set(plain.match(/[\p{L}\p{N}]{2,}/gu) ?? [])].sort((a, b) => b.length - a.length)
}

async function saidBefore(call: Read, sender: string, keys: readonly string[]): Promise<Map<string, string>> {
  if (senderKey(sender) === '') return new Map()
  const rows = await call
    .trx('listMatches')
    .where({ sender: senderKey(sender) })
    .whereIn('part', [...keys])
    .select('part', 'itemId')
  return new Map(rows.map(row => [row.part, row.itemId]))
}

async function matchItems(call: Read, ids: readonly string[]): Promise<Map<string, MatchItem>> {
  const wanted = [...new Set(ids)]
  const rows = await call.trx('items').whereIn('id', wanted)
  const numbers = await call
    .trx('offers')
    .whereIn('itemId', wanted)
    .whereNot({ supplierItem: '' })
    .select('itemId', 'supplierItem')
  const byItem = new Map<string, string[]>()
  for (const { itemId, supplierItem } of numbers) byItem.set(itemId, [...(byItem.get(itemId) ?? []), supplierItem])
  return new Map(rows.map(row => [row.id, { ...row, supplierNumbers: byItem.get(row.id) ?? [] }]))
}
