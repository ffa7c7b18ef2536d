import { PassThrough, pipeline, Readable } from 'node:stream'
import { stringify } from 'csv-stringify'
import { ITEM_COLUMNS, type ImportedItem, writeItemRow } from '#core/request/itemImport.ts'
import type { Read } from '#server/call.ts'
import { harmless } from '#server/formats/cells.ts'
import type { FileAnswer } from '#server/http/route.ts'

const PAGE = 500

/** The whole catalogue, item by item with each offer that has not ended, as the file that it can be taken in from. */
export function exportItems(call: Read): FileAnswer {
  return {
    name: `items-${call.today}.csv`,
    mediaType: 'text/csv; charset=utf-8',
    // an error, or a reader that goes away, ends all three
    bytes: pipeline(
      Readable.from(records(call)),
      stringify({ bom: true, record_delimiter: 'windows' }),
      new PassThrough(),
      () => undefined,
    ),
  }
}

async function* records(call: Read): AsyncGenerator<string[]> {
  yield [...ITEM_COLUMNS]
  for (let after = ''; ;) {
    const rows = await itemsAfter(call, after)
    for (const row of rows) {
      const cells = writeItemRow(row)
      yield ITEM_COLUMNS.map(column => harmless(cells[column]))
    }
    if (rows.length === 0) return
    after = rows.at(-1)!.number
  }
}

/** Items by their numbers, with all offers of each. A supplier is named by its number where another is called the same. */
async function itemsAfter(call: Read, after: string): Promise<ImportedItem[]> {
  const { rows } = await call.trx.raw<{ rows: ImportedItem[] }>(
    `select i.number, i.name, i.description, i.category, i.unit, i.gtin, i.maker, i.maker_number, i.also_called, i.packs, i.stocked, i.certified, i.discontinued_on,
       coalesce((select r.number from items r where r.id = i.replaced_by), '') as replaced_by,
       case when s.id is null then '' when exists (select 1 from suppliers o where o.search_name = s.search_name and o.id <> s.id and o.merged_into is null) then s.number else s.name end as supplier_name,
       coalesce(f.supplier_item, '') as supplier_item_number, coalesce(f.unit, i.unit) as sold_in, coalesce(f.currency, :base) as currency, coalesce(f.price_base, 1) as price_base,
       coalesce(f.minimum, 1) as minimum, coalesce(f.multiple, 1) as multiple, coalesce(f.lead_time_days, 5) as lead_time_days, coalesce(f.tiers, '[]') as tiers, f.valid_to,
       coalesce(f.agreement, '') as agreement, f.incoterm, coalesce(f.incoterm_place, '') as incoterm_place, coalesce(f.countries, '{}') as countries, f.freight, f.in_stock
     from (select * from items where number > :after order by number limit ${PAGE}) i
     left join offers f on f.item_id = i.id and f.agreement_line_id is null and (f.valid_to is null or f.valid_to >= :today) left join suppliers s on s.id = f.supplier_id
     order by i.number, s.name, f.supplier_item`,
    { after, today: call.today, base: call.base },
  )
  return rows
}
