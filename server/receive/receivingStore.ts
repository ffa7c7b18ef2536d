import { type CountedLine, type ReceivingFacts, serialKey } from '#core/receive/facts.ts'
import type { Count } from '#core/receive/counts.ts'
import { effectiveTerms, type ReceivingTerms, type TermLevel } from '#core/receive/terms.ts'
import { openFrom } from '#core/books/periods.ts'
import { withAbove } from '#core/source/categories.ts'
import type { PackConversion } from '#core/units/units.ts'
import type { ArrivalSetting } from '#core/receive/arrival.ts'
import type { Read } from '#server/call.ts'
import { readSetting } from '#server/house/house.ts'
import { closedMonths } from '#server/books/periodStore.ts'

/** How goods are received in this house, beside what items and categories say. */
export interface ReceivingSettings extends ArrivalSetting {
  /** The first day of the period that is open. */
  readonly openFrom: string | null
}
export const RECEIVING: ReceivingSettings = { openFrom: null, asksRequesters: false, remindDays: 3, silentDays: 7 }
declare module '#server/house/house.ts' {
  interface SettingValues {
    receiving: ReceivingSettings
  }
}
export const receivingSettings = async (call: Pick<Read, 'trx'>): Promise<ReceivingSettings> => ({
  ...RECEIVING,
  ...(await readSetting(call, 'receiving')),
})
/** The first day into which something can be received: the period that is open, after the months whose books are closed. */
export const receivesFrom = async (call: Pick<Read, 'trx'>): Promise<string | null> =>
  openFrom(await closedMonths(call), (await receivingSettings(call)).openFrom)

declare module 'knex/types/tables.js' {
  interface Tables {
    serialsHere: { key: string; serial: string; receiptLineId: string }
  }
}

interface LineAround {
  id: string
  unit: string
  receiving: Partial<ReceivingTerms>
  itemId: string | null
  itemName: string | null
  itemUnit: string | null
  packs: PackConversion[] | null
  itemReceiving: Partial<ReceivingTerms> | null
  category: string
  came: boolean
}

/** How each of these lines of orders is received: by its own word, its item's, its category's and those above it. */
export async function countedLines(call: Read, lineIds: readonly string[]): Promise<Map<string, CountedLine>> {
  if (lineIds.length === 0) return new Map()
  const { rows } = await call.trx
    .raw<{ rows: LineAround[] }>(
      `select l.id, l.unit, l.receiving, l.item_id, i.name as item_name, i.unit as item_unit, i.packs, i.receiving as item_receiving, coalesce(nullif(i.category, ''), q.category, '') as category,
         exists (select 1 from order_lines x join orders y on y.id = x.order_id where x.item_id = l.item_id and y.supplier_id = o.supplier_id and x.id <> l.id and x.proven > 0) or l.proven > 0 as came
       from order_lines l join orders o on o.id = l.order_id left join items i on i.id = l.item_id left join requisition_lines q on q.id = l.requisition_line_id where l.id = any(?)`,
      [[...lineIds]],
    )
    .options({ name: 'counted-lines' })
  const categories = await call.trx('supplyCategories').select('name', 'parent', 'receiving')
  const parents = new Map(categories.map(one => [one.name, one.parent]))
  const ofCategory = new Map(categories.map(one => [one.name, one.receiving]))
  return new Map(
    rows.map(row => {
      const levels: TermLevel[] = [
        { from: 'line', name: '', terms: row.receiving },
        { from: 'item', name: row.itemName ?? '', terms: row.itemReceiving ?? {} },
        ...withAbove(row.category, parents).map(name => ({ from: 'category' as const, name, terms: ofCategory.get(name) ?? {} })), // prettier-ignore
      ]
      return [
        row.id,
        {
          itemId: row.itemId,
          itemUnit: row.itemUnit ?? row.unit,
          packs: row.packs ?? [],
          terms: effectiveTerms(levels),
          first: !row.came,
        },
      ]
    }),
  )
}

/** Numbers by which a scan finds lines of an order: ours, the supplier's, the maker's, and GTINs of 14 digits, in small letters. */
export async function lineCodes(call: Read, orderId: string): Promise<Map<string, string[]>> {
  const { rows } = await call.trx
    .raw<{ rows: { id: string; codes: (string | null)[] }[] }>(
      `select l.id, array[lower(i.number), lower(i.maker_number), lower(l.details ->> 'makerNumber'), lpad(nullif(i.gtin, ''), 14, '0')] ||
         array(select lower(f.supplier_item) from offers f where f.item_id = l.item_id and f.supplier_id = o.supplier_id) as codes
       from order_lines l join orders o on o.id = l.order_id left join items i on i.id = l.item_id where l.order_id = ?`,
      [orderId],
    )
    .options({ name: 'line-codes' })
  return new Map(rows.map(row => [row.id, row.codes.filter((code): code is string => Boolean(code))]))
}

/** What counts of some lines are held against. */
export async function receivingFacts(
  call: Read,
  counts: readonly Pick<Count, 'lineId' | 'serials'>[],
): Promise<ReceivingFacts> {
  const lines = await countedLines(call, [...new Set(counts.map(count => count.lineId))])
  const keys = counts.flatMap(({ lineId, serials }) =>
    (serials ?? []).map(one => serialKey(lines.get(lineId)?.itemId ?? lineId, one)),
  )
  const known =
    keys.length > 0 ? await call.trx('serialsHere').whereRaw('key = any(?)', [keys]).pluck<string[]>('key') : []
  return { lines, openFrom: await receivesFrom(call), knownSerials: new Set(known) }
}
